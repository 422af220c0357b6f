import { lengthOf, lengthUnit } from '../../language/staff-units.ts'
import { type } from '../../look/scale.ts'
/** Which way is north; lighter around, so that it can be read over a road. */
export const NorthArrow = ({ x, y, pixel }: { x: number; y: number; pixel: number }) => (
  <g
    transform={`translate(${x} ${y}) scale(${pixel})`}
    fill="var(--ink)"
    stroke="var(--ground)"
    strokeWidth="4"
    strokeLinejoin="round"
    paintOrder="stroke"
  >
    <path d="M0 -16 L6 6 L0 2 L-6 6 Z" />
    <text y="20" textAnchor="middle" className="type-note">
      N
    </text>
  </g>
)

/** Which way the lap goes: an arrow on the road. */
export const TravelArrow = ({ place, size }: { place: { x_m: number; y_m: number; heading_rad: number }; size: number }) => (
  <g transform={`translate(${place.x_m} ${-place.y_m}) rotate(${(-place.heading_rad * 180) / Math.PI}) scale(${size})`}>
    <path d="M-7 -6 L9 0 L-7 6 L-3 0 Z" fill="var(--ground)" stroke="var(--ink)" strokeWidth="1.2" />
  </g>
)

/** A bar of a round length, about a hundred pixels long. */
export const ScaleBar = ({ x, y, pixel }: { x: number; y: number; pixel: number }) => {
  // A round number in the units of the reader.
  const metre = lengthOf(1)
  const wanted = 110 * pixel * metre
  const power = 10 ** Math.floor(Math.log10(wanted))
  const length = [5, 2, 1].map((f) => f * power).find((l) => l <= wanted) ?? power
  return (
    <g stroke="var(--ink)" strokeWidth={1.5 * pixel}>
      <path d={`M${x} ${y - 5 * pixel} V${y} H${x + length / metre} V${y - 5 * pixel}`} fill="none" />
      <text
        x={x + length / metre + 6 * pixel}
        y={y}
        fontSize={type.desk.note[0] * pixel}
        fill="var(--ink)"
        stroke="var(--ground)"
        strokeWidth={3 * pixel}
        paintOrder="stroke"
        className="figures"
      >
        {`${length} ${lengthUnit}`}
      </text>
    </g>
  )
}
