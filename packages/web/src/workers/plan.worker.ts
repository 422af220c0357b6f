import { planSource, type StoredPlan } from '@ochote/contract'
import {
  type Circuit,
  type CornerMetrics,
  cornerMetrics,
  createPlanner,
  eyeHeight,
  type GroundItem,
  type IntoSight,
  intoSight,
  type Pin,
  type Plan,
  type RoadMesh,
  roadMesh,
  type Shift,
  shiftPoints,
  sightAhead,
} from '@ochote/core'
import { expose, transfer } from 'comlink'

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
  /** A plan's line while one of its marks is dragged. */
  follow: (stored: StoredPlan, pins: readonly Pin[], station_m: number): { offset_m: Float64Array; lapTime_s: number } =>
    kept.follow(planSource(stored), pins, station_m),
  /** When each of a plan's marks comes into sight from its vehicle's seat. */
  intoSight: (plan: Plan): IntoSight[] =>
    intoSight(
      plan,
      plan.marks.map((mark) => mark.station_m),
      { eye_m: eyeHeight(plan.vehicle.kind) },
    ),
  /** The road as triangles; their columns are handed over, not copied. */
  mesh: (circuit: Circuit, ground: readonly GroundItem[]): RoadMesh => {
    const mesh = roadMesh(circuit, ground)
    const parts = mesh.chunks.flatMap(({ near, far }) => [...near, ...far])
    return transfer(
      mesh,
      parts.flatMap(({ position, index }) => [position.buffer as ArrayBuffer, index.buffer as ArrayBuffer]),
    )
  },
}
export type Planner = typeof planner

expose(planner)
