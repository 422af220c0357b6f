import type { Circuit } from '../circuit/circuit.ts'
import { atStation, stationIndex, wrapStation } from '../circuit/station.ts'
import type { Plan } from './plan.ts'

/** How far round the lap a car is, as time of the plan's lap (s). */
export const planTimeAt = (plan: Plan, station_m: number): number => {
  const { circuit, profile } = plan
  const last_m = circuit.s_m[circuit.count - 1]
  if (station_m <= last_m) return atStation(circuit, profile.time_s, station_m)
  const last_s = profile.time_s[circuit.count - 1]
  return last_s + ((station_m - last_m) / (circuit.length_m - last_m)) * (profile.lapTime_s - last_s)
}

/** Time of the plan's lap from one station forward to another, 0 ≤ t < lap. */
export const planTimeBetween = (plan: Plan, from_m: number, to_m: number): number => {
  const lap_s = plan.profile.lapTime_s
  return (planTimeAt(plan, to_m) - planTimeAt(plan, from_m) + lap_s) % lap_s
}

/** The station at which a lap is at a time (s), which may lie before the line or after the lap. Binary search in the time column. */
export const stationInLap = (
  circuit: Pick<Circuit, 's_m' | 'count' | 'length_m'>,
  lap: { time_s: Float64Array; lapTime_s: number },
  time_s: number,
): number => {
  const t = ((time_s % lap.lapTime_s) + lap.lapTime_s) % lap.lapTime_s
  let low = 0
  let high = circuit.count - 1
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (lap.time_s[middle] <= t) low = middle
    else high = middle - 1
  }
  const last = low + 1 === circuit.count
  const [nextTime_s, next_m] = last ? [lap.lapTime_s, circuit.length_m] : [lap.time_s[low + 1], circuit.s_m[low + 1]]
  const step_s = nextTime_s - lap.time_s[low]
  const share = step_s > 0 ? Math.min(1, (t - lap.time_s[low]) / step_s) : 0
  return wrapStation(circuit.s_m[low] + share * (next_m - circuit.s_m[low]), circuit.length_m)
}

/** The station at which a plan's car is at a time of its lap (s), which may lie before the line or after the lap. */
export const stationAtTime = (plan: Pick<Plan, 'circuit' | 'profile'>, time_s: number): number =>
  stationInLap(plan.circuit, plan.profile, time_s)
/** The station that a plan's car passes so many seconds before another. */
export const stationBefore = (plan: Plan, station_m: number, before_s: number): number => {
  const { circuit, profile } = plan
  const at = stationIndex(circuit, station_m)
  let back = 0
  while (back < circuit.count - 1) {
    const i = (at - back + circuit.count) % circuit.count
    if ((profile.time_s[at] - profile.time_s[i] + profile.lapTime_s) % profile.lapTime_s >= before_s) break
    back++
  }
  return circuit.s_m[(at - back + circuit.count) % circuit.count]
}
