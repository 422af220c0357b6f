import {
  DndContext,
  type DragEndEvent,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import { Box, Button, Stack, TextField, ToggleButton, ToggleButtonGroup } from '@mui/material'
import { clockOf, type DaySetup, minutesOf, type PlannedSession, sessionKey } from '@ochote/core'
import { type KeyboardEvent, type ReactNode, useMemo, useRef, useState } from 'react'
import { say } from '../../language/say.ts'
import { edges } from '../../look/scale.ts'
import { VirtualRows } from '../../shared/virtual-rows.tsx'
import {
  type Bar,
  type BoardNames,
  type BoardRow,
  type BoardView,
  boardRows,
  type DropTarget,
  droppedOn,
  shownRows,
  views,
} from './board-rows.ts'
import { STEP_MIN } from './session-editor.tsx'

const LANE_PX = 26
const NAME_PX = 140
/** A bar is at least so wide (px), that a word fits in it; the board scrolls sideways where that needs more room than there is. */
const BAR_PX = 30
const WIDEST_PX = 2000

/** What is told of single sessions on the board, by their keys. */
export type BoardMarks = {
  /** Rules that a session breaks, in words. */
  broken: ReadonlyMap<string, string>
  /** Sessions that people were told of; null where nothing was announced. */
  told: ReadonlySet<string> | null
  /** Sessions that have begun, and those in which everybody has driven. */
  driven: ReadonlyMap<string, 'running' | 'done'>
}
const noMarks: BoardMarks = { broken: new Map(), told: null, driven: new Map() }

/** What is driven, in words and before the text of its bar. */
const drivenWords = { running: say`running`, done: say`driven` } as const
const drivenSigns = { running: '▸', done: '✓' } as const

/** Changes that a hand makes on the board. */
type BoardActions = {
  onChoose: (key: string) => void
  /** A session was dragged along, or moved by an arrow key (min). */
  onMove: (key: string, minutes: number) => void
  /** It was dropped on another session of its kind: both exchange their people. */
  onExchange: (key: string, otherKey: string) => void
  /** It was dropped on the row of another instructor or car. */
  onChange: (key: string, next: PlannedSession) => void
}

type BoardProps = {
  setup: DaySetup
  sessions: readonly PlannedSession[]
  names: BoardNames
  now: string | null
  /** Key of the session that is chosen; those that nobody may move. */
  chosen?: string | null
  locked?: readonly string[]
  marks?: BoardMarks
  actions?: BoardActions
}

type BarProps = {
  bar: Bar
  isChosen: boolean
  isLocked: boolean
  broken: string | undefined
  proposed: boolean
  driven: 'running' | 'done' | undefined
  place: { left: string; width: string; top: number }
  onChoose: (() => void) | undefined
  onMove: ((minutes: number) => void) | undefined
}

/** A bar of the board: a session that is chosen by a touch, and moved by dragging it or by the arrow keys. */
const BarOnBoard = ({ bar, isChosen, isLocked, broken, proposed, driven, place, onChoose, onMove }: BarProps) => {
  const canMove = onMove !== undefined && !isLocked && driven === undefined
  const id = bar.key
  const { setNodeRef, listeners, transform, isDragging } = useDraggable({ id, disabled: !canMove, data: { session: bar.session } })
  const { setNodeRef: setTarget, isOver } = useDroppable({ id: `on ${id}`, disabled: !canMove, data: { session: bar.session } })
  const told = [bar.title, broken, proposed ? say`not announced` : '', isLocked ? say`locked` : '', driven ? drivenWords[driven] : '']
    .filter(Boolean)
    .join(' · ')
  return (
    <Box
      component="button"
      type="button"
      ref={(node: HTMLElement | null) => {
        setNodeRef(node)
        setTarget(node)
      }}
      {...listeners}
      title={told}
      aria-label={told}
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
        color: broken ? 'error.main' : 'inherit',
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
        borderColor: broken ? 'error.main' : bar.drive ? 'var(--accent)' : 'var(--rule)',
        ...(proposed ? { borderBottom: `${edges.strong}px dashed`, borderBottomColor: 'text.primary' } : {}),
        ...(broken || isOver ? { outline: `${edges.strong}px solid`, outlineColor: broken ? 'error.main' : 'var(--accent)' } : {}),
        ...(isChosen ? { outline: `${edges.focus}px solid var(--accent)`, outlineOffset: edges.hair } : {}),
        ...(isLocked ? { borderRight: 'note' } : {}),
        zIndex: isDragging ? 2 : 'auto',
      }}
      style={{ ...place, ...(transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : {}) }}
    >
      {/* Twenty minutes have no room for a long name: the rest of it is in the title. */}
      <Box component="span" sx={{ display: 'block', overflow: 'hidden', textOverflow: 'ellipsis' }}>
        {[broken && '!', driven && drivenSigns[driven], bar.text].filter(Boolean).join(' ')}
      </Box>
    </Box>
  )
}

type RowProps = {
  row: BoardRow
  under: ReactNode
  over: ReactNode
  children: ReactNode
  onFold: (groupId: string) => void
}

/** A row of the board: a name and its bars, or the head of a group. */
const RowOnBoard = ({ row, under, over, children, onFold }: RowProps) => {
  const { setNodeRef } = useDroppable({ id: `row ${row.id}`, data: { row }, disabled: row.head !== undefined })
  if (row.head)
    return (
      <Box sx={{ borderBottom: 'hair', borderColor: 'divider' }}>
        <Button
          size="small"
          variant="text"
          aria-expanded={!row.head.folded}
          onClick={() => row.groupId !== undefined && onFold(row.groupId)}
          sx={{ fontWeight: 680 }}
        >
          {`${row.head.folded ? '▸' : '▾'} ${row.name} (${row.head.count})`}
        </Button>
      </Box>
    )
  return (
    <Box ref={setNodeRef} sx={{ display: 'flex', borderBottom: 'hair', borderColor: 'divider' }}>
      <Box
        sx={{
          width: NAME_PX,
          flex: 'none',
          // Names stay where the board scrolls sideways.
          position: 'sticky',
          left: 0,
          zIndex: 2,
          backgroundColor: 'background.default',
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
      <Box sx={{ position: 'relative', flex: 1 }} style={{ height: Math.max(1, row.lanes) * LANE_PX + 4 }}>
        {under}
        {children}
        {over}
      </Box>
    </Box>
  )
}

/** By what the rows are, and a name to look for among them. */
const BoardHead = ({
  view,
  find,
  onView,
  onFind,
}: {
  view: BoardView
  find: string
  onView: (v: BoardView) => void
  onFind: (text: string) => void
}) => (
  <Stack direction="row" useFlexGap spacing={3} sx={{ mb: 2, alignItems: 'flex-end', flexWrap: 'wrap' }}>
    <ToggleButtonGroup
      size="small"
      exclusive
      value={view}
      aria-label={say`Rows of the board`}
      onChange={(_, next: BoardView | null) => next && onView(next)}
    >
      {(Object.keys(views) as BoardView[]).map((key) => (
        <ToggleButton key={key} value={key}>
          {views[key]}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
    {view !== 'places' && (
      <TextField label={say`Find on the board`} value={find} onChange={(e) => onFind(e.target.value)} sx={{ width: 180 }} />
    )}
  </Stack>
)

/** A plan with time across: one row for each place, instructor, car or student, and a line at the time it is. */
export const DayBoard = ({ setup, sessions, names, now, chosen = null, locked = [], marks = noMarks, actions }: BoardProps) => {
  const [view, setView] = useState<BoardView>('places')
  const [find, setFind] = useState('')
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set())
  const all = useMemo(() => boardRows(setup, sessions, view, names), [setup, sessions, view, names])
  const rows = useMemo(() => shownRows(all, setup.groups, view === 'places' ? '' : find, folded), [all, setup.groups, find, view, folded])
  const [from, to] = [minutesOf(setup.from), minutesOf(setup.to)]
  const shortest_min = Math.min(...sessions.map((s) => minutesOf(s.end) - minutesOf(s.start)), to - from)
  const least_px = Math.min(WIDEST_PX, NAME_PX + ((to - from) / Math.max(1, shortest_min)) * BAR_PX)
  const frame = useRef<HTMLDivElement>(null)
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }))
  const dragged = ({ active, delta, collisions }: DragEndEvent): void => {
    if (!actions) return
    const { session } = active.data.current as { session: PlannedSession }
    const key = sessionKey(session)
    const targets = (collisions ?? []).map((c) => (c.data?.droppableContainer?.data.current ?? {}) as DropTarget)
    const bar = targets.find((t) => t.session && t.session !== session && t.session.formatId === session.formatId)
    const drop = droppedOn(session, bar ?? targets.find((t) => t.row) ?? null, view)
    if (drop.kind === 'exchange') actions.onExchange(key, sessionKey(drop.with))
    else if (drop.kind === 'give') actions.onChange(key, { ...session, instructorId: drop.instructorId })
    else if (drop.kind === 'car')
      actions.onChange(key, { ...session, seats: session.seats.map((seat) => ({ ...seat, carId: drop.carId })) })
    else {
      const across_px = Math.max(least_px, frame.current?.clientWidth ?? 0) - NAME_PX
      const minutes = STEP_MIN * Math.round(((delta.x / across_px) * (to - from)) / STEP_MIN)
      if (minutes !== 0) actions.onMove(key, minutes)
    }
  }
  const share = (minutes: number): string => `${(100 * (minutes - from)) / (to - from)}%`
  const across = (a: number, b: number) => ({ left: share(a), width: `${(100 * (b - a)) / (to - from)}%` })
  const hours = Array.from({ length: Math.floor(to / 60) - Math.ceil(from / 60) + 1 }, (_, k) => 60 * (Math.ceil(from / 60) + k)).filter(
    (h) => h < to,
  )
  const rain = setup.rain.map((r) => (
    <Box
      key={r.from}
      sx={{ position: 'absolute', top: 0, bottom: 0, backgroundColor: 'var(--verge)' }}
      style={across(minutesOf(r.from), minutesOf(r.to))}
    />
  ))
  const under = (
    <>
      {rain}
      {hours.map((h) => (
        <Box
          key={h}
          sx={{ position: 'absolute', top: 0, bottom: 0, borderLeft: 'hair', borderColor: 'divider' }}
          style={{ left: share(h) }}
        />
      ))}
    </>
  )
  const nowLine = now !== null && minutesOf(now) > from && minutesOf(now) < to && (
    <Box
      sx={{ position: 'absolute', top: 0, bottom: 0, borderLeft: 'strong', borderColor: 'error.main' }}
      style={{ left: share(minutesOf(now)) }}
    />
  )
  const head = (
    <Box sx={{ ml: `${NAME_PX}px` }} className="figures">
      <Box sx={{ position: 'relative', height: 20 }}>
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
      {setup.rain.length > 0 && (
        <Box sx={{ position: 'relative', height: 20 }}>
          {setup.rain.map((r) => (
            <Box
              key={r.from}
              sx={{
                position: 'absolute',
                top: 0,
                bottom: 0,
                px: 1,
                fontSize: 'size.note',
                backgroundColor: 'var(--verge)',
                whiteSpace: 'nowrap',
              }}
              style={across(minutesOf(r.from), minutesOf(r.to))}
            >
              {say`Rain ${r.from}–${r.to}`}
            </Box>
          ))}
        </Box>
      )}
    </Box>
  )
  const fold = (groupId: string): void =>
    setFolded((had) => new Set(had.has(groupId) ? [...had].filter((id) => id !== groupId) : [...had, groupId]))
  const barOf = (bar: Bar) => {
    const key = sessionKey(bar.session)
    return (
      <BarOnBoard
        key={bar.key}
        bar={bar}
        isChosen={key === chosen}
        isLocked={locked.includes(key)}
        broken={marks.broken.get(key)}
        proposed={marks.told !== null && !marks.told.has(key)}
        driven={marks.driven.get(key)}
        place={{ ...across(bar.from, bar.to), top: bar.lane * LANE_PX + 3 }}
        onChoose={actions && (() => actions.onChoose(key))}
        onMove={actions && ((minutes) => actions.onMove(key, minutes))}
      />
    )
  }
  return (
    <Box component="section" aria-label={say`The plan`}>
      <BoardHead view={view} find={find} onView={setView} onFind={setFind} />
      <Box ref={frame}>
        <DndContext sensors={sensors} collisionDetection={pointerWithin} onDragEnd={dragged}>
          <VirtualRows
            label={views[view]}
            rows={rows}
            keyOf={(row) => row.id}
            rowHeight={LANE_PX + 4}
            height="60vh"
            minWidth={least_px}
            head={head}
            row={(row) => (
              <RowOnBoard row={row} under={under} over={nowLine} onFold={fold}>
                {row.bars.map(barOf)}
              </RowOnBoard>
            )}
          />
        </DndContext>
      </Box>
    </Box>
  )
}
