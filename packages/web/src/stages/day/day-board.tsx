import { DndContext, type DragEndEvent, PointerSensor, useDraggable, useSensor, useSensors } from '@dnd-kit/core'
import { restrictToHorizontalAxis } from '@dnd-kit/modifiers'
import { Box, ToggleButton, ToggleButtonGroup } from '@mui/material'
import { clockOf, type DaySetup, firstName, minutesOf, type PlannedSession, sessionKey } from '@ochote/core'
import { type KeyboardEvent, useMemo, useRef, useState } from 'react'
import { say } from '../../language/say.ts'
import { edges } from '../../look/scale.ts'
import { VirtualRows } from '../../shared/virtual-rows.tsx'
import { formatNames, shortFormatNames } from './plan-words.ts'
import { STEP_MIN } from './session-editor.tsx'

/** By what the board has its rows. */
const views = { places: say`Places`, instructors: say`Instructors`, cars: say`Cars`, students: say`Students` } as const
export type BoardView = keyof typeof views

type Names = { student: (id: string) => string; instructor: (id: string) => string; car: (id: string) => string }
type Bar = { key: string; session: PlannedSession; from: number; to: number; text: string; title: string; drive: boolean; lane: number }
export type BoardRow = { id: string; name: string; bars: Bar[]; lanes: number }

/** Sessions beside each other get lanes of their own. */
const inLanes = (bars: Omit<Bar, 'lane'>[]): { bars: Bar[]; lanes: number } => {
  const ends: number[] = []
  const placed = bars
    .sort((a, b) => a.from - b.from || a.to - b.to)
    .map((bar) => {
      const free = ends.findIndex((end) => end <= bar.from)
      const lane = free < 0 ? ends.length : free
      ends[lane] = bar.to
      return { ...bar, lane }
    })
  return { bars: placed, lanes: Math.max(1, ends.length) }
}

/** The rows of a view with their bars. */
export const boardRows = (setup: DaySetup, sessions: readonly PlannedSession[], view: BoardView, names: Names): BoardRow[] => {
  const formatOf = (s: PlannedSession) => setup.formats.find((f) => f.id === s.formatId)
  const whoIn = (s: PlannedSession): string =>
    s.seats.length > 3 ? say`${s.seats.length} students` : s.seats.map((seat) => firstName(names.student(seat.studentId))).join(', ')
  const whatOf = (s: PlannedSession): string => {
    const format = formatOf(s)
    return format ? formatNames[format.kind] : s.formatId
  }
  const shortOf = (s: PlannedSession): string => {
    const format = formatOf(s)
    return format ? shortFormatNames[format.kind] : s.formatId
  }
  const withOf = (s: PlannedSession): string => (s.instructorId === null ? '' : names.instructor(s.instructorId))
  const bar = (s: PlannedSession, k: number, text: string): Omit<Bar, 'lane'> => ({
    key: `${s.formatId} ${s.start} ${k}`,
    session: s,
    from: minutesOf(s.start),
    to: minutesOf(s.end),
    text,
    title: [
      `${s.start}–${s.end} ${whatOf(s)}`,
      s.seats.map((seat) => `${names.student(seat.studentId)}${seat.carId === null ? '' : ` (${names.car(seat.carId)})`}`).join(', '),
      withOf(s),
    ]
      .filter(Boolean)
      .join(' · '),
    drive: formatOf(s)?.cars !== 'none',
  })
  const row = (id: string, name: string, has: (s: PlannedSession) => boolean, text: (s: PlannedSession) => string): BoardRow => ({
    id,
    name,
    ...inLanes(sessions.filter(has).map((s, k) => bar(s, k, text(s)))),
  })
  switch (view) {
    case 'places':
      return (['track', 'pad', 'classroom'] as const)
        .map((place) =>
          row(
            place,
            { track: say`Track`, pad: say`Pad`, classroom: say`Classroom` }[place],
            (s) => formatOf(s)?.place === place,
            (s) => whoIn(s),
          ),
        )
        .filter((r) => r.bars.length > 0)
    case 'instructors':
      return setup.instructors.map((i) =>
        row(
          i.id,
          names.instructor(i.id),
          (s) => s.instructorId === i.id,
          (s) => (s.seats.length === 1 ? whoIn(s) : `${shortOf(s)} ${whoIn(s)}`),
        ),
      )
    case 'cars':
      return setup.cars.map((c) =>
        row(
          c.id,
          say`Car ${names.car(c.id)}`,
          (s) => s.leaderCarId === c.id || s.seats.some((seat) => seat.carId === c.id),
          (s) => firstName(names.student(s.seats.find((seat) => seat.carId === c.id)?.studentId ?? s.seats[0]?.studentId ?? '')),
        ),
      )
    case 'students':
      return setup.students.map((x) =>
        row(
          x.id,
          names.student(x.id),
          (s) => s.seats.some((seat) => seat.studentId === x.id),
          (s) => shortOf(s),
        ),
      )
  }
}

const LANE_PX = 26
const NAME_PX = 140

type BoardProps = {
  setup: DaySetup
  sessions: readonly PlannedSession[]
  names: Names
  now: string | null
  /** Key of the session that is chosen; those that nobody may move. */
  chosen?: string | null
  locked?: readonly string[]
  onChoose?: (key: string) => void
  /** A session was dragged, or moved by an arrow key (min). */
  onMove?: (key: string, minutes: number) => void
}

/** A bar of the board: a session that is chosen by a touch, and moved by dragging it or by the arrow keys. */
const BarOnBoard = ({
  bar,
  isChosen,
  isLocked,
  place,
  onChoose,
  onMove,
}: {
  bar: Bar
  isChosen: boolean
  isLocked: boolean
  place: { left: string; width: string; top: number }
  onChoose: (() => void) | undefined
  onMove: ((minutes: number) => void) | undefined
}) => {
  const canMove = onMove !== undefined && !isLocked
  const { setNodeRef, listeners, transform, isDragging } = useDraggable({
    id: `${bar.key} ${bar.lane}`,
    disabled: !canMove,
    data: { session: bar.session },
  })
  return (
    <Box
      component="button"
      type="button"
      ref={setNodeRef}
      {...listeners}
      title={bar.title}
      aria-label={bar.title}
      aria-pressed={isChosen}
      onClick={onChoose}
      onKeyDown={(e: KeyboardEvent) => {
        if (!canMove || (e.key !== 'ArrowLeft' && e.key !== 'ArrowRight')) return
        e.preventDefault()
        onMove(e.key === 'ArrowLeft' ? -STEP_MIN : STEP_MIN)
      }}
      sx={{
        position: 'absolute',
        height: LANE_PX - 4,
        pl: 1,
        pr: 0,
        py: 0,
        border: 0,
        font: 'inherit',
        color: 'inherit',
        textAlign: 'left',
        cursor: canMove ? 'grab' : 'pointer',
        touchAction: 'none',
        fontStretch: '75%',
        fontSize: 'size.note',
        lineHeight: `${LANE_PX - 6}px`,
        overflow: 'hidden',
        whiteSpace: 'nowrap',
        backgroundColor: bar.drive ? 'var(--accentWash)' : 'var(--sheet)',
        borderLeft: 'note',
        borderColor: bar.drive ? 'var(--accent)' : 'var(--rule)',
        ...(isChosen ? { outline: `${edges.focus}px solid var(--accent)`, outlineOffset: edges.hair } : {}),
        ...(isLocked ? { borderRight: 'note' } : {}),
        zIndex: isDragging ? 2 : 'auto',
      }}
      style={{ ...place, ...(transform ? { transform: `translateX(${transform.x}px)` } : {}) }}
    >
      {bar.text}
    </Box>
  )
}

/** A plan with time across: one row for each place, instructor, car or student, and a line at the time it is. */
export const DayBoard = ({ setup, sessions, names, now, chosen = null, locked = [], onChoose, onMove }: BoardProps) => {
  const [view, setView] = useState<BoardView>('places')
  const rows = useMemo(() => boardRows(setup, sessions, view, names), [setup, sessions, view, names])
  const [from, to] = [minutesOf(setup.from), minutesOf(setup.to)]
  const frame = useRef<HTMLDivElement>(null)
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }))
  const dragged = ({ active, delta }: DragEndEvent): void => {
    const { session } = active.data.current as { session: PlannedSession }
    const across_px = (frame.current?.clientWidth ?? 0) - NAME_PX
    const minutes = STEP_MIN * Math.round(((delta.x / across_px) * (to - from)) / STEP_MIN)
    if (minutes !== 0 && across_px > 0) onMove?.(sessionKey(session), minutes)
  }
  const share = (minutes: number): string => `${(100 * (minutes - from)) / (to - from)}%`
  const hours = Array.from({ length: Math.floor(to / 60) - Math.ceil(from / 60) + 1 }, (_, k) => 60 * (Math.ceil(from / 60) + k)).filter(
    (h) => h < to,
  )
  const lines = hours.map((h) => (
    <Box key={h} sx={{ position: 'absolute', top: 0, bottom: 0, borderLeft: 'hair', borderColor: 'divider' }} style={{ left: share(h) }} />
  ))
  const rain = setup.rain.map((r) => (
    <Box
      key={r.from}
      title={say`Rain ${r.from}–${r.to}`}
      sx={{ position: 'absolute', top: 0, bottom: 0, backgroundColor: 'var(--verge)' }}
      style={{ left: share(minutesOf(r.from)), width: `${(100 * (minutesOf(r.to) - minutesOf(r.from))) / (to - from)}%` }}
    />
  ))
  const nowLine = now !== null && minutesOf(now) > from && minutesOf(now) < to && (
    <Box
      sx={{ position: 'absolute', top: 0, bottom: 0, borderLeft: 'strong', borderColor: 'error.main' }}
      style={{ left: share(minutesOf(now)) }}
    />
  )
  return (
    <Box component="section" aria-label={say`The plan`}>
      <ToggleButtonGroup
        size="small"
        exclusive
        value={view}
        aria-label={say`Rows of the board`}
        onChange={(_, next: BoardView | null) => next && setView(next)}
        sx={{ mb: 2 }}
      >
        {(Object.keys(views) as BoardView[]).map((key) => (
          <ToggleButton key={key} value={key}>
            {views[key]}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Box sx={{ overflowX: 'auto' }}>
        <Box ref={frame} sx={{ minWidth: 900 }}>
          <DndContext sensors={sensors} modifiers={[restrictToHorizontalAxis]} onDragEnd={dragged}>
            <VirtualRows
              label={views[view]}
              rows={rows}
              keyOf={(row) => row.id}
              rowHeight={LANE_PX + 4}
              height="60vh"
              head={
                <Box sx={{ position: 'relative', height: 20, ml: `${NAME_PX}px` }} className="figures">
                  {hours.map((h) => (
                    <Box
                      key={h}
                      component="span"
                      sx={{ position: 'absolute', fontSize: 'size.note', color: 'text.secondary' }}
                      style={{ left: share(h) }}
                    >
                      {clockOf(h)}
                    </Box>
                  ))}
                </Box>
              }
              row={(row) => (
                <Box sx={{ display: 'flex', borderBottom: 'hair', borderColor: 'divider' }}>
                  <Box
                    sx={{
                      width: NAME_PX,
                      flex: 'none',
                      py: 1,
                      pr: 2,
                      fontWeight: 600,
                      overflow: 'hidden',
                      textOverflow: 'ellipsis',
                      whiteSpace: 'nowrap',
                    }}
                    title={row.name}
                  >
                    {row.name}
                  </Box>
                  <Box sx={{ position: 'relative', flex: 1 }} style={{ height: row.lanes * LANE_PX + 4 }}>
                    {rain}
                    {lines}
                    {row.bars.map((bar) => {
                      const key = sessionKey(bar.session)
                      return (
                        <BarOnBoard
                          key={bar.key}
                          bar={bar}
                          isChosen={key === chosen}
                          isLocked={locked.includes(key)}
                          place={{
                            left: share(bar.from),
                            width: `${(100 * (bar.to - bar.from)) / (to - from)}%`,
                            top: bar.lane * LANE_PX + 3,
                          }}
                          onChoose={onChoose && (() => onChoose(key))}
                          onMove={onMove && ((minutes) => onMove(key, minutes))}
                        />
                      )
                    })}
                    {nowLine}
                  </Box>
                </Box>
              )}
            />
          </DndContext>
        </Box>
      </Box>
    </Box>
  )
}
