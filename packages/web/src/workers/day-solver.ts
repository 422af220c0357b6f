import {
  type Clash,
  type DayBound,
  type DaySetup,
  type DayTimetable,
  type Emphasis,
  judgePlan,
  missingIn,
  withEmphasis,
} from '@ochote/core'
import { proxy, wrap } from 'comlink'
import type { Days, Relief } from './day.worker.ts'

/** What the search has so far; it lives here, so that stopping it loses nothing. */
export type DaySearch = {
  plan: DayTimetable | null
  /** The same day where nothing that was announced counts; for comparison. */
  freely: DayTimetable | null
  bound: DayBound | null
  /** Proven that nobody can be placed better in the sessions of the plan, for themselves alone. */
  seated: boolean
  clash: Clash | null
  reliefs: readonly Relief[]
  searching: boolean
  error: Error | null
}

export const noSearch: DaySearch = {
  plan: null,
  freely: null,
  bound: null,
  seated: false,
  clash: null,
  reliefs: [],
  searching: false,
  error: null,
}

/** How long a day is searched for at most, and the rest of one that has begun (s); it can be stopped at any time. */
export const SECONDS = 20
export const REST_SECONDS = 5
/** How long it is searched for a plan that may change everything (s). */
const FREELY_S = 6

/** How a day is searched: for how long, from which seed, and what counts more than the day's own rules say. */
export type SearchOptions = { seconds: number; seed?: number; emphasis?: Emphasis }

/**
 * Plans a day in one worker and proves in a second how far the plan could still be bettered; for a day with kept sessions, or one that is
 * weighed otherwise than its rules say, nothing is proven. Each change is told; the returned function stops both and keeps what was found.
 */
export const searchDay = (
  setup: DaySetup,
  { seconds, seed = 1, emphasis = 'rules' }: SearchOptions,
  listen: (change: Partial<DaySearch>) => void,
): (() => void) => {
  const start = () => {
    const worker = new Worker(new URL('./day.worker.ts', import.meta.url), { type: 'module' })
    return { worker, days: wrap<Days>(worker) }
  }
  const [search, proof] = [start(), start()]
  // What was on its way when the search was stopped is not told any more.
  let over = false
  const tell = (change: Partial<DaySearch>): void => {
    if (!over) listen(change)
  }
  const weighed = withEmphasis(setup, emphasis)
  // Whatever was weighed more in the search, a plan costs what the day's own rules say.
  const judged = (plan: DayTimetable, sessions = plan.sessions): DayTimetable => {
    const { costs, cost } = judgePlan(setup, sessions)
    return { ...plan, sessions, costs, cost }
  }
  const asRuled = (plan: DayTimetable): DayTimetable => (emphasis === 'rules' ? plan : judged(plan))
  const canProve = setup.kept.length === 0 && emphasis === 'rules'
  let proving: Promise<unknown> | null = null
  const better = (found: DayTimetable): void => {
    const plan = asRuled(found)
    tell({ plan })
    if (proving || !canProve) return
    proving = proof.days.bound(
      setup,
      plan.cost,
      proxy((bound: DayBound) => tell({ bound })),
    )
  }
  /** The plan with its people placed exactly, where that costs no more; as it is where the exact solver cannot be had. */
  const seated = async (plan: DayTimetable): Promise<DayTimetable> => {
    const placed = await search.days.seat(setup, plan.sessions).catch(() => null)
    if (!placed || placed.cost > plan.cost + 1e-6) return plan
    tell({ seated: placed.proven })
    return judged(plan, placed.sessions)
  }
  const run = async (): Promise<void> => {
    const found = asRuled(await search.days.solve(weighed, seconds, seed, proxy(better)))
    const plan = await seated(found)
    tell({ plan })
    if (setup.announced.length > setup.kept.length) {
      const cost = { ...weighed.rules.cost, moved: 0 }
      tell({
        freely: asRuled(
          await search.days.solve(
            { ...weighed, rules: { ...setup.rules, cost } },
            Math.min(FREELY_S, seconds),
            seed,
            proxy(() => {}),
          ),
        ),
      })
    }
    const missing = missingIn(plan)
    if (missing === 0 || !canProve) return
    const clash = await search.days.clash(setup, missing)
    tell({ clash })
    let reliefs: readonly Relief[] = []
    await search.days.relief(
      setup,
      clash.rules,
      proxy((relief: Relief) => {
        reliefs = [...reliefs, relief].sort((a, b) => a.leftOut - b.leftOut)
        tell({ reliefs })
      }),
    )
  }
  tell({ ...noSearch, searching: true })
  run()
    .catch((error: unknown) => tell({ error: error instanceof Error ? error : new Error(String(error)) }))
    .finally(async () => {
      search.worker.terminate()
      tell({ searching: false })
      await proving
      proof.worker.terminate()
    })
  return () => {
    tell({ searching: false })
    over = true
    search.worker.terminate()
    proof.worker.terminate()
  }
}
