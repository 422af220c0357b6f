import { atStation, type Call, type CallSheet, type Corner, distanceAhead, markOf, type Plan } from '@ochote/core'

/** The call to say next, and how far and how long it is to its mark. `now`: the words belong here. */
export type NextCall = { call: Call; toMark_m: number; toMark_s: number; now: boolean }

/** The next calls from a place on the lap, nearest first, by the plan's own times. */
export const nextCalls = (plan: Plan, sheet: CallSheet, station_m: number, count: number): NextCall[] => {
  const lap_s = plan.profile.lapTime_s
  const at_s = atStation(plan.circuit, plan.profile.time_s, Math.min(station_m, plan.circuit.s_m[plan.circuit.count - 1]))
  return sheet.calls
    .map((call) => {
      const toMark_s = (((call.mark_s - at_s) % lap_s) + lap_s) % lap_s
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
