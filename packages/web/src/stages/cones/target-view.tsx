import { atStation, type Cone, type Plan, placeAt } from '@ochote/core'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { ConeMark } from '../../shared/marks/cone-glyph.tsx'
import { measuredFrame, useSize } from '../../shared/use-size.ts'
import type { ReceiverFix } from './use-receiver.ts'

/** Ground shown around the place (m): close when near, wide when far. */
const spanFor = (distance_m: number): number => (distance_m < 4 ? 10 : distance_m < 20 ? 50 : 400)

/** The place of one cone from above, travel up: edges of the road, rings around the place, where the receiver is. */
export const TargetView = ({ plan, cone, fix }: { plan: Plan; cone: Cone; fix: ReceiverFix | null }) => {
  const [ref, size] = useSize<HTMLDivElement>()
  const { circuit } = plan
  const { heading_rad } = placeAt(circuit, cone.station_m, 0)
  const distance_m = fix ? Math.hypot(fix.x_m - cone.x_m, fix.y_m - cone.y_m) : 400
  const span = spanFor(distance_m)
  const scale = Math.min(size.width, size.height || 1) / span
  const turn = Math.PI / 2 - heading_rad
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
  const at = (x_m: number, y_m: number): [number, number] => {
    const [dx, dy] = [x_m - cone.x_m, y_m - cone.y_m]
    return [size.width / 2 + (dx * cos - dy * sin) * scale, size.height / 2 - (dx * sin + dy * cos) * scale]
  }
  const edge = (side: 1 | -1): string =>
    Array.from({ length: 61 }, (_, i) => {
      const s_m = cone.station_m + ((i - 30) / 30) * span
      const width = atStation(circuit, side === 1 ? circuit.widthLeft_m : circuit.widthRight_m, s_m)
      const place = placeAt(circuit, s_m, side * width)
      const [x, y] = at(place.x_m, place.y_m)
      return `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`
    }).join('')
  const truck = fix ? at(fix.x_m, fix.y_m) : null
  const [cx, cy] = at(cone.x_m, cone.y_m)
  return (
    <div ref={ref} style={{ ...measuredFrame, contain: 'size', minHeight: 320, height: '100%' }}>
      {size.width > 0 && (
        <svg
          width={size.width}
          height={size.height}
          role="img"
          aria-label={say`The place from above, travel up`}
          style={{ display: 'block' }}
        >
          <path d={edge(1)} fill="none" stroke="var(--road)" strokeWidth="4" />
          <path d={edge(-1)} fill="none" stroke="var(--road)" strokeWidth="4" />
          {[0.5, 1, 5].map((r) => (
            <circle key={r} cx={cx} cy={cy} r={r * scale} fill="none" stroke="var(--rule)" strokeWidth="2" />
          ))}
          <g transform={`translate(${cx} ${cy}) scale(2.6)`}>
            <ConeMark colour={cone.colour} shape={cone.shape} />
          </g>
          {truck && (
            <g transform={`translate(${truck[0].toFixed(1)} ${truck[1].toFixed(1)})`}>
              <path d="M-22 0 H22 M0 -22 V22" stroke="var(--accent)" strokeWidth="3" />
              <circle r="12" fill="none" stroke="var(--accent)" strokeWidth="4" />
            </g>
          )}
          <text x="10" y={size.height - 12} className="type-note figures" fill="var(--ink)">{say`${metres(span)} across`}</text>
        </svg>
      )}
    </div>
  )
}
