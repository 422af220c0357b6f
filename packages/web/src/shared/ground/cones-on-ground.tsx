import { type Circuit, type Cone, placeAt, placeOn } from '@ochote/core'
import { inside, say } from '../../language/say.ts'
import { staffWords } from '../language/staff-words.ts'
import { ConeGhost, isMoved } from '../marks/cone-ghost.tsx'
import { ConeMark } from '../marks/cone-glyph.tsx'
import { coneNames } from '../marks/mark-words.ts'
import type { ScreenPlace } from '../use-gestures.ts'
import { type GroundPlace, useHeld } from './use-held.ts'

/** A group of cones that can be dragged: where a hand holds a cone of it, and where it lets go (null: nowhere). */
export type DragCones = {
  groupId: string
  onHeld: (cone: Cone, place: { station_m: number; offset_m: number }) => void
  onLetGo: (cone: Cone, place: { station_m: number; offset_m: number } | null) => void
}

/** A dragged cone is placed within so much of the road around where it was (m). */
const DRAG_REACH_M = 80

type Props = {
  circuit: Circuit
  cones: readonly Cone[]
  /** Scale of a glyph in metres. */
  size: number
  drag?: DragCones | undefined
  groundAt: (at: ScreenPlace) => GroundPlace | null
  onTaken: () => void
}

/** Cones at their places; one that a hand moved has its ghost where it was computed. */
export const ConesOnGround = ({ circuit, cones, size, drag, groundAt, onTaken }: Props) => {
  const at = (station_m: number, offset_m: number): string => {
    const place = placeAt(circuit, station_m, offset_m)
    return `translate(${place.x_m.toFixed(2)} ${(-place.y_m).toFixed(2)}) scale(${size})`
  }
  const placeOf = (cone: Cone, place: GroundPlace) =>
    placeOn(circuit, place.x_m, place.y_m, { station_m: cone.station_m, reach_m: DRAG_REACH_M })
  const { handlersOf } = useHeld<Cone>({
    groundAt,
    onTaken,
    onHeld: (cone, place) => drag?.onHeld(cone, placeOf(cone, place)),
    onLetGo: (cone, place) => drag?.onLetGo(cone, place && placeOf(cone, place)),
  })
  return (
    <>
      {cones.filter(isMoved).map((c) => (
        <g key={`ghost ${c.id}`} transform={at(c.computed.station_m, c.computed.offset_m)}>
          <ConeGhost cone={c} />
        </g>
      ))}
      {cones.map((c) => (
        <g
          key={c.id}
          transform={at(c.station_m, c.offset_m)}
          {...(drag?.groupId === c.groupId
            ? { style: { cursor: 'move' }, 'aria-label': say`Drag the cone: ${inside(coneNames[c.kind])}`, ...handlersOf(c) }
            : {})}
        >
          <title>{`${c.cornerId} ${inside(coneNames[c.kind])}: ${staffWords.colours[c.colour]}`}</title>
          {drag?.groupId === c.groupId && <circle r="13" fill="transparent" stroke="var(--accent)" strokeWidth="1.5" />}
          <ConeMark colour={c.colour} shape={c.shape} />
        </g>
      ))}
    </>
  )
}
