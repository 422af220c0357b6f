import { DndContext, type DragEndEvent, PointerSensor, useDraggable, useSensor, useSensors } from '@dnd-kit/core'
import { Box } from '@mui/material'
import type { LaidExercise, Pad, PadExercise, PadProblem } from '@ochote/core'
import { useRef } from 'react'
import { say } from '../../language/say.ts'
import { ExerciseDrawing, PadGround } from '../../shared/pad/pad-drawing.tsx'

/** A change of an exercise, or how it is made from what the exercise is by then. */
export type ExerciseChange = Partial<PadExercise> | ((now: PadExercise) => Partial<PadExercise>)

/** Steps in which keys move and turn an exercise. */
const KEY_M = 1
const KEY_DEG = 15

type BoardProps = {
  pad: Pad
  laid: readonly LaidExercise[]
  problems: readonly PadProblem[]
  chosen: string | null
  onChoose: (id: string) => void
  onMove: (id: string, next: ExerciseChange) => void
}

/** The pad with its exercises, which are dragged to whole metres. */
export const PadBoard = ({ pad, laid, problems, chosen, onChoose, onMove }: BoardProps) => {
  const frame = useRef<HTMLDivElement>(null)
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }))
  /** Metres in one pixel of the drawing as it is shown. */
  const perPixel = (): number => {
    const svg = frame.current?.querySelector('svg')
    const matrix = svg?.getScreenCTM()
    return matrix ? 1 / matrix.a : 1
  }
  const dropped = ({ active, delta }: DragEndEvent): void => {
    const exercise = pad.exercises.find((e) => e.id === active.id)
    if (!exercise) return
    const scale = perPixel()
    onMove(exercise.id, (e) => ({ x_m: Math.round(e.x_m + delta.x * scale), y_m: Math.round(e.y_m - delta.y * scale) }))
  }
  return (
    <Box ref={frame}>
      <DndContext sensors={sensors} onDragStart={({ active }) => onChoose(String(active.id))} onDragEnd={dropped}>
        <PadGround pad={pad}>
          {(pixel) =>
            laid.map((one) => (
              <Movable
                key={one.exercise.id}
                laid={one}
                pixel={pixel}
                chosen={one.exercise.id === chosen}
                wrong={problems.some((p) => p.id === one.exercise.id || ('otherId' in p && p.otherId === one.exercise.id))}
                perPixel={perPixel}
                onChoose={() => onChoose(one.exercise.id)}
                onMove={(next) => onMove(one.exercise.id, next)}
              />
            ))
          }
        </PadGround>
      </DndContext>
    </Box>
  )
}

const keyMoves: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-KEY_M, 0],
  ArrowRight: [KEY_M, 0],
  ArrowUp: [0, KEY_M],
  ArrowDown: [0, -KEY_M],
}

const Movable = ({
  laid,
  pixel,
  chosen,
  wrong,
  perPixel,
  onChoose,
  onMove,
}: {
  laid: LaidExercise
  pixel: number
  chosen: boolean
  wrong: boolean
  perPixel: () => number
  onChoose: () => void
  onMove: (next: ExerciseChange) => void
}) => {
  const { id, name } = laid.exercise
  const { setNodeRef, listeners, transform } = useDraggable({ id })
  const scale = transform ? perPixel() : 1
  return (
    // biome-ignore lint/a11y/useSemanticElements: a drawing has no buttons
    <g
      ref={(node) => setNodeRef(node as unknown as HTMLElement)}
      {...listeners}
      role="button"
      tabIndex={0}
      aria-label={say`${name} on the pad`}
      aria-pressed={chosen}
      transform={transform ? `translate(${transform.x * scale} ${transform.y * scale})` : undefined}
      style={{ cursor: 'grab', outline: 'none' }}
      onFocus={onChoose}
      onClick={onChoose}
      onKeyDown={(event) => {
        const by = keyMoves[event.key]
        if (by) onMove((e) => ({ x_m: e.x_m + by[0], y_m: e.y_m + by[1] }))
        else if (event.key === 'r') onMove((e) => ({ turn_deg: (e.turn_deg + KEY_DEG) % 360 }))
        else return
        event.preventDefault()
      }}
    >
      <ExerciseDrawing laid={laid} chosen={chosen} wrong={wrong} pixel={pixel} />
    </g>
  )
}
