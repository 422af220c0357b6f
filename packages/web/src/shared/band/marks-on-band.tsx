import type { Circuit, Mark } from '@ochote/core'
import { inside } from '../../language/say.ts'
import { MarkShape } from '../marks/mark-glyph.tsx'
import { markNames } from '../marks/mark-words.ts'
import { type BandFrame, offsetToY } from './band-geometry.ts'

type Props = {
  circuit: Circuit
  marks: readonly Mark[]
  x: (s_m: number) => number
  frame: BandFrame
  /** True if little enough of the lap is shown for details to fit. */
  close: boolean
  cornerId: string | null
}

/** Marks nearer to each other than this stand beside their places, with a line to them (px). */
const CLOSE_PX = 14
/** How far beside (px). */
const ASIDE_PX = 12

/** Marks at their places on the road; those of other corners than the selected one step back, and none stands on another. */
export const MarksOnBand = ({ circuit, marks, x, frame, close, cornerId }: Props) => {
  const placed = marks
    .map((m) => ({ m, at: x(m.station_m), y: offsetToY(circuit, m.station_m, m.offset_m, frame), aside: 0 }))
    .sort((a, b) => a.at - b.at)
  placed.forEach((p, i) => {
    const before = placed[i - 1]
    if (!before || Math.hypot(p.at - before.at, p.y - (before.y + before.aside)) >= CLOSE_PX) return
    p.aside = before.aside > 0 ? -ASIDE_PX : ASIDE_PX
  })
  return placed.map(({ m, at, y, aside }) => (
    <g
      key={`${m.cornerId}${m.kind}`}
      transform={`translate(${at.toFixed(1)} ${y.toFixed(1)})`}
      color="var(--roadEdge)"
      opacity={cornerId === null || m.cornerId === cornerId ? 1 : 0.55}
    >
      <title>{`${m.cornerId} ${inside(markNames[m.kind])}`}</title>
      {aside !== 0 && <line y2={aside} stroke="currentColor" strokeWidth="1" />}
      <g transform={`translate(0 ${aside}) scale(${close ? 1.15 : 0.82})`}>
        <MarkShape kind={m.kind} />
      </g>
    </g>
  ))
}
