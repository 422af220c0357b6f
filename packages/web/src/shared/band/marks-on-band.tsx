import type { Circuit, Mark } from '@ochote/core'
import { MarkShape } from '../marks/mark-glyph.tsx'
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

/** Marks at their places on the road; those of other corners than the selected one step back. */
export const MarksOnBand = ({ circuit, marks, x, frame, close, cornerId }: Props) =>
  marks.map((m) => (
    <g
      key={`${m.cornerId}${m.kind}`}
      transform={`translate(${x(m.station_m).toFixed(1)} ${offsetToY(circuit, m.station_m, m.offset_m, frame).toFixed(1)}) scale(${close ? 1.15 : 0.82})`}
      color="var(--roadEdge)"
      opacity={cornerId === null || m.cornerId === cornerId ? 1 : 0.55}
    >
      <title>{`${m.cornerId} ${m.kind}`}</title>
      <MarkShape kind={m.kind} />
    </g>
  ))
