import type { FormatKind } from '../day/format-kind.ts'
import type { BrakingSchool } from '../marks/braking-school.ts'

/** A time of day as hh:mm. */
type Clock = string
/** From a time up to another, which no longer belongs to it. */
export type Span = { from: Clock; to: Clock }

/** Places that are open at times of their own. */
export const places = ['track', 'pad', 'classroom'] as const
export type DayPlace = (typeof places)[number]

/** How one thing of the day is run. */
export type Format = {
  id: string
  kind: FormatKind
  /** What the school calls it, where not by its kind. */
  name?: string | undefined
  minutes: number
  place: DayPlace
  /** The time at which it is held for all who are there; who comes later has it later. Null: at any time. */
  at: Clock | null
  /** Students in one session. */
  min: number
  max: number
  /** Whether it needs an instructor, who does nothing else meanwhile. */
  instructor: boolean
  /** A car for each student, one for all of them, or none. */
  cars: 'each' | 'one' | 'none'
  /** The instructor drives ahead in a car of their own. */
  leaderCar: boolean
  /** Time a student needs afterwards to change over (min). */
  change_min: number
  /** Laps of a session; null: as many as fit at the lap time of the group. */
  laps: number | null
  /** Students of different groups may be in one session. */
  mixed: boolean
}

/** Students who drive alike: their own pace, school, and what each of them gets. */
export type PlannedGroup = {
  id: string
  name: string
  pace?: number | undefined
  school?: BrakingSchool | undefined
  /** Predicted lap time at that pace (s). */
  lap_s: number
  /** How often each student gets a format, by its id. */
  wants: Record<string, number>
  /** Pairs of format ids: all of a student's sessions of the first end before any of the second begins. */
  order: [string, string][]
}

export type PlannedStudent = {
  id: string
  groupId: string
  arrives?: Clock | undefined
  leaves?: Clock | undefined
  /** Cars that this student takes and no others; two who share a car both name it. */
  carIds?: string[] | undefined
  language?: string | undefined
  /** Size of the helmet that is lent; without one the student brings their own. */
  helmet?: string | undefined
  /** What this student gets instead of what the group gets, by format id. */
  wants?: Record<string, number> | undefined
  /** Formats that were done before this plan, e.g. a briefing. */
  done?: string[] | undefined
}

export type PlannedInstructor = {
  id: string
  /** Groups they teach; all where empty. */
  groupIds: string[]
  /** Cars they teach in; all where empty. */
  carIds: string[]
  languages: string[]
  from?: Clock | undefined
  to?: Clock | undefined
  breaks: Span[]
}

export type PlannedCar = {
  id: string
  /** Who may take it; everybody where both are empty. */
  groupIds: string[]
  studentIds: string[]
  /** Time it stands after each use (min). */
  cooling_min: number
  /** Laps that a tank lasts; null: more than a day. */
  fuel_laps: number | null
  /** Time that filling takes (min); any pause of this length fills it. */
  refuel_min: number
  /** When it cannot be used. */
  out: Span[]
}

/** When a place is open; `maxCars`: cars that may be out at once then, e.g. where the circuit is shared with others. */
export type Window = Span & { place: DayPlace; maxCars?: number | undefined }

/** Rules that hold (null or 0: switched off) and what each unit of what is disliked costs (0: nobody minds). */
export type DayRules = {
  /** From the end of a drive to the next one of the same student (min). */
  restBetweenDrives_min: number
  /** From the end of the last drive to an early departure (min). */
  beforeLeaving_min: number
  maxCarsOut: number | null
  oneGroupOnTrack: boolean
  briefingFirst: boolean
  sightingFirst: boolean
  lunch: { from: Clock; to: Clock; minutes: number } | null
  /** Helmets to lend by size, radios and loggers that can be in use at once; null: enough. */
  helmets: Record<string, number> | null
  radios: number | null
  loggers: number | null
  /** A student's instructor speaks their language. */
  languages: boolean
  /** More than one student in a car, on sighting laps only. */
  passengers: boolean
  /** Nobody's last drive of the day is at a higher pace than the one before it. */
  lastNotFaster: boolean
  cost: DayCosts
}

/** Costs in minutes of waiting that one would accept to avoid the thing. */
export type DayCosts = {
  /** Per minute of a wait beyond `free_min`, and on top of it beyond `long_min`. */
  wait: { free_min: number; each: number; long_min: number; more: number }
  /** A student's drive with another instructor than their first one. */
  otherInstructor: number
  /** A wish for or against an instructor that is not met, per drive. */
  wish: number
  /** Per busy step over `busy_min` in any `within_min` of an instructor. */
  rest: { busy_min: number; within_min: number; each: number }
  /** Difference between the instructors with most and fewest sessions. */
  unevenLoad: number
  /** The track goes over to another group. */
  groupChange: number
  /** Per lap beyond one by which laps differ within a group. */
  unevenLaps: number
  /** A session that somebody does not get. */
  leftOut: number
  /** A session of somebody that was announced for another time. */
  moved: number
  /** A wet exercise outside rain, or any other exercise in it, per session. */
  wrongWeather: number
}

/** A session of a plan. `seats`: who is in it and in which car. */
export type PlannedSession = {
  formatId: string
  groupId: string
  start: Clock
  end: Clock
  instructorId: string | null
  seats: { studentId: string; carId: string | null }[]
  leaderCarId: string | null
}

/** What tells a session from all others of its day, also after it was read again. */
export const sessionKey = ({ formatId, groupId, start, seats }: PlannedSession): string =>
  `${formatId} ${groupId} ${start} ${seats.map((seat) => seat.studentId).join(' ')}`

/** All that a day is planned from. */
export type DaySetup = {
  /** The day, yyyy-mm-dd. */
  date: string
  from: Clock
  to: Clock
  /** Sessions begin at whole steps after the day's beginning, and take whole steps (min). */
  step_min: number
  students: PlannedStudent[]
  instructors: PlannedInstructor[]
  cars: PlannedCar[]
  groups: PlannedGroup[]
  formats: Format[]
  windows: Window[]
  pairs: { studentId: string; instructorId: string; wish: 'keep' | 'avoid' }[]
  /** When rain is due. */
  rain: Span[]
  rules: DayRules
  /** Sessions that were driven or are locked: they stay as they are. */
  kept: PlannedSession[]
  /** Sessions that people were told of. */
  announced: PlannedSession[]
  /** Nothing but what is kept begins before. */
  now: Clock | null
}

/** Rules as most schools have them. */
export const usualRules: DayRules = {
  restBetweenDrives_min: 30,
  beforeLeaving_min: 15,
  maxCarsOut: null,
  oneGroupOnTrack: true,
  briefingFirst: true,
  sightingFirst: true,
  lunch: { from: '12:00', to: '14:00', minutes: 30 },
  helmets: null,
  radios: null,
  loggers: null,
  languages: false,
  passengers: false,
  lastNotFaster: true,
  cost: {
    wait: { free_min: 30, each: 0.25, long_min: 60, more: 0.75 },
    otherInstructor: 30,
    wish: 30,
    rest: { busy_min: 80, within_min: 90, each: 3 },
    unevenLoad: 5,
    groupChange: 4,
    unevenLaps: 10,
    leftOut: 300,
    moved: 10,
    wrongWeather: 60,
  },
}

/** Formats as they are usually run, to begin with. */
export const usualFormats: Record<FormatKind, Omit<Format, 'id'>> = (() => {
  const usual = (kind: FormatKind, minutes: number, place: DayPlace, change: Partial<Format>): Omit<Format, 'id'> => ({
    kind,
    minutes,
    place,
    at: null,
    min: 1,
    max: 1,
    instructor: true,
    cars: 'none',
    leaderCar: false,
    change_min: 0,
    laps: null,
    mixed: false,
    ...change,
  })
  return {
    briefing: usual('briefing', 30, 'classroom', { max: 200, mixed: true }),
    walk: usual('walk', 40, 'track', { max: 40, laps: 0 }),
    sighting: usual('sighting', 10, 'track', { max: 3, cars: 'one', change_min: 5, laps: 2 }),
    'ride-along': usual('ride-along', 20, 'track', { cars: 'each', change_min: 5 }),
    'lead-follow': usual('lead-follow', 20, 'track', { min: 2, max: 5, cars: 'each', leaderCar: true, change_min: 5 }),
    'group-session': usual('group-session', 20, 'track', { max: 12, cars: 'each', change_min: 5 }),
    released: usual('released', 20, 'track', { max: 12, cars: 'each', change_min: 5 }),
    pad: usual('pad', 30, 'pad', { max: 6, change_min: 5, laps: 0, mixed: true }),
    'wet-pad': usual('wet-pad', 30, 'pad', { max: 6, change_min: 5, laps: 0, mixed: true }),
    classroom: usual('classroom', 20, 'classroom', { max: 40, mixed: true }),
  }
})()
