import { minutesOf } from '../day/check-day.ts'
import { driveKinds } from '../day/format-kind.ts'
import type { DaySetup, Format, PlannedGroup, Span, Window } from './setup.ts'

/** A setup as numbers: people, cars and formats by index, time in whole steps from the day's beginning. */
export type Model = {
  setup: DaySetup
  /** Steps of the day. */
  steps: number
  /** First step at which something new may begin. */
  now: number
  /** Presence of each student, in steps. */
  arrives: Int16Array
  leaves: Int16Array
  /** Latest end of a drive of each student. */
  driveBy: Int16Array
  groupOf: Int16Array
  /** Sessions that a student still wants of a format, at `student * formats + format`. */
  wants: Int16Array
  /** 1 where a student needs that format before a drive and has not had it: by kind. */
  needsBriefing: Uint8Array
  needsSighting: Uint8Array
  /** Size of the helmet to lend, an index into `helmets`; −1: none. */
  helmetOf: Int16Array
  helmets: Int16Array
  /** 1 where an instructor may teach a group, at `instructor * groups + group`; speaks to a student, at `instructor * students + student`. */
  teaches: Uint8Array
  speaks: Uint8Array
  /** Wish of a student for an instructor: 1 keep, −1 avoid, at `student * instructors + instructor`; 1 in `hasKeep` where there is any. */
  wish: Int8Array
  hasKeep: Uint8Array
  /** 1 where an instructor is there and has no break, at `instructor * steps + step`. */
  instructorOpen: Uint8Array
  /** Hours of each instructor, in steps. */
  instructorFrom: Int16Array
  instructorTo: Int16Array
  /** 1 where an instructor may teach in a car, at `instructor * cars + car`. */
  teachesIn: Uint8Array
  /** 1 where a student may take a car, at `car * students + student`; where it may be the leader's. */
  mayTake: Uint8Array
  mayLead: Uint8Array
  /** 1 where a car can be used, at `car * steps + step`. */
  carOpen: Uint8Array
  cooling: Int16Array
  /** 1 where a place is open, by step. */
  open: { track: Uint8Array; pad: Uint8Array; classroom: Uint8Array }
  /** Cars that may be out at a step. */
  maxCars: Int16Array
  formats: ModelFormat[]
  /** Laps of a session of a format and group, at `format * groups + group`. */
  laps: Int16Array
  /** Pairs of format indices per group: all of the first before any of the second. */
  order: (readonly [number, number])[][]
  lunch: { from: number; to: number; steps: number } | null
  rain: Uint8Array
}

/** A format with its times in steps. */
type ModelFormat = Format & {
  steps: number
  change: number
  isDrive: boolean
  /** Students that a session holds at most, by the rule on passengers too. */
  seats: number
  /** The instructor sits in the student's car. */
  besides: boolean
  /** Step at which it is held for whoever is there; −1: at any time. */
  fixedAt: number
}

const up = (minutes: number, step_min: number): number => Math.ceil(minutes / step_min - 1e-9)

/** Laps that a session of a format has for a group. */
export const lapsOf = (format: Pick<Format, 'laps' | 'minutes'>, group: Pick<PlannedGroup, 'lap_s'>): number =>
  format.laps ?? Math.floor((60 * format.minutes) / group.lap_s)

/** Times of a day as its steps. */
type Clockwork = {
  steps: number
  stepFrom: (clock: string) => number
  stepTo: (clock: string) => number
  touch: (marks: Uint8Array, base: number, span: Span, value: number) => void
}

const clockworkOf = ({ from, to, step_min }: DaySetup): Clockwork => {
  const from_min = minutesOf(from)
  const steps = Math.floor((minutesOf(to) - from_min) / step_min)
  const within = (step: number): number => Math.min(steps, Math.max(0, step))
  /** First step at or after a time, and last step whose beginning is at or before it. */
  const stepFrom = (clock: string): number => within(up(minutesOf(clock) - from_min, step_min))
  const stepTo = (clock: string): number => within(Math.floor((minutesOf(clock) - from_min) / step_min))
  return {
    steps,
    stepFrom,
    stepTo,
    /** Marks the steps that touch a span. */
    touch: (marks, base, span, value) => {
      for (let t = stepTo(span.from); t < stepFrom(span.to); t++) marks[base + t] = value
    },
  }
}

type StudentNumbers = Pick<
  Model,
  'arrives' | 'leaves' | 'driveBy' | 'groupOf' | 'wants' | 'needsBriefing' | 'needsSighting' | 'helmetOf' | 'helmets'
>

const studentNumbers = (setup: DaySetup, { steps, stepFrom, stepTo }: Clockwork): StudentNumbers => {
  const { students, groups, formats, rules, step_min } = setup
  const groupIndex = new Map(groups.map((g, k) => [g.id, k]))
  const groupOf = Int16Array.from(students, (s) => groupIndex.get(s.groupId) ?? 0)
  const leaves = Int16Array.from(students, (s) => (s.leaves === undefined ? steps : stepTo(s.leaves)))
  const wants = new Int16Array(students.length * formats.length)
  for (const [s, student] of students.entries())
    for (const [f, format] of formats.entries()) {
      const wanted = student.wants?.[format.id] ?? (student.wants ? 0 : (groups[groupOf[s]].wants[format.id] ?? 0))
      wants[s * formats.length + f] = student.done?.includes(format.id) ? 0 : wanted
    }
  const wantsKind = (s: number, kind: Format['kind']): number =>
    formats.some((format, f) => format.kind === kind && wants[s * formats.length + f] > 0) ? 1 : 0
  const sizes = Object.keys(rules.helmets ?? {})
  return {
    arrives: Int16Array.from(students, (s) => (s.arrives === undefined ? 0 : stepFrom(s.arrives))),
    leaves,
    driveBy: leaves.map((leave) => (leave < steps ? leave - up(rules.beforeLeaving_min, step_min) : leave)),
    groupOf,
    wants,
    needsBriefing: Uint8Array.from(students, (_, s) => (rules.briefingFirst ? wantsKind(s, 'briefing') : 0)),
    needsSighting: Uint8Array.from(students, (_, s) => (rules.sightingFirst ? wantsKind(s, 'sighting') : 0)),
    helmetOf: Int16Array.from(students, (s) => (s.helmet === undefined ? -1 : sizes.indexOf(s.helmet))),
    helmets: Int16Array.from(sizes, (size) => rules.helmets?.[size] ?? 0),
  }
}

type InstructorNumbers = Pick<
  Model,
  'teaches' | 'speaks' | 'wish' | 'hasKeep' | 'instructorOpen' | 'instructorFrom' | 'instructorTo' | 'teachesIn'
>

const instructorNumbers = (setup: DaySetup, { steps, stepFrom, stepTo, touch }: Clockwork): InstructorNumbers => {
  const { students, instructors, cars, groups, rules } = setup
  const instructorOpen = new Uint8Array(instructors.length * steps)
  const instructorFrom = Int16Array.from(instructors, (i) => (i.from === undefined ? 0 : stepFrom(i.from)))
  const instructorTo = Int16Array.from(instructors, (i) => (i.to === undefined ? steps : stepTo(i.to)))
  for (const [i, { breaks }] of instructors.entries()) {
    instructorOpen.fill(1, i * steps + instructorFrom[i], i * steps + instructorTo[i])
    for (const span of breaks) touch(instructorOpen, i * steps, span, 0)
  }
  const wish = new Int8Array(students.length * instructors.length)
  for (const pair of setup.pairs) {
    const [s, i] = [students.findIndex((x) => x.id === pair.studentId), instructors.findIndex((x) => x.id === pair.instructorId)]
    if (s >= 0 && i >= 0) wish[s * instructors.length + i] = pair.wish === 'keep' ? 1 : -1
  }
  /** 1 where a list is empty, which means all, or has the id. */
  const covers = (ids: readonly string[], id: string): number => (ids.length === 0 || ids.includes(id) ? 1 : 0)
  return {
    instructorOpen,
    instructorFrom,
    instructorTo,
    wish,
    hasKeep: Uint8Array.from(students, (_, s) => (wish.subarray(s * instructors.length, (s + 1) * instructors.length).includes(1) ? 1 : 0)),
    teaches: Uint8Array.from(instructors.flatMap((i) => groups.map((g) => covers(i.groupIds, g.id)))),
    teachesIn: Uint8Array.from(instructors.flatMap((i) => cars.map((c) => covers(i.carIds, c.id)))),
    speaks: Uint8Array.from(
      instructors.flatMap((i) => students.map((s) => (!rules.languages || s.language === undefined ? 1 : covers(i.languages, s.language)))),
    ),
  }
}

type PlaceNumbers = Pick<Model, 'mayTake' | 'mayLead' | 'carOpen' | 'cooling' | 'open' | 'maxCars' | 'rain' | 'lunch' | 'now'>

const placeNumbers = (setup: DaySetup, clockwork: Clockwork): PlaceNumbers => {
  const { students, cars, rules, step_min } = setup
  const { steps, stepFrom, stepTo, touch } = clockwork
  const open = { track: new Uint8Array(steps), pad: new Uint8Array(steps), classroom: new Uint8Array(steps) }
  const maxCars = new Int16Array(steps).fill(rules.maxCarsOut ?? 1000)
  for (const window of setup.windows) openWindow(window, open, maxCars, clockwork)
  const carOpen = new Uint8Array(cars.length * steps).fill(1)
  for (const [c, { out }] of cars.entries()) for (const span of out) touch(carOpen, c * steps, span, 0)
  const rain = new Uint8Array(steps)
  for (const span of setup.rain) touch(rain, 0, span, 1)
  const { lunch } = rules
  return {
    mayTake: Uint8Array.from(cars.flatMap((car) => students.map((s) => (mayTakeCar(car, s) ? 1 : 0)))),
    mayLead: Uint8Array.from(cars, (car) => (car.studentIds.length === 0 ? 1 : 0)),
    carOpen,
    cooling: Int16Array.from(cars, (car) => up(car.cooling_min, step_min)),
    open,
    maxCars,
    rain,
    lunch: lunch ? { from: stepFrom(lunch.from), to: stepTo(lunch.to), steps: up(lunch.minutes, step_min) } : null,
    now: setup.now === null ? 0 : stepFrom(setup.now),
  }
}

/** Numbers of a setup that `checkSetup` has found to be in order. Cost grows with people times steps. */
export const modelOf = (setup: DaySetup): Model => {
  const { groups, formats, rules, step_min } = setup
  const clockwork = clockworkOf(setup)
  const formatIndex = new Map(formats.map((f, k) => [f.id, k]))
  return {
    setup,
    steps: clockwork.steps,
    ...studentNumbers(setup, clockwork),
    ...instructorNumbers(setup, clockwork),
    ...placeNumbers(setup, clockwork),
    formats: formats.map((format) => ({
      ...format,
      steps: up(format.minutes, step_min),
      change: up(format.change_min, step_min),
      isDrive: driveKinds.has(format.kind),
      fixedAt: format.at === null ? -1 : clockwork.stepFrom(format.at),
      seats: format.cars === 'one' && !rules.passengers ? 1 : format.max,
      besides:
        format.instructor && format.cars !== 'none' && !format.leaderCar && (format.kind === 'ride-along' || format.kind === 'sighting'),
    })),
    laps: Int16Array.from(formats.flatMap((format) => groups.map((group) => lapsOf(format, group)))),
    order: groups.map((g) =>
      g.order.flatMap(([a, b]) => {
        const [first, second] = [formatIndex.get(a), formatIndex.get(b)]
        return first === undefined || second === undefined ? [] : [[first, second] as const]
      }),
    ),
  }
}

/** Whether a student may take a car: it is open to them by name or group or to all, and the student keeps to no other. */
export const mayTakeCar = (
  car: Pick<DaySetup['cars'][number], 'id' | 'studentIds' | 'groupIds'>,
  student: Pick<DaySetup['students'][number], 'id' | 'groupId' | 'carIds'>,
): boolean => {
  if (student.carIds && student.carIds.length > 0 && !student.carIds.includes(car.id)) return false
  if (car.studentIds.length === 0 && car.groupIds.length === 0) return true
  return car.studentIds.includes(student.id) || car.groupIds.includes(student.groupId)
}

const openWindow = (window: Window, open: Model['open'], maxCars: Int16Array, { stepFrom, stepTo }: Clockwork): void => {
  for (let t = stepFrom(window.from); t < stepTo(window.to); t++) {
    open[window.place][t] = 1
    if (window.place === 'track' && window.maxCars !== undefined) maxCars[t] = Math.min(maxCars[t], window.maxCars)
  }
}
