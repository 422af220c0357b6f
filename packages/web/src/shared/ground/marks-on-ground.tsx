import { type Circuit, type Mark, placeAt, placeOn } from '@ochote/core'
import { inside, say } from '../../language/say.ts'
import { leading, MarkShape } from '../marks/mark-glyph.tsx'
import { markNames } from '../marks/mark-words.ts'
import type { ScreenPlace } from '../use-gestures.ts'
import { type GroundPlace, useHeld } from './use-held.ts'

/** Called back with a mark that was dragged to another place on the road. */
export type DragMark = (mark: Mark, place: { station_m: number; offset_m: number }) => void

/** Marks that share a place: those that a cone may show are drawn last, on top. */
const drawingOrder = (marks: readonly Mark[]): Mark[] =>
  [...marks].sort((a, b) => Number(leading.has(a.kind)) - Number(leading.has(b.kind)))

/** Marks that place the car: these can be dragged, the line then goes through them. */
const draggable: ReadonlySet<Mark['kind']> = new Set(['turn-in', 'apex', 'exit'])
/** A dragged mark is placed within so much of the road around where it was (m). */
const DRAG_REACH_M = 80

type Props = {
  circuit: Circuit
  marks: readonly Mark[]
  cornerId: string | null
  pixel: number
  groundAt: (at: ScreenPlace) => GroundPlace | null
  onDrag: DragMark | undefined
  /** A mark is held over a place of the road. */
  onHeld?: DragMark | undefined
  /** It is let go, at a place or nowhere. */
  onLetGo?: (() => void) | undefined
  /** A press was taken by a mark. */
  onTaken: () => void
}

/** Marks of a corner at their places; those of the selected corner that place the car can be dragged. `pixel`: metres of one. */
export const MarksOnGround = ({ circuit, marks, cornerId, pixel, groundAt, onDrag, onHeld, onLetGo, onTaken }: Props) => {
  const placeOf = (mark: Mark, at: GroundPlace) => placeOn(circuit, at.x_m, at.y_m, { station_m: mark.station_m, reach_m: DRAG_REACH_M })
  const { held, handlersOf } = useHeld<Mark>({
    groundAt,
    onTaken,
    onHeld: (mark, place) => onHeld?.(mark, placeOf(mark, place)),
    onLetGo: (mark, place) => {
      onLetGo?.()
      if (place) onDrag?.(mark, placeOf(mark, place))
    },
  })
  const at = ({ x_m, y_m }: GroundPlace): string => `translate(${x_m.toFixed(2)} ${(-y_m).toFixed(2)}) scale(${pixel})`
  return (
    <>
      {drawingOrder(marks).map((m) => (
        <g
          key={`${m.cornerId}${m.kind}`}
          transform={at(placeAt(circuit, m.station_m, m.offset_m))}
          color="var(--ink)"
          {...(onDrag && m.cornerId === cornerId && draggable.has(m.kind)
            ? {
                style: { cursor: 'move' },
                'aria-label': say`Drag the ${inside(markNames[m.kind])}`,
                ...handlersOf(m),
              }
            : {})}
        >
          <title>{`${m.cornerId} ${inside(markNames[m.kind])}`}</title>
          <circle r="9" fill="var(--ground)" stroke="var(--ink)" strokeWidth="1" />
          <MarkShape kind={m.kind} />
        </g>
      ))}
      {held && (
        <g transform={at(held.at)} color="var(--accent)" pointerEvents="none">
          <circle r="10" fill="var(--ground)" stroke="var(--accent)" strokeWidth="2" />
          <MarkShape kind={held.what.kind} />
        </g>
      )}
    </>
  )
}
