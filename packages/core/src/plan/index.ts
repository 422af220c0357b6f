export { planTimeAt, planTimeBetween, stationAtTime, stationInLap, timeBetween, waitFrom, wrapTime } from './lap-time.ts'
export { makePlan, planLine, planOnLine } from './make-plan.ts'
export type { Plan, PlanSettings } from './plan.ts'
export { createPlanner, type Planner, type PlanSource } from './planner.ts'
