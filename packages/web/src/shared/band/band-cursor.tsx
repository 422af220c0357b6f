import { atStation, type Plan } from '@ochote/core'
import { metres, speedInWords } from '../../language/staff-units.ts'

/** The cursor on the lap, with the planned speed there. */
export const BandCursor = ({
  top,
  x,
  height,
  width,
  plan,
  station_m,
}: {
  top: number
  x: number
  height: number
  width: number
  plan: Plan
  station_m: number
}) => {
  const speed = atStation(plan.circuit, plan.profile.speed_mps, station_m)
  const text = `${metres(station_m)} · ${speedInWords(speed)}`
  const right = x < width - 130
  return (
    <g pointerEvents="none">
      <line x1={x} x2={x} y1={22} y2={height} stroke="var(--ink)" strokeWidth="1.2" />
      <text
        x={right ? x + 5 : x - 5}
        y={top + 14}
        textAnchor={right ? 'start' : 'end'}
        fontWeight="600"
        fill="var(--ink)"
        className="type-note figures"
        stroke="var(--ground)"
        strokeWidth="3"
        paintOrder="stroke"
      >
        {text}
      </text>
    </g>
  )
}
