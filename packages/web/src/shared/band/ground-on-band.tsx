import { say } from '../../language/say.ts'
import { lengthOf, metres } from '../../language/staff-units.ts'
import { GroundMark, groundColour } from '../marks/ground-glyph.tsx'
import type { BandFrame, PlacedItem } from './band-geometry.ts'

/** An item of ground: a bar along its side of the road, with its glyph beyond the edge. */
export const GroundOnBand = ({ placed, frame }: { placed: PlacedItem; frame: BandFrame }) => {
  const { item, from, extent, middle, edge, out, row, count } = placed
  const colour = groundColour(item.kind)
  return (
    <g>
      <title>
        {item.to_m === item.from_m
          ? `${item.name || item.kind}, ${metres(item.from_m)}`
          : say`${item.name || item.kind}, ${Math.round(lengthOf(item.from_m))} to ${metres(item.to_m)}`}
      </title>
      {extent > 3 && <rect x={from} y={edge + (out < 0 ? -5 : 1)} width={extent} height="4" fill={colour} opacity="0.75" />}
      <g
        transform={`translate(${Math.min(Math.max(middle, 8), frame.width - 8).toFixed(1)} ${(edge + out * (14 + 15 * row)).toFixed(1)}) scale(0.82)`}
      >
        <GroundMark kind={item.kind} />
        {count > 1 && <text x="10" y="5" className="type-note figures" fill="var(--ink)">{`×${count}`}</text>}
      </g>
    </g>
  )
}
