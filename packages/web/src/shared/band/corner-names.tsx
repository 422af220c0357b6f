import type { Corner } from '@ochote/core'
import { cornerLabel } from '../corner-card/corner-words.ts'
import type { BandFrame } from './band-geometry.ts'

type NamesProps = {
  corners: readonly Corner[]
  x: (s_m: number) => number
  seen: (s_m: number) => boolean
  selected: string | null
  frame: BandFrame
  pixelsPerMetre: number
  /** Position of the mark under the selected corner (px). */
  stripTop: number
  /** For a glance: numbers alone, but this corner by its name. */
  named?: string | null
}

/** Half a name as it is read in a moving car, and some room (px). */
const NAME_PX = 78

/** Corner names on two rows above the road, so that neighbours do not run into each other. */
export const CornerNames = ({ corners, x, seen, selected, frame, pixelsPerMetre, stripTop, named }: NamesProps) => {
  const next = corners.find((c) => c.id === named)
  const nameAt = next ? x(next.peak_m) : Number.NaN
  return (
    <g>
      {corners.map((corner, i) => {
        if (!seen(corner.peak_m)) return null
        const at = x(corner.peak_m)
        // A number beside the one name would run into it.
        if (named && named !== corner.id && Math.abs(at - nameAt) < NAME_PX) return null
        const row = named === undefined ? i % 2 : 0
        const active = corner.id === selected
        const from = x(corner.start_m)
        const to = from + Math.max(8, (corner.end_m - corner.start_m) * pixelsPerMetre)
        return (
          <g key={corner.id}>
            {active && <rect x={from} y={stripTop} width={Math.max(0, to - from)} height="4" fill="var(--accent)" />}
            <line x1={at} x2={at} y1={row === 0 ? 16 : 30} y2={frame.middle - frame.half - 2} stroke="var(--rule)" strokeWidth="1" />
            <text
              x={Math.min(Math.max(at, 24), frame.width - 24)}
              y={named !== undefined ? 20 : row === 0 ? 12 : 26}
              textAnchor="middle"
              className="type-note"
              fontWeight={active ? 750 : 560}
              fill={active ? 'var(--accent)' : 'var(--ink)'}
              stroke="var(--ground)"
              strokeWidth="3"
              paintOrder="stroke"
              style={{ fontStretch: '82%' }}
            >
              {named === undefined || named === corner.id ? cornerLabel(corner) : corner.id.slice(1)}
            </text>
          </g>
        )
      })}
    </g>
  )
}
