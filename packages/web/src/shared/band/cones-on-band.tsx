import type { Circuit, Cone } from '@ochote/core'
import type { PointerEvent } from 'react'
import { inside } from '../../language/say.ts'
import { staffWords } from '../language/staff-words.ts'
import { ConeGhost, isMoved } from '../marks/cone-ghost.tsx'
import { ConeMark } from '../marks/cone-glyph.tsx'
import { coneNames } from '../marks/mark-words.ts'
import { type BandFrame, offsetToY } from './band-geometry.ts'

type Props = {
  circuit: Circuit
  cones: readonly Cone[]
  x: (s_m: number) => number
  frame: BandFrame
  /** True if little enough of the lap is shown for details to fit. */
  close: boolean
  onCone?: ((cone: Cone, event: PointerEvent) => void) | undefined
}

/** A cone is drawn beyond its edge, so that it never hides the road (px). */
const BESIDE = 9

/** Cones of one group that would hide each other stand side by side, this far apart (px). */
const PAIR_PX = 9

/** How far a cone is drawn beside its place, so that every one of its group is seen (px). */
const besideOf = (cones: readonly Cone[], cone: Cone, x: (s_m: number) => number): number => {
  const group = cones.filter((other) => other.groupId === cone.groupId && Math.abs(x(other.station_m) - x(cone.station_m)) < PAIR_PX)
  return group.length < 2 ? 0 : (group.indexOf(cone) - (group.length - 1) / 2) * PAIR_PX + x(group[0].station_m) - x(cone.station_m)
}

/** Cones beside the road; one that a hand moved has its ghost where it was computed. */
export const ConesOnBand = ({ circuit, cones, x, frame, close, onCone }: Props) => {
  const scale = close ? 1.1 : 0.8
  const at = (station_m: number, offset_m: number, by_px = 0): string =>
    `translate(${(x(station_m) + by_px).toFixed(1)} ${(offsetToY(circuit, station_m, offset_m, frame) + (offset_m > 0 ? -BESIDE : BESIDE)).toFixed(1)}) scale(${scale})`
  return (
    <g>
      {cones.map((cone) => (
        <g key={cone.id}>
          {isMoved(cone) && (
            <g transform={at(cone.computed.station_m, cone.computed.offset_m)}>
              <ConeGhost cone={cone} />
            </g>
          )}
          <g
            transform={at(cone.station_m, cone.offset_m, besideOf(cones, cone, x))}
            style={onCone ? { cursor: 'pointer' } : undefined}
            onPointerUp={onCone && ((event) => onCone(cone, event))}
          >
            <title>{`${cone.cornerId} ${inside(coneNames[cone.kind])}: ${staffWords.colours[cone.colour]}`}</title>
            <ConeMark colour={cone.colour} shape={cone.shape} />
          </g>
        </g>
      ))}
    </g>
  )
}
