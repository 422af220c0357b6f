import type { Plan, Profile } from '@ochote/core'
import { say } from '../../language/say.ts'
import { metres, speedInWords, speedOf } from '../../language/staff-units.ts'
import type { Strip } from '../road-layers.ts'

/** Room for the words under the strip (px). */
export const LEGEND_PX = 16
/** Colours and dashes of the strips, in their order. */
export const stripColours = ['var(--accent)', 'var(--ink)', 'var(--quiet)', 'var(--ink)']
/** How each strip's line looks, as a sign before its words. */
const lineSign = ['╌', '─', '┈', '━']
const rangeOf = (column: Float64Array): [number, number] => {
  let [min, max] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
  for (const value of column) {
    if (value < min) min = value
    if (value > max) max = value
  }
  return [min, max]
}

/** The speed as a strip. */
export const speedStrip = (profile: Profile): Strip => {
  const [min, max] = rangeOf(profile.speed_mps)
  const [low, high] = [`${Math.round(speedOf(min))}`, speedInWords(max)]
  return { id: 'speed', column: profile.speed_mps, range: say`speed ${low} to ${high}`, ends: { low, high } }
}

/** Caption of the strip beneath the road, with its ranges. */
export const StripLegend = ({ plan, strips, y }: { plan: Plan; strips: readonly Strip[]; y: number }) => {
  const [low, high] = rangeOf(plan.circuit.z_m)
  return (
    <text x="2" y={y} className="type-note figures">
      {strips.map((s, i) => (
        <tspan
          key={s.id}
          fill={stripColours[i % stripColours.length]}
          fontWeight="600"
        >{`${lineSign[i % lineSign.length]} ${s.range}\u2003`}</tspan>
      ))}
      <tspan fill="var(--quiet)">{say`height, ${metres(high - low)} from lowest to highest`}</tspan>
    </text>
  )
}

/** The first strip's axis: faint lines at its least and its greatest value, with both. */
export const StripAxis = ({ strips, width, room }: { strips: readonly Strip[]; width: number; room: { top: number; bottom: number } }) => {
  const ends = strips[0]?.ends
  if (!ends) return null
  return (
    <g className="type-note figures" fill="var(--quiet)">
      {[room.top, room.bottom].map((y) => (
        <line key={y} x1="0" x2={width} y1={y} y2={y} stroke="var(--quiet)" strokeOpacity="0.35" />
      ))}
      <g stroke="var(--ground)" strokeWidth="3" paintOrder="stroke">
        <text x="2" y={room.top + 11}>
          {ends.high}
        </text>
        <text x="2" y={room.bottom - 3}>
          {ends.low}
        </text>
      </g>
    </g>
  )
}
