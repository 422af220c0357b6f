import { minutesOf } from '../day/check-day.ts'
import type { Car, GroupSettings, Slot, slotKinds } from '../day/day.ts'
import type { FormatKind } from '../day/format-kind.ts'
import type { Level } from '../day/level.ts'
import { mayDrive, type SchoolCar } from '../day/school-car.ts'
import type { Student } from '../day/student.ts'
import {
  type DayRules,
  type DaySetup,
  type Format,
  type PlannedSession,
  type Span,
  sessionKey,
  usualFormats,
  usualRules,
  type Window,
} from './setup.ts'

/** What a day is planned from beside its people and cars, and the plan that was accepted; kept with the day. */
export type DayPlanning = {
  from: string
  to: string
  formats: Format[]
  windows: Window[]
  /** How often each student of a group gets a format, by the group's id; `everybody` for those in no group. */
  wants: Record<string, Record<string, number>>
  /** `helmet`: the size that is lent to them. */
  people: Record<string, { arrives?: string | undefined; leaves?: string | undefined; helmet?: string | undefined }>
  staff: Record<string, { from?: string | undefined; to?: string | undefined; breaks: Span[] }>
  cars: Record<string, CarOnDay>
  /** Who should, or should not, teach whom. */
  pairs: DaySetup['pairs']
  /** What comes before what for each student of a group, or of all where `groupId` is null; format ids. */
  order: { groupId: string | null; first: string; second: string }[]
  rain: Span[]
  /** When the track is closed though it has a window. */
  closed: Span[]
  /** When the track is shared with others, and how many of our cars may be out then. */
  shared: (Span & { maxCars: number })[]
  rules: DayRules
  /** The plan that was accepted. */
  sessions: PlannedSession[]
  /** The plan that people were told of; null before anything was announced. */
  told: PlannedSession[] | null
  /** Keys of its sessions that nobody may move. */
  locked: string[]
}

/** A car on the day: how long it stands after a use and while it is filled (min), how many laps a tank lasts, when it is out. */
export type CarOnDay = { cooling_min: number; fuel_laps: number | null; refuel_min: number; out: Span[] }
export const usualCar: CarOnDay = { cooling_min: 10, fuel_laps: null, refuel_min: 15, out: [] }

/** The group of whoever is in none. */
export const EVERYBODY = 'everybody'

const usual = (kind: FormatKind): Format => ({ id: kind, ...usualFormats[kind] })

/** A day as it is usually planned, to begin with. */
export const usualPlanning = (): DayPlanning => ({
  from: '09:00',
  to: '17:00',
  formats: [{ ...usual('briefing'), at: '09:00' }, usual('ride-along')],
  windows: [
    { place: 'track', from: '09:30', to: '17:00' },
    { place: 'pad', from: '09:00', to: '17:00' },
    { place: 'classroom', from: '09:00', to: '17:00' },
  ],
  wants: {},
  people: {},
  staff: {},
  cars: {},
  pairs: [],
  order: [],
  rain: [],
  closed: [],
  shared: [],
  rules: usualRules,
  sessions: [],
  told: null,
  locked: [],
})

/** How often a group gets a format where nobody has said: as often as whoever is in no group, else a briefing and two drives beside an instructor. */
const USUAL_WANTS: Record<string, number> = { briefing: 1, 'ride-along': 2 }
export const wantsOfGroup = (planning: Pick<DayPlanning, 'wants' | 'formats'>, groupId: string): Record<string, number> => {
  const wanted = planning.wants[groupId] ?? planning.wants[EVERYBODY] ?? USUAL_WANTS
  // What was taken out of the day is not wanted any more.
  return Object.fromEntries(planning.formats.flatMap((f) => (wanted[f.id] === undefined ? [] : [[f.id, wanted[f.id]]])))
}

/** What an instructor teaches, as their account says; empty lists: everything. */
export type Teaching = { levels: readonly Level[]; vehicleIds: readonly string[]; languages: readonly string[] }

/** A day with what is known of its people and cars. */
export type DayToPlan = {
  date: string
  studentIds: readonly string[]
  instructorIds: readonly string[]
  cars: readonly Car[]
  groups: readonly (GroupSettings & { id: string; name: string })[]
  planning: DayPlanning
  /** What is in the run list: nothing is planned into its breaks. */
  slots?: readonly Pick<Slot, 'kind' | 'start' | 'end'>[]
}
export type KnownPeople = {
  students: readonly Pick<Student, 'id' | 'level' | 'profile'>[]
  schoolCars: readonly Pick<SchoolCar, 'id' | 'studentId' | 'mayDrive'>[]
  /** Cars that nobody should drive until somebody says that they were put right. */
  grounded?: ReadonlySet<string>
  teaching: Readonly<Record<string, Teaching>>
  /** Predicted lap time of a group (s). */
  lap_s: (groupId: string) => number
}

/** The groups of a day; whoever is in none is in the group `everybody`. */
export const groupsOfDay = ({
  groups,
  studentIds,
}: Pick<DayToPlan, 'groups' | 'studentIds'>): { id: string; name: string; studentIds: string[] }[] => {
  const here = groups
    .map(({ id, name, studentIds: ids }) => ({ id, name, studentIds: ids.filter((s) => studentIds.includes(s)) }))
    .filter((g) => g.studentIds.length > 0)
  const grouped = new Set(here.flatMap((g) => g.studentIds))
  const rest = studentIds.filter((id) => !grouped.has(id))
  return rest.length > 0 ? [...here, { id: EVERYBODY, name: '', studentIds: rest }] : here
}

/** The setup that a day is planned by. `now`: what began before is kept as the accepted plan has it, and the rest of that plan is announced. */
export const setupOfDay = (day: DayToPlan, known: KnownPeople, now: string | null = null): DaySetup => {
  const { planning } = day
  const groups = groupsOfDay(day)
  const groupIdOf = new Map(groups.flatMap((g) => g.studentIds.map((id) => [id, g.id] as const)))
  const students = known.students.filter((s) => day.studentIds.includes(s.id))
  const levelsIn = (groupId: string): Level[] => students.filter((s) => groupIdOf.get(s.id) === groupId).map((s) => s.level)
  const began = (session: PlannedSession): boolean => now !== null && minutesOf(session.start) < minutesOf(now)
  return {
    date: day.date,
    from: planning.from,
    to: planning.to,
    step_min: 5,
    students: students.map((s) => ({
      id: s.id,
      groupId: groupIdOf.get(s.id) ?? EVERYBODY,
      ...planning.people[s.id],
      ...(s.profile.language === null ? {} : { language: s.profile.language }),
      ...ownCarOf(s.id, day.cars, known.schoolCars),
    })),
    instructors: day.instructorIds.map((id) => {
      const teaching = known.teaching[id]
      const teaches = groups.filter((g) => !teaching?.levels.length || levelsIn(g.id).every((level) => teaching.levels.includes(level)))
      return {
        id,
        groupIds: teaches.length === groups.length ? [] : teaches.map((g) => g.id),
        carIds: teaching?.vehicleIds.length ? day.cars.filter((c) => teaching.vehicleIds.includes(c.vehicleId)).map((c) => c.id) : [],
        languages: [...(teaching?.languages ?? [])],
        ...(planning.staff[id] ?? { breaks: [] }),
      }
    }),
    cars: day.cars.flatMap((car) => {
      const drivers = driversOf(car.id, students, known.schoolCars)
      // A car that nobody here may take is no car of this day.
      if (drivers?.length === 0) return []
      const own = planning.cars[car.id] ?? usualCar
      // What it was driven before stays as it was.
      const from = now !== null && now < planning.to ? now : planning.from
      const out = known.grounded?.has(car.id) ? [{ from, to: planning.to }] : own.out
      return [{ id: car.id, groupIds: [], studentIds: drivers ?? [], ...own, out }]
    }),
    groups: groups.map((g) => ({
      id: g.id,
      name: g.name,
      lap_s: known.lap_s(g.id),
      wants: wantsOfGroup(planning, g.id),
      order: orderOf(planning, g.id),
    })),
    formats: planning.formats,
    windows: windowsOf(day),
    // Who left the day leaves their wishes behind.
    pairs: planning.pairs.filter((p) => day.studentIds.includes(p.studentId) && day.instructorIds.includes(p.instructorId)),
    rain: planning.rain,
    rules: planning.rules,
    kept: sessionsOf(planning, planning.sessions)
      .filter((session) => began(session) || planning.locked.includes(sessionKey(session)))
      // Who left the day leaves the sessions behind that they were in.
      .map((session) => ({ ...session, seats: session.seats.filter((seat) => day.studentIds.includes(seat.studentId)) }))
      .filter((session) => session.seats.length > 0),
    announced: sessionsOf(planning, planning.told ?? planning.sessions),
    now,
  }
}

/** Sessions of what the day still has. */
const sessionsOf = ({ formats }: DayPlanning, sessions: readonly PlannedSession[]): PlannedSession[] =>
  sessions.filter((s) => formats.some((f) => f.id === s.formatId))

/** What comes before what in a group, of the formats that the day has. */
const orderOf = ({ order, formats }: DayPlanning, groupId: string): [string, string][] => {
  const has = (id: string): boolean => formats.some((f) => f.id === id)
  return order
    .filter((o) => (o.groupId === null || o.groupId === groupId) && has(o.first) && has(o.second))
    .map((o): [string, string] => [o.first, o.second])
}

/** The planning's windows without the run list's breaks; the track's without the time when it is closed, and with few cars where it is shared. */
const windowsOf = ({ slots = [], planning }: DayToPlan): Window[] => {
  const breaks = slots.filter((slot) => slot.kind === 'break').map(({ start, end }) => ({ from: start, to: end }))
  return planning.windows.flatMap((window) => {
    const shut = window.place === 'track' ? [...breaks, ...planning.closed] : breaks
    const open = shut.reduce<Window[]>(without, [window])
    return window.place === 'track' ? planning.shared.reduce(withShared, open) : open
  })
}

/** Windows without a break. */
const without = (windows: readonly Window[], pause: Span): Window[] =>
  windows.flatMap((window) => {
    if (pause.to <= window.from || pause.from >= window.to) return [window]
    return [
      ...(window.from < pause.from ? [{ ...window, to: pause.from }] : []),
      ...(pause.to < window.to ? [{ ...window, from: pause.to }] : []),
    ]
  })

/** Windows of which some time is shared: split there, with the number of cars that may be out. */
const withShared = (windows: readonly Window[], { from, to, maxCars }: Span & { maxCars: number }): Window[] => [
  ...without(windows, { from, to }),
  ...windows.flatMap((window) => {
    const [start, end] = [window.from > from ? window.from : from, window.to < to ? window.to : to]
    return start < end ? [{ ...window, from: start, to: end, maxCars: Math.min(maxCars, window.maxCars ?? maxCars) }] : []
  }),
]

/** Students' own cars: who brings one drives it. */
const ownCarOf = (studentId: string, cars: readonly Car[], schoolCars: KnownPeople['schoolCars']): { carIds?: string[] } => {
  const own = schoolCars.find((c) => c.studentId === studentId && cars.some((car) => car.id === c.id))
  return own ? { carIds: [own.id] } : {}
}

/** Who may take a car, by name; null where everybody may. */
const driversOf = (
  carId: string,
  students: readonly Pick<Student, 'id' | 'level'>[],
  schoolCars: KnownPeople['schoolCars'],
): string[] | null => {
  const car = schoolCars.find((c) => c.id === carId)
  if (!car) return null
  const drivers = students.filter((s) => mayDrive(car, s)).map((s) => s.id)
  return drivers.length === students.length ? null : drivers
}

/** Id of a student's own line in the run list, for a session in which everybody drives. */
export const lineId = ({ formatId, start }: PlannedSession, studentId: string): string => `${formatId} ${start} ${studentId}`

/** Id of the line in the run list that stands for a session which people do together. */
const togetherId = (session: PlannedSession): string => `${session.formatId} ${session.start} ${session.groupId}`

/** Whether a student is in what a line of the run list is for; null where no plan knows. */
export const isInSlot = (slot: Pick<Slot, 'id'>, sessions: readonly PlannedSession[], studentId: string): boolean | null => {
  const session = sessions.find((s) => togetherId(s) === slot.id)
  return session ? session.seats.some((seat) => seat.studentId === studentId) : null
}

const slotKindOf: Record<FormatKind, (typeof slotKinds)[number]> = {
  briefing: 'briefing',
  walk: 'classroom',
  sighting: 'run',
  'ride-along': 'run',
  'lead-follow': 'run',
  'group-session': 'run',
  released: 'run',
  pad: 'pad',
  'wet-pad': 'pad',
  classroom: 'classroom',
}

/** The run list of a plan: a line for everybody in what is done together, one for each student in what they drive. Ids stay the same for the same session. */
export const slotsOfPlan = (sessions: readonly PlannedSession[], formats: readonly Format[], titleOf: (format: Format) => string): Slot[] =>
  sessions.flatMap((session): Slot[] => {
    const format = formats.find((f) => f.id === session.formatId)
    if (!format) return []
    const kind = slotKindOf[format.kind]
    const common = { start: session.start, end: session.end, kind, title: titleOf(format).slice(0, 80), format: format.kind }
    const instructor = session.instructorId === null ? {} : { instructorId: session.instructorId }
    if (kind === 'briefing' || kind === 'classroom') return [{ id: togetherId(session), ...common, ...instructor }]
    return session.seats.map((seat) => ({
      id: lineId(session, seat.studentId),
      ...common,
      ...instructor,
      studentId: seat.studentId,
      ...(seat.carId === null ? {} : { carId: seat.carId }),
    }))
  })
