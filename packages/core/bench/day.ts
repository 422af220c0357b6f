import { cheapestOfAll, tinyDay } from '../fixtures/every-plan.ts'
import { type DaySize, generatedDay, variedDay } from '../fixtures/generated-day.ts'
import { boundDay } from '../src/schedule/bound-day.ts'
import { checkTimetable } from '../src/schedule/check-timetable.ts'
import { clashOf } from '../src/schedule/clash-day.ts'
import { totalOf } from '../src/schedule/cost.ts'
import { countLoad } from '../src/schedule/count-load.ts'
import { missingIn, solveDay } from '../src/schedule/solve-day.ts'
import { costFromPlan } from '../src/schedule/timetable-cost.test-data.ts'

/** Days that are measured: name, size, seconds of search. */
const days: readonly (readonly [string, DaySize])[] = [
  ...[1, 2, 3].map((seed) => ['12 students, 2 instructors, 4 cars', { students: 12, instructors: 2, cars: 4, seed }] as const),
  ...[1, 2, 3].map((seed) => ['40 students, 4 instructors, 8 cars', { students: 40, instructors: 4, cars: 8, seed }] as const),
  ['40 students, 10-minute rides and lead-follow', { students: 40, instructors: 4, cars: 8, ride_min: 10, follow: true }],
  ['60 students, 8 instructors, 15 cars', { students: 60, instructors: 8, cars: 15, groups: 6 }],
  ['60 students, 10-minute rides and lead-follow', { students: 60, instructors: 8, cars: 15, groups: 6, ride_min: 10, follow: true }],
]

const rounded = (value: number, digits = 1): number => Number(value.toFixed(digits))

/** One day: seconds until nothing is left out, cost and gap. */
const measure = (name: string, size: DaySize, seconds: number) => {
  const setup = generatedDay(size)
  const began = performance.now()
  const elapsed = (): number => (performance.now() - began) / 1000
  let complete_s: number | null = null
  const plan = solveDay(setup, {
    steps: Number.MAX_SAFE_INTEGER,
    stop: () => elapsed() >= seconds,
    onBetter: (better) => {
      if (complete_s === null && missingIn(better) === 0) complete_s = elapsed()
    },
  })
  const searched_s = elapsed()
  const { cost } = boundDay(setup, { above: plan.cost })
  return {
    day: name,
    seed: size.seed ?? 1,
    load: rounded(100 * countLoad(setup).fullest, 0),
    complete_s: complete_s === null ? null : rounded(complete_s),
    leftOut: missingIn(plan),
    broken: checkTimetable(setup, plan.sessions).length,
    cost: rounded(plan.cost, 0),
    seconds: rounded(searched_s),
    movesPerSecond: Math.round(plan.steps / searched_s),
    bound: rounded(cost, 0),
    bound_s: rounded(elapsed() - searched_s),
    gap: rounded((100 * (plan.cost - cost)) / plan.cost),
    gapPerStudent_min: rounded((plan.cost - cost) / setup.students.length),
  }
}

/** Difference between the dearest and the cheapest of ten seeds. */
const spread = (size: DaySize, steps: number) => {
  const costs = Array.from({ length: 10 }, (_, k) => solveDay(generatedDay(size), { seed: k + 1, steps }).cost)
  return {
    students: size.students,
    steps,
    cheapest: rounded(Math.min(...costs), 0),
    dearest: rounded(Math.max(...costs), 0),
    spread: rounded((100 * (Math.max(...costs) - Math.min(...costs))) / Math.min(...costs)),
  }
}

/** Tiny days of which every plan is tried. */
const exhaustive = (count: number) => {
  let equal = 0
  let below = 0
  for (let seed = 1; seed <= count; seed++) {
    const setup = tinyDay(seed)
    const best = cheapestOfAll(setup)
    const found = solveDay(setup, { seed, steps: 4000 }).cost
    if (found < best - 1e-6) below++
    else if (found < best + 1e-6) equal++
  }
  return { days: count, equal, below }
}

/** Days of all kinds, checked by a program of its own. */
const checked = (count: number) => {
  let broken = 0
  let wrongCost = 0
  for (let seed = 1; seed <= count; seed++) {
    const setup = variedDay(seed)
    const plan = solveDay(setup, { seed, steps: 4000 })
    broken += checkTimetable(setup, plan.sessions).length
    if (Math.abs(totalOf(costFromPlan(setup, plan.sessions)) - plan.cost) > 1e-6) wrongCost++
  }
  return { days: count, broken, wrongCost }
}

const clash = (size: DaySize) => {
  const setup = generatedDay(size)
  const plan = solveDay(setup, { steps: 300_000 })
  const began = performance.now()
  const found = clashOf(setup, missingIn(plan))
  return {
    ...size,
    leftOut: missingIn(plan),
    provenAtLeast: rounded(found.leftOut),
    rules: found.rules,
    seconds: rounded((performance.now() - began) / 1000),
  }
}

const replanned = () => {
  const setup = generatedDay({ students: 40, instructors: 4, cars: 8 })
  const first = solveDay(setup, { steps: 2_000_000 })
  const now = '11:00'
  const changes = {
    'two of eight cars out': { cars: setup.cars.map((c, k) => (k < 2 ? { ...c, out: [{ from: now, to: '17:00' }] } : c)) },
    'track closed 14:00 to 15:00': {
      windows: setup.windows.flatMap((w) =>
        w.place === 'track'
          ? [
              { ...w, to: '14:00' },
              { ...w, from: '15:00' },
            ]
          : [w],
      ),
    },
    'student three hours late': { students: setup.students.map((s, k) => (k === 5 ? { ...s, arrives: '14:00' } : s)) },
    'instructor leaves at 13:00': { instructors: setup.instructors.map((i, k) => (k === 1 ? { ...i, to: '13:00' } : i)) },
  }
  return Object.entries(changes).map(([what, change]) => {
    const at = (moved: number) => {
      const changed = {
        ...setup,
        ...change,
        rules: { ...setup.rules, cost: { ...setup.rules.cost, moved } },
        announced: first.sessions,
        kept: first.sessions.filter((s) => s.start < now),
        now,
      }
      const began = performance.now()
      const plan = solveDay(changed, { steps: 1_000_000 })
      const seconds = rounded((performance.now() - began) / 1000)
      const costs = costFromPlan({ ...changed, rules: setup.rules }, plan.sessions)
      return {
        moved: costs.moved / setup.rules.cost.moved,
        leftOut: missingIn(plan),
        seconds,
        broken: checkTimetable(changed, plan.sessions).length,
      }
    }
    return { what, fewChanges: at(10), anyChanges: at(0) }
  })
}

const seconds = Number(process.argv[2] ?? 20)
const whole = process.argv[3] !== 'short'
process.stdout.write(
  `${JSON.stringify(
    {
      days: days.map(([name, size]) => measure(name, size, seconds)),
      spread: [
        spread({ students: 12, instructors: 2, cars: 4 }, whole ? 1_000_000 : 100_000),
        spread({ students: 40, instructors: 4, cars: 8 }, whole ? 5_000_000 : 100_000),
      ],
      clash: [clash({ students: 40, instructors: 3, cars: 8, ride_min: 20 }), clash({ students: 40, instructors: 4, cars: 2 })],
      replanned: replanned(),
      exhaustive: exhaustive(whole ? 200 : 20),
      checked: checked(whole ? 500 : 20),
    },
    null,
    1,
  )}\n`,
)
