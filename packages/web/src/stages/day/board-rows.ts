import { type DaySetup, firstName, minutesOf, nameKey, type PlannedSession } from '@ochote/core'
import { say } from '../../language/say.ts'
import { formatName, shortFormatNames } from './plan-words.ts'

/** By what the board has its rows. */
export const views = { places: say`Places`, instructors: say`Instructors`, cars: say`Cars`, students: say`Students` } as const
export type BoardView = keyof typeof views

export type BoardNames = { student: (id: string) => string; instructor: (id: string) => string; car: (id: string) => string }
export type Bar = {
  key: string
  session: PlannedSession
  from: number
  to: number
  text: string
  title: string
  drive: boolean
  lane: number
}
/** A row with its bars; `head`: the name of a group instead, with how many are in it. */
export type BoardRow = { id: string; name: string; bars: Bar[]; lanes: number; groupId?: string; head?: { count: number; folded: boolean } }

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

/** What a session is, whenever it is held. */
const whatIsIt = ({ formatId, groupId, seats }: PlannedSession): string =>
  `${formatId} ${groupId} ${seats.map((seat) => seat.studentId).join(' ')}`

/** Sessions with the how-manieth each is of what is the same, in the order of the plan. */
const inTurn = (sessions: readonly PlannedSession[]): { session: PlannedSession; nth: number }[] => {
  const counts = new Map<string, number>()
  return sessions.map((session) => {
    const what = whatIsIt(session)
    const nth = counts.get(what) ?? 0
    counts.set(what, nth + 1)
    return { session, nth }
  })
}

/** The rows of a view with their bars. */
export const boardRows = (setup: DaySetup, sessions: readonly PlannedSession[], view: BoardView, names: BoardNames): BoardRow[] => {
  const formatOf = (s: PlannedSession) => setup.formats.find((f) => f.id === s.formatId)
  const whoIn = (s: PlannedSession): string =>
    s.seats.length > 3 ? say`${s.seats.length} students` : s.seats.map((seat) => firstName(names.student(seat.studentId))).join(', ')
  const whatOf = (s: PlannedSession): string => {
    const format = formatOf(s)
    return format ? formatName(format) : s.formatId
  }
  const shortOf = (s: PlannedSession): string => {
    const format = formatOf(s)
    return format ? shortFormatNames[format.kind] : s.formatId
  }
  const withOf = (s: PlannedSession): string => (s.instructorId === null ? '' : names.instructor(s.instructorId))
  // A bar that was moved is still the same: it keeps the focus of whoever moves it by keys.
  const bar = (s: PlannedSession, nth: number, text: string): Omit<Bar, 'lane'> => ({
    key: `${whatIsIt(s)} ${nth}`,
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
    ...inLanes(inTurn(sessions.filter(has)).map(({ session, nth }) => bar(session, nth, text(session)))),
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
      return setup.students.map((x) => ({
        ...row(
          x.id,
          names.student(x.id),
          (s) => s.seats.some((seat) => seat.studentId === x.id),
          (s) => shortOf(s),
        ),
        groupId: x.groupId,
      }))
  }
}

/** Rows whose name holds a text; students under the heads of their groups, of which some are folded, where there are several. */
export const shownRows = (rows: readonly BoardRow[], groups: DaySetup['groups'], find: string, folded: ReadonlySet<string>): BoardRow[] => {
  const wanted = nameKey(find)
  const found = rows.filter((r) => nameKey(r.name).includes(wanted))
  if (groups.length < 2 || found.every((r) => r.groupId === undefined)) return [...found]
  return groups.flatMap((group): BoardRow[] => {
    const inIt = found.filter((r) => r.groupId === group.id)
    if (inIt.length === 0) return []
    const isFolded = folded.has(group.id)
    const name = group.name || say`In no group`
    return [
      { id: `group ${group.id}`, name, bars: [], lanes: 0, groupId: group.id, head: { count: inIt.length, folded: isFolded } },
      ...(isFolded ? [] : inIt),
    ]
  })
}

/** What a bar can be dropped on: another session, or a row. */
export type DropTarget = { session?: PlannedSession; row?: BoardRow }

/** What dropping a session means: it changes places with another of its kind, goes to the instructor or car of a row, or only moves in time. */
export type Dropped =
  | { kind: 'exchange'; with: PlannedSession }
  | { kind: 'give'; instructorId: string }
  | { kind: 'car'; carId: string }
  | { kind: 'move' }

export const droppedOn = (session: PlannedSession, target: DropTarget | null, view: BoardView): Dropped => {
  const { session: other, row } = target ?? {}
  if (other && other !== session && other.formatId === session.formatId) return { kind: 'exchange', with: other }
  if (view === 'instructors' && row && session.instructorId !== null && row.id !== session.instructorId)
    return { kind: 'give', instructorId: row.id }
  if (view === 'cars' && row && session.seats.length === 1 && row.id !== session.seats[0].carId && row.id !== session.leaderCarId)
    return { kind: 'car', carId: row.id }
  return { kind: 'move' }
}
