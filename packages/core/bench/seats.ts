import loadHighs from 'highs'
import { type DaySize, generatedDay } from '../fixtures/generated-day.ts'
import { type Minimise, seatPeople } from '../src/schedule/seat-people.ts'
import { solveDay } from '../src/schedule/solve-day.ts'

/** Days whose people are placed, after as many moves of a search. */
const days: readonly DaySize[] = [
  { students: 12, instructors: 2, cars: 4 },
  { students: 40, instructors: 4, cars: 8 },
  { students: 40, instructors: 4, cars: 8, ride_min: 10, follow: true },
  { students: 60, instructors: 8, cars: 15, groups: 6 },
  { students: 60, instructors: 8, cars: 15, groups: 6, ride_min: 10, follow: true },
]
const STEPS = 300_000

const highs = await loadHighs()
const minimise: Minimise = (program) => {
  const solution = highs.solve(program, { time_limit: 10 })
  if (solution.Status !== 'Optimal') return null
  const values = Object.values(solution.Columns).flatMap((c) => (c.Primal > 0.5 ? [[c.Name, c.Primal] as const] : []))
  return { cost: solution.ObjectiveValue, values: new Map(values) }
}

process.stdout.write(
  `${JSON.stringify(
    days.map((size) => {
      const setup = generatedDay(size)
      const plan = solveDay(setup, { steps: STEPS })
      const began = performance.now()
      const { cost, proven } = seatPeople(setup, plan.sessions, minimise)
      const seconds = (performance.now() - began) / 1000
      return { ...size, before: Math.round(plan.cost), after: Math.round(cost), proven, seconds: Number(seconds.toFixed(2)) }
    }),
    null,
    1,
  )}\n`,
)
