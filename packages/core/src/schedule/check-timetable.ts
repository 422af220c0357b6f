import { minutesOf } from '../day/check-day.ts'
import { driveKinds } from '../day/format-kind.ts'
import { lapsOf, mayTakeCar } from './model.ts'
import { type DaySetup, type Format, type PlannedSession, type PlannedStudent, sessionKey } from './setup.ts'

/** Hard rules of a day, by name. */
export const dayRuleNames = [
  'unknown',
  'times',
  'seats',
  'group',
  'place-closed',
  'place-twice',
  'groups-mixed',
  'student-away',
  'student-twice',
  'rest',
  'leaving',
  'order',
  'briefing-first',
  'sighting-first',
  'lunch',
  'instructor-away',
  'instructor-twice',
  'instructor-group',
  'instructor-car',
  'instructor-language',
  'car-missing',
  'car-not-allowed',
  'car-out',
  'car-twice',
  'fuel',
  'cars-out',
  'helmets',
  'radios',
  'loggers',
  'before-now',
  'fixed-time',
] as const
export type DayRuleName = (typeof dayRuleNames)[number]

/** A hard rule that a plan breaks: which, when, whom or what it concerns, and in which sessions (their keys). */
export type Broken = { rule: DayRuleName; at: string; who: string; of: readonly string[] }

/** A session with its times in minutes and what it names looked up. */
type Looked = PlannedSession & { from: number; to: number; format: Format; students: PlannedStudent[]; cars: string[] }

const overlaps = (a: { from: number; to: number }, b: { from: number; to: number }): boolean => a.from < b.to && b.from < a.to

/**
 * Hard rules that a plan breaks, found from the plan alone, in minutes and without anything of the search. Kept sessions are taken as
 * they are: what they break among themselves is not told. Cost grows with the square of sessions.
 */
export const checkTimetable = (setup: DaySetup, sessions: readonly PlannedSession[]): Broken[] => {
  const broken: Broken[] = []
  const looked: Looked[] = []
  for (const session of sessions) {
    const found = lookUp(setup, session)
    if (found) looked.push(found)
    else broken.push({ rule: 'unknown', at: session.start, who: session.formatId, of: [sessionKey(session)] })
  }
  const isKept = (session: PlannedSession): boolean =>
    setup.kept.some((k) => k.formatId === session.formatId && k.start === session.start && sameSeats(k, session))
  const tell = (rule: DayRuleName, session: Looked, who: string, other?: Looked): void => {
    if (!isKept(session) || (other !== undefined && !isKept(other)))
      broken.push({ rule, at: session.start, who, of: [session, ...(other ? [other] : [])].map(sessionKey) })
  }
  for (const session of looked) {
    checkAlone(setup, session, tell)
    checkInstructor(setup, session, tell)
    checkCars(setup, session, tell)
  }
  for (const [k, one] of looked.entries()) for (const other of looked.slice(k + 1)) checkPair(setup, one, other, tell)
  for (const student of setup.students) checkStudent(setup, student, looked, { tell, isKept, broken })
  for (const instructor of setup.instructors) {
    const own = looked.filter((s) => s.instructorId === instructor.id)
    const hours = { from: minutesOf(instructor.from ?? setup.from), to: minutesOf(instructor.to ?? setup.to) }
    if (own.some((s) => !isKept(s)) && !lunchFits(setup, own, hours))
      broken.push({ rule: 'lunch', at: setup.from, who: instructor.id, of: own.map(sessionKey) })
  }
  for (const car of setup.cars) checkFuel(setup, car, looked, tell)
  checkLent(setup, looked, tell)
  return broken
}

type Tell = (rule: DayRuleName, session: Looked, who: string, other?: Looked) => void

const sameSeats = (a: PlannedSession, b: PlannedSession): boolean =>
  a.instructorId === b.instructorId &&
  a.seats.length === b.seats.length &&
  a.seats.every((seat, k) => seat.studentId === b.seats[k].studentId)

const lookUp = (setup: DaySetup, session: PlannedSession): Looked | null => {
  const format = setup.formats.find((f) => f.id === session.formatId)
  const students = session.seats.map((seat) => setup.students.find((s) => s.id === seat.studentId))
  if (!format || students.some((s) => s === undefined)) return null
  const seatCars = session.seats.flatMap((seat) => seat.carId ?? [])
  const cars = [...(format.cars === 'one' ? new Set(seatCars) : seatCars), ...(session.leaderCarId === null ? [] : [session.leaderCarId])]
  return {
    ...session,
    from: minutesOf(session.start),
    to: minutesOf(session.end),
    format,
    students: students as PlannedStudent[],
    cars,
  }
}

const checkAlone = (setup: DaySetup, session: Looked, tell: Tell): void => {
  const { format, students, from, to } = session
  const day = { from: minutesOf(setup.from), to: minutesOf(setup.to) }
  if (to - from !== format.minutes || from < day.from || to > day.to || (from - day.from) % setup.step_min !== 0)
    tell('times', session, format.id)
  const most = format.cars === 'one' && !setup.rules.passengers ? 1 : format.max
  if (students.length < format.min || students.length > most) tell('seats', session, format.id)
  if (format.at !== null) {
    const held = minutesOf(format.at)
    if (from < held || (from > held && students.some((s) => minutesOf(s.arrives ?? setup.from) <= held)))
      tell('fixed-time', session, format.id)
  }
  if (!format.mixed) for (const s of students) if (s.groupId !== session.groupId) tell('group', session, s.id)
  if (setup.now !== null && from < minutesOf(setup.now)) tell('before-now', session, format.id)
  // A place is open where its windows, joined, cover the whole session.
  let reached = from
  const windows = setup.windows
    .filter((w) => w.place === format.place)
    .map((w) => ({ from: minutesOf(w.from), to: minutesOf(w.to) }))
    .sort((a, b) => a.from - b.from)
  for (const w of windows) if (w.from <= reached) reached = Math.max(reached, w.to)
  if (reached < to) tell('place-closed', session, format.place)
}

const checkInstructor = (setup: DaySetup, session: Looked, tell: Tell): void => {
  const { format, students, instructorId } = session
  if (!format.instructor) return
  const instructor = setup.instructors.find((i) => i.id === instructorId)
  if (!instructor) {
    tell('instructor-away', session, 'nobody')
    return
  }
  const hours = { from: minutesOf(instructor.from ?? setup.from), to: minutesOf(instructor.to ?? setup.to) }
  const breaks = instructor.breaks.map((b) => ({ from: minutesOf(b.from), to: minutesOf(b.to) }))
  if (session.from < hours.from || session.to > hours.to || breaks.some((b) => overlaps(session, b)))
    tell('instructor-away', session, instructor.id)
  for (const s of students) {
    if (instructor.groupIds.length > 0 && !instructor.groupIds.includes(s.groupId)) tell('instructor-group', session, instructor.id)
    if (setup.rules.languages && s.language !== undefined && instructor.languages.length > 0 && !instructor.languages.includes(s.language))
      tell('instructor-language', session, instructor.id)
  }
  const beside = format.kind === 'ride-along' || format.kind === 'sighting' ? session.seats.flatMap((seat) => seat.carId ?? []) : []
  const driven = session.leaderCarId === null ? beside : [...beside, session.leaderCarId]
  if (instructor.carIds.length > 0 && driven.some((car) => !instructor.carIds.includes(car))) tell('instructor-car', session, instructor.id)
}

const checkCars = (setup: DaySetup, session: Looked, tell: Tell): void => {
  const { format, seats, students, leaderCarId } = session
  const carOf = (id: string | null) => setup.cars.find((c) => c.id === id)
  if (format.cars !== 'none')
    for (const [k, seat] of seats.entries()) {
      const car = carOf(seat.carId)
      if (!car) tell('car-missing', session, seat.studentId)
      else if (!mayTakeCar(car, students[k])) tell('car-not-allowed', session, seat.studentId)
    }
  if (format.cars === 'one' && new Set(seats.map((seat) => seat.carId)).size > 1) tell('seats', session, format.id)
  if (format.cars === 'each' && new Set(session.cars).size < session.cars.length) tell('car-twice', session, format.id)
  if (format.leaderCar) {
    const car = carOf(leaderCarId)
    if (!car) tell('car-missing', session, 'the leader')
    else if (car.studentIds.length > 0) tell('car-not-allowed', session, 'the leader')
  }
  for (const id of session.cars)
    for (const span of carOf(id)?.out ?? [])
      if (overlaps(session, { from: minutesOf(span.from), to: minutesOf(span.to) })) tell('car-out', session, id)
}

const checkPair = (setup: DaySetup, one: Looked, other: Looked, tell: Tell): void => {
  const atOnce = overlaps(one, other)
  if (atOnce && one.instructorId !== null && one.instructorId === other.instructorId && one.format.instructor && other.format.instructor)
    tell('instructor-twice', one, one.instructorId, other)
  if (atOnce && one.format.place === other.format.place) {
    if (one.format.place !== 'track') tell('place-twice', one, one.format.place, other)
    else if (setup.rules.oneGroupOnTrack && one.groupId !== other.groupId) tell('groups-mixed', one, one.groupId, other)
  }
  for (const id of one.cars) {
    if (!other.cars.includes(id)) continue
    const cooling = setup.cars.find((c) => c.id === id)?.cooling_min ?? 0
    const [first, second] = one.from <= other.from ? [one, other] : [other, one]
    // Cooling is counted in whole steps, like everything that lasts.
    if (second.from < first.to + whole(cooling, setup.step_min)) tell('car-twice', one, id, other)
  }
}

const whole = (minutes: number, step_min: number): number => Math.ceil(minutes / step_min) * step_min

type Telling = { tell: Tell; isKept: (session: PlannedSession) => boolean; broken: Broken[] }

const checkStudent = (setup: DaySetup, student: PlannedStudent, all: readonly Looked[], { tell, isKept, broken }: Telling): void => {
  const { rules } = setup
  const own = all.filter((s) => s.students.includes(student)).sort((a, b) => a.from - b.from)
  const here = { from: minutesOf(student.arrives ?? setup.from), to: minutesOf(student.leaves ?? setup.to) }
  const early = here.to < minutesOf(setup.to)
  const wants = (kind: Format['kind']): boolean =>
    setup.formats.some((f) => f.kind === kind && !student.done?.includes(f.id) && wantsOf(setup, student, f.id) > 0)
  const had = (kind: Format['kind'], by: number): boolean => own.some((s) => s.format.kind === kind && s.to <= by)
  const drives = own.filter((s) => driveKinds.has(s.format.kind))
  for (const [k, session] of own.entries()) {
    const { kind, cars } = session.format
    if (session.from < here.from || session.to > here.to) tell('student-away', session, student.id)
    const next = own[k + 1]
    if (next && next.from < session.to + whole(session.format.change_min, setup.step_min)) tell('student-twice', session, student.id, next)
    const rolls = cars !== 'none' || kind === 'pad' || kind === 'wet-pad'
    if (rules.briefingFirst && rolls && wants('briefing') && !had('briefing', session.from)) tell('briefing-first', session, student.id)
  }
  for (const [k, drive] of drives.entries()) {
    if (early && drive.to > here.to - rules.beforeLeaving_min) tell('leaving', drive, student.id)
    const next = drives[k + 1]
    if (next && next.from - drive.to < rules.restBetweenDrives_min) tell('rest', drive, student.id, next)
    if (rules.sightingFirst && wants('sighting') && !had('sighting', drive.from)) tell('sighting-first', drive, student.id)
  }
  const group = setup.groups.find((g) => g.id === student.groupId)
  for (const [first, second] of group?.order ?? [])
    for (const before of own.filter((s) => s.formatId === first))
      for (const after of own.filter((s) => s.formatId === second)) if (after.from < before.to) tell('order', after, student.id, before)
  const changes = own.map((s) => ({ ...s, to: s.to + whole(s.format.change_min, setup.step_min) }))
  if (own.some((s) => !isKept(s)) && !lunchFits(setup, changes, here))
    broken.push({ rule: 'lunch', at: setup.from, who: student.id, of: own.map(sessionKey) })
}

/** How often a student gets a format: as they wish, else as their group does. */
export const wantsOf = (setup: DaySetup, student: PlannedStudent, formatId: string): number =>
  student.wants ? (student.wants[formatId] ?? 0) : (setup.groups.find((g) => g.id === student.groupId)?.wants[formatId] ?? 0)

/** Whether somebody's sessions leave time for lunch in its window while they are there. */
const lunchFits = (setup: DaySetup, own: readonly { from: number; to: number }[], here: { from: number; to: number }): boolean => {
  const { lunch } = setup.rules
  if (!lunch) return true
  // Presence and window are counted in whole steps of the day.
  const day = minutesOf(setup.from)
  const from = day + whole(Math.max(minutesOf(lunch.from), here.from) - day, setup.step_min)
  const to = day + setup.step_min * Math.floor((Math.min(minutesOf(lunch.to), here.to) - day) / setup.step_min)
  if (to - from < lunch.minutes) return true
  const sorted = [...own].sort((a, b) => a.from - b.from)
  let free = from
  for (const session of sorted) {
    if (session.from >= free && Math.min(session.from, to) - free >= lunch.minutes) return true
    free = Math.max(free, session.to)
  }
  return to - free >= lunch.minutes
}

const checkFuel = (setup: DaySetup, car: DaySetup['cars'][number], all: readonly Looked[], tell: Tell): void => {
  if (car.fuel_laps === null) return
  const uses = all.filter((s) => s.cars.includes(car.id)).sort((a, b) => a.from - b.from)
  let laps = 0
  let end = Number.NEGATIVE_INFINITY
  for (const use of uses) {
    if (use.from - end >= car.refuel_min) laps = 0
    const group = setup.groups.find((g) => g.id === use.groupId)
    laps += group ? lapsOf(use.format, group) : 0
    if (laps > car.fuel_laps) tell('fuel', use, car.id)
    end = use.to
  }
}

/** What is in use at once: cars on the track, helmets, radios, loggers. It only grows where a session begins or a window does. */
const checkLent = (setup: DaySetup, all: readonly Looked[], tell: Tell): void => {
  const { rules, windows } = setup
  const moments = new Set([...all.map((s) => s.from), ...windows.map((w) => minutesOf(w.from))])
  for (const at of moments) {
    const now = all.filter((s) => s.from <= at && at < s.to)
    const first = now[0]
    if (!first) continue
    const last = now.reduce((latest, s) => (s.from > latest.from ? s : latest), first)
    const onTrack = now.filter((s) => s.format.place === 'track')
    const limits = windows.flatMap((w) =>
      w.place === 'track' && w.maxCars !== undefined && minutesOf(w.from) <= at && at < minutesOf(w.to) ? [w.maxCars] : [],
    )
    const most = Math.min(...limits, rules.maxCarsOut ?? Number.POSITIVE_INFINITY)
    if (onTrack.reduce((sum, s) => sum + s.cars.length, 0) > most) tell('cars-out', last, 'track')
    const each = (sessions: readonly Looked[]): number =>
      sessions.filter((s) => s.format.cars === 'each').reduce((sum, s) => sum + s.seats.length, 0)
    if (rules.radios !== null && each(onTrack) > rules.radios) tell('radios', last, 'radios')
    if (rules.loggers !== null && each(now.filter((s) => driveKinds.has(s.format.kind))) > rules.loggers) tell('loggers', last, 'loggers')
    for (const [size, there] of Object.entries(rules.helmets ?? {})) {
      const lent = now.filter((s) => s.format.cars !== 'none').flatMap((s) => s.students.filter((x) => x.helmet === size))
      if (lent.length > there) tell('helmets', last, size)
    }
  }
}
