import {
  boundDay,
  type Clash,
  clashOf,
  type DayBound,
  type DaySetup,
  type DayTimetable,
  type Ease,
  easedBy,
  easedSetups,
  type Minimise,
  missingIn,
  type ReliefKind,
  type Seated,
  seatPeople,
  solveDay,
} from '@ochote/core'
import { expose } from 'comlink'
import loadHighs from 'highs'
import highsUrl from 'highs/runtime?url'

/** A change of a day, and what the search leaves out with it. */
export type Relief = { what: Omit<Ease, 'share'> | ReliefKind; leftOut: number }

/** Moves for each change that is tried: about two seconds. */
const RELIEF_STEPS = 400_000

/** How long one group's people are placed at most (s); without a proof they stay where the search has put them. */
const SEATING_S = 10

/** The solver of mixed-integer programs, loaded when it is first wanted. */
const solver = async (): Promise<Minimise> => {
  const highs = await loadHighs({ locateFile: () => highsUrl })
  return (program) => {
    const solution = highs.solve(program, { time_limit: SEATING_S })
    if (solution.Status !== 'Optimal') return null
    const values = Object.values(solution.Columns).flatMap((c) => (c.Primal > 0.5 ? [[c.Name, c.Primal] as const] : []))
    return { cost: solution.ObjectiveValue, values: new Map(values) }
  }
}

/** Plans of a day off the interface's thread. Each call runs to its end; whoever no longer wants it stops the worker. */
const days = {
  solve: (setup: DaySetup, seconds: number, seed: number, onBetter: (plan: DayTimetable) => void): DayTimetable => {
    const began = performance.now()
    const isOver = (): boolean => performance.now() - began >= 1000 * seconds
    return solveDay(setup, { seed, steps: Number.MAX_SAFE_INTEGER, stop: isOver, onBetter })
  },
  /** People placed as well as they can be in the sessions of a plan. */
  seat: async (setup: DaySetup, sessions: DayTimetable['sessions']): Promise<Seated> => seatPeople(setup, sessions, await solver()),
  bound: (setup: DaySetup, above: number, onBound: (bound: DayBound) => void): DayBound => {
    let told = 0
    return boundDay(setup, {
      above,
      stop: (bound) => {
        if (bound.cost > told * 1.001) {
          told = bound.cost
          onBound(bound)
        }
        return false
      },
    })
  },
  /** What each change of a day buys: what is still left out then, told as it is found. */
  relief: (setup: DaySetup, rules: readonly ReliefKind[], onRelief: (relief: Relief) => void): void => {
    const tried: { what: Relief['what']; setup: DaySetup }[] = [
      ...easedSetups(setup).map(({ ease, setup: eased }) => ({ what: ease, setup: eased })),
      ...rules.map((rule) => ({ what: rule, setup: easedBy(setup, rule) })),
    ]
    for (const { what, setup: eased } of tried) {
      onRelief({ what, leftOut: missingIn(solveDay(eased, { steps: RELIEF_STEPS })) })
    }
  },
  clash: (setup: DaySetup, leftOut: number): Clash => clashOf(setup, leftOut),
}
export type Days = typeof days

expose(days)
