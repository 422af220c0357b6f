import { planSource, type StoredPlan } from '@ochote/contract'
import { createPlanner, type Plan } from '@ochote/core'
import { expose } from 'comlink'

const kept = createPlanner()

/** Plans off the interface's thread. */
const planner = {
  plan: (stored: StoredPlan): Plan => kept.plan(planSource(stored)),
}
export type Planner = typeof planner

expose(planner)
