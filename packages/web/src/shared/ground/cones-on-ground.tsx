import { type Circuit, type Cone, placeAt } from '@ochote/core'
import { inside } from '../../language/say.ts'
import { staffWords } from '../language/staff-words.ts'
import { ConeGhost, isMoved } from '../marks/cone-ghost.tsx'
import { ConeMark } from '../marks/cone-glyph.tsx'
import { coneNames } from '../marks/mark-words.ts'

/** Cones at their places; one that a hand moved has its ghost where it was computed. `size`: scale of a glyph in metres. */
export const ConesOnGround = ({ circuit, cones, size }: { circuit: Circuit; cones: readonly Cone[]; size: number }) => {
  const at = (station_m: number, offset_m: number): string => {
    const place = placeAt(circuit, station_m, offset_m)
    return `translate(${place.x_m.toFixed(2)} ${(-place.y_m).toFixed(2)}) scale(${size})`
  }
  return (
    <>
      {cones.filter(isMoved).map((c) => (
        <g key={`ghost ${c.id}`} transform={at(c.computed.station_m, c.computed.offset_m)}>
          <ConeGhost cone={c} />
        </g>
      ))}
      {cones.map((c) => (
        <g key={c.id} transform={at(c.station_m, c.offset_m)}>
          <title>{`${c.cornerId} ${inside(coneNames[c.kind])}: ${staffWords.colours[c.colour]}`}</title>
          <ConeMark colour={c.colour} shape={c.shape} />
        </g>
      ))}
    </>
  )
}
