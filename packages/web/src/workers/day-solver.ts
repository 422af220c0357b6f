import { type Clash, type DayBound, type DaySetup, type DayTimetable, missingIn } from '@ochote/core'
import { proxy, wrap } from 'comlink'
import type { Days, Relief } from './day.worker.ts'

/** What the search has so far; it lives here, so that stopping it loses nothing. */
export type DaySearch = {
  plan: DayTimetable | null
  /** The same day where nothing that was announced counts; for comparison. */
  freely: DayTimetable | null
  bound: DayBound | null
  clash: Clash | null
  reliefs: readonly Relief[]
  searching: boolean
  error: Error | null
}

export const noSearch: DaySearch = { plan: null, freely: null, bound: null, clash: null, reliefs: [], searching: false, error: null }

/** How long a day is searched for at most (s); it can be stopped at any time. */
export const SECONDS = 20
/** How long it is searched for a plan that may change everything (s). */
const FREELY_S = 6

/**
 * Plans a day in one worker and proves in a second how far the plan could still be bettered; for a day with kept sessions nothing is
 * proven. Each change is told; the returned function stops both and keeps what was found.
 */
export const searchDay = (setup: DaySetup, seconds: number, tell: (change: Partial<DaySearch>) => void): (() => void) => {
  const start = () => {
    const worker = new Worker(new URL('./day.worker.ts', import.meta.url), { type: 'module' })
    return { worker, days: wrap<Days>(worker) }
  }
  const [search, proof] = [start(), start()]
  const stop = (): void => {
    search.worker.terminate()
    proof.worker.terminate()
  }
  const canProve = setup.kept.length === 0
  let asked = false
  const better = (plan: DayTimetable): void => {
    tell({ plan })
    if (asked || !canProve) return
    asked = true
    void proof.days.bound(
      setup,
      plan.cost,
      proxy((bound: DayBound) => tell({ bound })),
    )
  }
  const run = async (): Promise<void> => {
    const plan = await search.days.solve(setup, seconds, proxy(better))
    tell({ plan })
    if (setup.announced.length > setup.kept.length) {
      const cost = { ...setup.rules.cost, moved: 0 }
      tell({
        freely: await search.days.solve(
          { ...setup, rules: { ...setup.rules, cost } },
          FREELY_S,
          proxy(() => {}),
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
    .finally(() => tell({ searching: false }))
  return () => {
    stop()
    tell({ searching: false })
  }
}
