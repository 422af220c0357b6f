import { atStation, type Circuit, distanceAhead, type GroundItem, placeAt } from '@ochote/core'
import { metres } from '../../language/staff-units.ts'
import { GroundMark, groundColour } from '../marks/ground-glyph.tsx'

/** A line along one edge of the road, from where an item begins to where it ends. */
const beside = (circuit: Circuit, item: GroundItem, side: 1 | -1): string => {
  const length_m = distanceAhead(item.from_m, item.to_m, circuit.length_m)
  const steps = Math.max(1, Math.ceil(length_m / 8))
  return Array.from({ length: steps + 1 }, (_, k) => {
    const s_m = item.from_m + (k / steps) * length_m
    const edge = side === 1 ? atStation(circuit, circuit.widthLeft_m, s_m) : atStation(circuit, circuit.widthRight_m, s_m)
    const place = placeAt(circuit, s_m, side * (edge + 1.2))
    return `${k === 0 ? 'M' : 'L'}${place.x_m.toFixed(1)} ${(-place.y_m).toFixed(1)}`
  }).join('')
}

type Props = {
  circuit: Circuit
  items: readonly GroundItem[]
  /** True if one corner is shown alone: then there is room for every glyph. */
  alone: boolean
  /** Metres in a pixel. */
  pixel: number
}

/** Ground items beside the road: a line along its edge for a stretch, and its glyph beyond it. */
export const GroundItems = ({ circuit, items, alone, pixel }: Props) => (
  <g>
    {items.map((item) => {
      const side = item.side === 'left' ? 1 : -1
      const width_m = side === 1 ? circuit.widthLeft_m : circuit.widthRight_m
      const place = placeAt(circuit, item.from_m, side * (atStation(circuit, width_m, item.from_m) + 12 * pixel))
      const isPlace = item.to_m === item.from_m
      return (
        <g key={item.id}>
          <title>{`${item.name || item.kind}, ${metres(item.from_m)}`}</title>
          {!isPlace && (
            <path d={beside(circuit, item, side)} fill="none" stroke={groundColour(item.kind)} strokeWidth={3 * pixel} opacity="0.75" />
          )}
          {(alone || isPlace) && (
            <g transform={`translate(${place.x_m.toFixed(2)} ${(-place.y_m).toFixed(2)}) scale(${(alone ? 1 : 0.62) * pixel})`}>
              <GroundMark kind={item.kind} />
            </g>
          )}
        </g>
      )
    })}
  </g>
)
