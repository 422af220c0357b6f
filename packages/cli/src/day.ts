import { daySetupSchema } from '@ochote/contract'
import {
  boundDay,
  checkSetup,
  checkTimetable,
  clashOf,
  countLoad,
  type DayTimetable,
  describeError,
  FULL_LOAD,
  missingIn,
  solveDay,
  USUAL_STEPS,
} from '@ochote/core'
import { type Options, readJson, required, UsageError, writeOut } from './options.ts'

/** Share of the seconds that the search gets. */
const SEARCH_SHARE = 0.8

/** A whole number of a call, or the default where it is absent. */
const wholeOption = (options: Options, name: string, fallback: number, max: number): number => {
  const text = options[name]
  if (text === undefined) return fallback
  const value = Number(text)
  if (!Number.isInteger(value) || value < 0 || value > max) throw new UsageError(`--${name} takes a whole number up to ${max}.`)
  return value
}

/**
 * `ochote day`: plans a day from one file without any database. What is wrong with the file is told with its place, each on a line of
 * its own. The same seed and steps give the same plan; seconds only end the search sooner.
 */
export const day = async (options: Options): Promise<void> => {
  const setup = await readJson(required(options, 'in'), 'day setup', daySetupSchema)
  const wrong = checkSetup(setup)
  if (wrong.length > 1)
    for (const error of wrong.slice(1)) {
      const words = describeError(error)
      process.stderr.write(`${words.message}\n  at: ${words.place}\n  ${words.remedy}\n`)
    }
  if (wrong[0]) throw wrong[0]
  const began = performance.now()
  const seconds = wholeOption(options, 'seconds', 20, 3600)
  const seed = wholeOption(options, 'seed', 1, 2 ** 31)
  // A number of steps that is asked for is tried in full, however long it takes.
  const timed = options.steps === undefined
  const steps = timed ? Number.MAX_SAFE_INTEGER : wholeOption(options, 'steps', USUAL_STEPS, 1e9)
  const elapsed_s = (): number => (performance.now() - began) / 1000
  const load = countLoad(setup)
  if (load.fullest > FULL_LOAD)
    process.stderr.write(
      `The day is full: it needs ${Math.round(100 * load.fullest)}% of the minutes of ${load.loads[0].what} that there are. Expect that something is left out.\n`,
    )
  // Most of the time goes to the search, the rest to the proof of how far it could still go.
  const plan = solveDay(setup, { seed, steps, stop: () => timed && elapsed_s() >= SEARCH_SHARE * seconds })
  const broken = checkTimetable(setup, plan.sessions)
  const isFresh = setup.kept.length === 0
  const bound = isFresh ? boundDay(setup, { above: plan.cost, stop: () => timed && elapsed_s() >= seconds }).cost : null
  const missing = missingIn(plan)
  const clash = isFresh && missing > 0 ? clashOf(setup, missing) : null
  await writeOut(
    options,
    `${JSON.stringify({ ...resultOf(plan, bound, elapsed_s()), broken, clash, load: load.loads, eases: load.eases }, null, 1)}\n`,
  )
}

const rounded = (value: number): number => Math.round(value * 100) / 100

const resultOf = ({ sessions, leftOut, costs, cost, steps, seed }: DayTimetable, bound: number | null, seconds: number) => ({
  sessions,
  leftOut,
  cost: rounded(cost),
  bound: bound === null ? null : rounded(bound),
  gap: bound === null || cost === 0 ? null : rounded((cost - bound) / cost),
  costs: Object.fromEntries(Object.entries(costs).map(([part, value]) => [part, rounded(value)])),
  seconds: rounded(seconds),
  steps,
  seed,
})
