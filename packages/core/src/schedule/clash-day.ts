import { boundDay } from './bound-day.ts'
import type { DaySetup } from './setup.ts'

/** Rules that can be given up for a day, the readiest to give up first. */
export const reliefKinds = [
  'order',
  'rest',
  'leaving',
  'lunch',
  'sighting-first',
  'cars-out',
  'cooling',
  'who-may-drive',
  'breaks',
  'who-teaches',
  'one-group',
  'briefing-first',
  'presence',
  'hours',
  'car-number',
  'track-time',
  'instructor-time',
] as const
export type ReliefKind = (typeof reliefKinds)[number]

const withRules = (setup: DaySetup, change: Partial<DaySetup['rules']>): DaySetup => ({ ...setup, rules: { ...setup.rules, ...change } })

/** The day without a rule. */
const without: Record<ReliefKind, (setup: DaySetup) => DaySetup> = {
  order: (setup) => ({ ...setup, groups: setup.groups.map((g) => ({ ...g, order: [] })) }),
  rest: (setup) => withRules(setup, { restBetweenDrives_min: 0 }),
  leaving: (setup) => withRules(setup, { beforeLeaving_min: 0 }),
  lunch: (setup) => withRules(setup, { lunch: null }),
  'sighting-first': (setup) => withRules(setup, { sightingFirst: false }),
  'cars-out': (setup) => ({
    ...withRules(setup, { maxCarsOut: null }),
    windows: setup.windows.map(({ maxCars: _, ...w }) => w),
  }),
  cooling: (setup) => ({ ...setup, cars: setup.cars.map((c) => ({ ...c, cooling_min: 0 })) }),
  'who-may-drive': (setup) => ({
    ...setup,
    students: setup.students.map(({ carIds: _, ...s }) => s),
    cars: setup.cars.map((c) => ({ ...c, groupIds: [], studentIds: [] })),
  }),
  breaks: (setup) => ({ ...setup, instructors: setup.instructors.map((i) => ({ ...i, breaks: [] })) }),
  'who-teaches': (setup) => ({ ...setup, instructors: setup.instructors.map((i) => ({ ...i, groupIds: [], carIds: [] })) }),
  'one-group': (setup) => withRules(setup, { oneGroupOnTrack: false }),
  'briefing-first': (setup) => withRules(setup, { briefingFirst: false }),
  presence: (setup) => ({ ...setup, students: setup.students.map(({ arrives: _, leaves: __, ...s }) => s) }),
  'car-number': (setup) => ({ ...setup, formats: setup.formats.map((f) => ({ ...f, cars: 'none' as const, leaderCar: false })) }),
  'track-time': (setup) => ({
    ...withRules(setup, { oneGroupOnTrack: false }),
    windows: setup.windows.map((w) => (w.place === 'track' ? { ...w, from: setup.from, to: setup.to } : w)),
  }),
  'instructor-time': (setup) => ({ ...setup, formats: setup.formats.map((f) => ({ ...f, instructor: false })) }),
  hours: (setup) => ({ ...setup, instructors: setup.instructors.map(({ from: _, to: __, ...i }) => i) }),
}

/** Rounds of prices for one question; what they do not prove is not said. */
const ROUNDS = 60
/** A bound below this is no proof that anything is left out, but the last digits of one. */
const PROVES = 0.5

const onlyLeftOut = (setup: DaySetup): DaySetup =>
  withRules(setup, {
    cost: {
      ...setup.rules.cost,
      wait: { free_min: 0, each: 0, long_min: 0, more: 0 },
      leftOut: 1,
    },
  })

/**
 * Sessions that any plan leaves out at least, proven (a fraction counts: no plan leaves out less). `above`: what the best plan known
 * leaves out. Only for days without kept sessions.
 */
const leftOutAtLeast = (setup: DaySetup, above: number): number =>
  boundDay(onlyLeftOut(setup), { above, rounds: ROUNDS, stop: ({ cost }) => cost >= above - 1e-6 }).cost

/** Whether a bound proves that something is left out; it goes on only until it does. */
const isProven = (setup: DaySetup, above: number): boolean =>
  boundDay(onlyLeftOut(setup), { above, rounds: ROUNDS, stop: ({ cost }) => cost >= PROVES }).cost >= PROVES

/** Why not everybody gets everything. `rules`: each of them is needed for the clash; `proven`: by a bound. */
export type Clash = { proven: boolean; leftOut: number; rules: ReliefKind[] }

/**
 * Rules that together make a day impossible, such that without any one of them it is no longer proven so (deletion filter in a fixed
 * order). Nothing is said where no bound proves that something must be left out. `stop` ends it early; what is left then may hold more
 * rules than needed. Cost: one bound per rule.
 */
export const clashOf = (setup: DaySetup, leftOut: number, stop: () => boolean = () => false): Clash => {
  const atLeast = leftOut > 0 ? leftOutAtLeast(setup, leftOut) : 0
  if (atLeast < PROVES) return { proven: false, leftOut: 0, rules: [] }
  let left = setup
  const rules: ReliefKind[] = []
  for (const kind of reliefKinds) {
    const eased = without[kind](left)
    if (JSON.stringify(eased) === JSON.stringify(left)) continue
    if (stop() || !isProven(eased, leftOut)) rules.push(kind)
    else left = eased
  }
  return { proven: true, leftOut: atLeast, rules }
}

/** The day without a rule, to be planned as it would be then. */
export const easedBy = (setup: DaySetup, kind: ReliefKind): DaySetup => without[kind](setup)
