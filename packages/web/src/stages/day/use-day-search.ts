import type { DaySetup, DayTimetable, Emphasis } from '@ochote/core'
import { useEffect, useRef, useState } from 'react'
import { type DaySearch, noSearch, REST_SECONDS, SECONDS, searchDay } from '../../workers/day-solver.ts'

/** A plan that is kept beside others; `emphasis`: what its search weighed more. */
export type KeptPlan = { name: string; plan: DayTimetable; emphasis: Emphasis }

/** No more plans are kept beside each other. */
const MOST_KEPT = 3

/** A search for a plan of a day: it lives as long as the page, and what it has found outlives it. */
export const useDaySearch = () => {
  const [search, setSearch] = useState<DaySearch>(noSearch)
  const [emphasis, setEmphasis] = useState<Emphasis>('rules')
  const [kept, setKept] = useState<readonly KeptPlan[]>([])
  const stop = useRef<(() => void) | null>(null)
  const seed = useRef(0)
  useEffect(() => () => stop.current?.(), [])
  return {
    search,
    emphasis,
    kept,
    setEmphasis,
    /** Searches anew; each search from another seed, the first always from the same. */
    start: (setup: DaySetup): void => {
      stop.current?.()
      seed.current++
      const seconds = setup.kept.length > 0 ? REST_SECONDS : SECONDS
      stop.current = searchDay(setup, { seconds, seed: seed.current, emphasis }, (next) => setSearch((had) => ({ ...had, ...next })))
    },
    stop: (): void => stop.current?.(),
    drop: (): void => {
      stop.current?.()
      setSearch(noSearch)
    },
    /** Keeps the plan that was found beside the others; the oldest goes where there are too many. */
    keep: (): void => {
      const { plan } = search
      if (!plan || kept.some((k) => k.plan === plan)) return
      const used = new Set(kept.map((k) => k.name))
      const name = ['A', 'B', 'C', 'D'].find((letter) => !used.has(letter)) ?? 'A'
      setKept([...kept, { name, plan, emphasis }].slice(-MOST_KEPT))
    },
    forget: (name: string): void => setKept(kept.filter((k) => k.name !== name)),
  }
}
