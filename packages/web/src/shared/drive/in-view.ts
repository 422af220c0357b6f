import { distanceAhead, type GroundItem, groundKinds, type Plan } from '@ochote/core'

/** Things appear this far ahead and stay so far behind the car (m). */
const AHEAD_M = 150
const BEHIND_M = 45

/** True if a station is in view from another. */
export const isInView = (plan: Pick<Plan, 'circuit'>, car_m: number, station_m: number): boolean =>
  distanceAhead(car_m - BEHIND_M, station_m, plan.circuit.length_m) <= AHEAD_M + BEHIND_M

/** Kinds of ground that somebody who drives there first has to be told of: all but where there is room. */
const hazardKinds: ReadonlySet<GroundItem['kind']> = new Set(groundKinds.filter((kind) => kind !== 'run-off' && kind !== 'lane'))

/** Hazards, references and posts in view. */
export const groundInView = (plan: Plan, car_m: number): GroundItem[] =>
  plan.ground.filter((g) => hazardKinds.has(g.kind) && isInView(plan, car_m, g.from_m))
