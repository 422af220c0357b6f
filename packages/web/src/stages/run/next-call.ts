import { atStation, type Call, type CallSheet, type Corner, distanceAhead, markOf, type Plan, planTimeAt } from '@ochote/core'

/** The call to say next, and how far and how long it is to its mark. `now`: the words belong here. */
export type NextCall = { call: Call; toMark_m: number; toMark_s: number; now: boolean }

/** Speeds this far from the plan's say little of the road ahead: a car that stands will not stand for ever. */
const MIN_SHARE = 0.5
const MAX_SHARE = 1.5

/**
 * The next calls from a place on the lap, nearest first. Times are the plan's own, stretched by how much slower than the plan
 * the car goes just now, so that a slow lap does not hear its calls too soon.
 */
export const nextCalls = (plan: Plan, sheet: CallSheet, station_m: number, count: number, speed_mps?: number): NextCall[] => {
  const lap_s = plan.profile.lapTime_s
  const at_s = planTimeAt(plan, station_m)
  const planned_mps = atStation(plan.circuit, plan.profile.speed_mps, station_m)
  const stretch = speed_mps === undefined ? 1 : 1 / Math.min(MAX_SHARE, Math.max(MIN_SHARE, speed_mps / planned_mps))
  return sheet.calls
    .map((call) => {
      const toMark_s = stretch * ((((call.mark_s - at_s) % lap_s) + lap_s) % lap_s)
      return {
        call,
        toMark_s,
        toMark_m: distanceAhead(station_m, call.markStation_m, plan.circuit.length_m),
        now: toMark_s <= call.mark_s - call.start_s && toMark_s >= call.mark_s - call.end_s - 0.3,
      }
    })
    .sort((a, b) => a.toMark_s - b.toMark_s)
    .slice(0, count)
}

/** The corner just passed: the one whose apex lies nearest behind the car. */
export const cornerBehind = (plan: Plan, station_m: number): Corner | undefined => {
  const behind = (corner: Corner): number =>
    distanceAhead(markOf(plan.marks, corner.id, 'apex')?.station_m ?? corner.peak_m, station_m, plan.circuit.length_m)
  return plan.corners.reduce<Corner | undefined>((best, c) => (!best || behind(c) < behind(best) ? c : best), undefined)
}
