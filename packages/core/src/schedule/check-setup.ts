import { minutesOf } from '../day/check-day.ts'
import { CoreError } from '../errors/errors.ts'
import { mayTakeCar } from './model.ts'
import type { DaySetup, Span } from './setup.ts'

/** Most people, cars and steps of a day that is planned. */
const MOST = { students: 120, instructors: 30, cars: 60, groups: 20, formats: 30, steps: 400 } as const

/** What is wrong with a setup, each with its place (as in `students[3].arrives`); a setup without any can be planned. */
export const checkSetup = (setup: DaySetup): CoreError[] => {
  const found: CoreError[] = []
  const tell = (...given: ConstructorParameters<typeof CoreError>): void => void found.push(new CoreError(...given))
  checkDayTimes(setup, tell)
  checkIds(setup, tell)
  if (found.length > 0) return found
  checkPeople(setup, tell)
  checkFormats(setup, tell)
  checkStored(setup, 'kept', tell)
  checkStored(setup, 'announced', tell)
  return found
}

type Tell = (...given: ConstructorParameters<typeof CoreError>) => void

const checkDayTimes = (setup: DaySetup, tell: Tell): void => {
  const [from, to] = [minutesOf(setup.from), minutesOf(setup.to)]
  if (to <= from) tell('day-times', 'to', { from: setup.from, to: setup.to })
  if (!(setup.step_min >= 1 && setup.step_min <= 60))
    tell('setting-range', 'step_min', { field: 'step_min', value: setup.step_min, range: '1 to 60' })
  else if ((to - from) / setup.step_min > MOST.steps)
    tell('day-too-many', 'step_min', { what: 'steps', count: Math.ceil((to - from) / setup.step_min), max: MOST.steps })
  const span = (place: string, { from: a, to: b }: Span): void => {
    if (minutesOf(b) <= minutesOf(a)) tell('day-times', place, { from: a, to: b })
  }
  // Who has no hours of their own has the day's, which are told once.
  const own = (place: string, from: string | undefined, to: string | undefined): void => {
    if (from !== undefined || to !== undefined) span(place, { from: from ?? setup.from, to: to ?? setup.to })
  }
  for (const [k, s] of setup.students.entries()) own(`students[${k}]`, s.arrives, s.leaves)
  for (const [k, i] of setup.instructors.entries()) {
    own(`instructors[${k}]`, i.from, i.to)
    spans(`instructors[${k}].breaks`, i.breaks, span, tell)
  }
  for (const [k, c] of setup.cars.entries()) spans(`cars[${k}].out`, c.out, span, tell)
  for (const [k, w] of setup.windows.entries()) span(`windows[${k}]`, w)
  for (const [k, r] of setup.rain.entries()) span(`rain[${k}]`, r)
  if (setup.rules.lunch) span('rules.lunch', setup.rules.lunch)
}

const spans = (place: string, list: readonly Span[], span: (place: string, one: Span) => void, tell: Tell): void => {
  for (const [k, one] of list.entries()) {
    span(`${place}[${k}]`, one)
    const over = list.find((other, j) => j < k && minutesOf(other.from) < minutesOf(one.to) && minutesOf(one.from) < minutesOf(other.to))
    if (over) tell('day-overlap', `${place}[${k}]`, { from: one.from, to: one.to, other: `${over.from}–${over.to}` })
  }
}

const lists = ['students', 'instructors', 'cars', 'groups', 'formats'] as const

const checkIds = (setup: DaySetup, tell: Tell): void => {
  for (const list of lists) {
    const ids = setup[list].map((one) => one.id)
    if (ids.length > MOST[list]) tell('day-too-many', list, { what: list, count: ids.length, max: MOST[list] })
    for (const [k, id] of ids.entries()) if (ids.indexOf(id) < k) tell('day-twice', `${list}[${k}]`, { what: list, id })
  }
  const known = Object.fromEntries(lists.map((list) => [list, new Set<string>(setup[list].map((one) => one.id))])) as Record<
    (typeof lists)[number],
    Set<string>
  >
  const names = (place: string, list: (typeof lists)[number], ids: readonly string[]): void => {
    for (const id of ids) if (!known[list].has(id)) tell('day-unknown', place, { what: list, id })
  }
  for (const [k, s] of setup.students.entries()) {
    names(`students[${k}].groupId`, 'groups', [s.groupId])
    names(`students[${k}].carIds`, 'cars', s.carIds ?? [])
    names(`students[${k}].wants`, 'formats', Object.keys(s.wants ?? {}))
    names(`students[${k}].done`, 'formats', s.done ?? [])
  }
  for (const [k, i] of setup.instructors.entries()) {
    names(`instructors[${k}].groupIds`, 'groups', i.groupIds)
    names(`instructors[${k}].carIds`, 'cars', i.carIds)
  }
  for (const [k, c] of setup.cars.entries()) {
    names(`cars[${k}].groupIds`, 'groups', c.groupIds)
    names(`cars[${k}].studentIds`, 'students', c.studentIds)
  }
  for (const [k, g] of setup.groups.entries()) {
    names(`groups[${k}].wants`, 'formats', Object.keys(g.wants))
    names(`groups[${k}].order`, 'formats', g.order.flat())
  }
  for (const [k, p] of setup.pairs.entries()) {
    names(`pairs[${k}].studentId`, 'students', [p.studentId])
    names(`pairs[${k}].instructorId`, 'instructors', [p.instructorId])
  }
}

/** A student for whom there is no car at all, an instructor for nobody: said before it is searched for in vain. */
const checkPeople = (setup: DaySetup, tell: Tell): void => {
  const usesCar = new Set(setup.formats.filter((f) => f.cars !== 'none').map((f) => f.id))
  const needsInstructor = new Set(setup.formats.filter((f) => f.instructor).map((f) => f.id))
  for (const [k, student] of setup.students.entries()) {
    const wanted = student.wants ?? setup.groups.find((g) => g.id === student.groupId)?.wants ?? {}
    const ids = Object.keys(wanted).filter((id) => (wanted[id] ?? 0) > 0 && !student.done?.includes(id))
    if (ids.some((id) => usesCar.has(id)) && !setup.cars.some((car) => mayTakeCar(car, student)))
      tell('day-nobody', `students[${k}]`, { what: 'cars', id: student.id })
    const teaching = setup.instructors.filter((i) => i.groupIds.length === 0 || i.groupIds.includes(student.groupId))
    if (ids.some((id) => needsInstructor.has(id)) && teaching.length === 0)
      tell('day-nobody', `students[${k}]`, { what: 'instructors', id: student.id })
  }
}

const checkFormats = (setup: DaySetup, tell: Tell): void => {
  const open_min = minutesOf(setup.to) - minutesOf(setup.from)
  for (const [k, f] of setup.formats.entries()) {
    const range = (field: string, value: number, low: number, high: number): void => {
      if (!(value >= low && value <= high)) tell('setting-range', `formats[${k}].${field}`, { field, value, range: `${low} to ${high}` })
    }
    range('minutes', f.minutes, 1, open_min)
    range('min', f.min, 1, f.max)
    range('max', f.max, 1, 200)
    range('change_min', f.change_min, 0, 120)
  }
  for (const [k, g] of setup.groups.entries()) {
    if (!(g.lap_s > 0 && g.lap_s <= 3600))
      tell('setting-range', `groups[${k}].lap_s`, { field: 'lap_s', value: g.lap_s, range: '1 to 3600' })
    for (const [id, count] of Object.entries(g.wants))
      if (!(count >= 0 && count <= 20)) tell('setting-range', `groups[${k}].wants.${id}`, { field: id, value: count, range: '0 to 20' })
  }
}

/** Stored sessions must name what there is, at whole steps. */
const checkStored = (setup: DaySetup, list: 'kept' | 'announced', tell: Tell): void => {
  const unknown = (what: (typeof lists)[number], id: string | null): boolean => id !== null && !setup[what].some((one) => one.id === id)
  for (const [k, session] of setup[list].entries()) {
    const place = `${list}[${k}]`
    if (unknown('formats', session.formatId)) tell('day-unknown', `${place}.formatId`, { what: 'formats', id: session.formatId })
    // What was announced may name people who are gone; what is kept was really driven.
    if (list === 'announced') continue
    if (unknown('groups', session.groupId)) tell('day-unknown', `${place}.groupId`, { what: 'groups', id: session.groupId })
    for (const seat of session.seats) {
      if (unknown('students', seat.studentId)) tell('day-unknown', `${place}.seats`, { what: 'students', id: seat.studentId })
      if (unknown('cars', seat.carId)) tell('day-unknown', `${place}.seats`, { what: 'cars', id: seat.carId ?? '' })
    }
    if (unknown('instructors', session.instructorId))
      tell('day-unknown', `${place}.instructorId`, { what: 'instructors', id: session.instructorId ?? '' })
    const after_min = minutesOf(session.start) - minutesOf(setup.from)
    if (after_min < 0 || after_min % setup.step_min !== 0) tell('day-times', place, { from: session.start, to: session.end })
  }
}
