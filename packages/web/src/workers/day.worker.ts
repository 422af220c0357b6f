import { boundDay, type Clash, clashOf, type DayBound, type DaySetup, type DayTimetable, solveDay } from '@ochote/core'
import { expose } from 'comlink'

/** Plans of a day off the interface's thread. Each call runs to its end; whoever no longer wants it stops the worker. */
const days = {
  solve: (setup: DaySetup, seconds: number, onBetter: (plan: DayTimetable) => void): DayTimetable => {
    const began = performance.now()
    const isOver = (): boolean => performance.now() - began >= 1000 * seconds
    return solveDay(setup, { steps: Number.MAX_SAFE_INTEGER, stop: isOver, onBetter })
  },
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
  clash: (setup: DaySetup, leftOut: number): Clash => clashOf(setup, leftOut),
}
export type Days = typeof days

expose(days)
