import { planSource, type StoredPlan } from '@ochote/contract'
import { type CornerMetrics, cornerMetrics, createPlanner, type Plan, type Shift, shiftPoints, sightAhead } from '@ochote/core'
import { expose } from 'comlink'

const kept = createPlanner()

/** Numbers that take longer than the plan itself: each corner's worth and safety, gear changes, sight at each station. */
export type PlanNumbers = { corners: CornerMetrics[]; shifts: Shift[]; sight_m: Float64Array }

/** Plans off the interface's thread. */
const planner = {
  quick: (stored: StoredPlan): Plan => kept.quick(planSource(stored)),
  plan: (stored: StoredPlan, onStep?: (step: number) => void): Plan =>
    kept.plan(planSource(stored), (step) => {
      onStep?.(step)
      return true
    }),
  numbers: (plan: Plan): PlanNumbers => ({ corners: cornerMetrics(plan), shifts: shiftPoints(plan), sight_m: sightAhead(plan) }),
}
export type Planner = typeof planner

expose(planner)
