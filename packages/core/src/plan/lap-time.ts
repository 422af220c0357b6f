import type { Circuit } from '../circuit/circuit.ts'
import { atStation, distanceAhead, stationIndex, wrapStation } from '../circuit/station.ts'
import type { Plan } from './plan.ts'

/** A time brought into one lap, 0 ≤ t < lap (s). */
export const wrapTime = (time_s: number, lapTime_s: number): number => ((time_s % lapTime_s) + lapTime_s) % lapTime_s

/** Time of a lap from the station of one index forward to that of another, 0 ≤ t < lap (s). */
export const timeBetween = ({ time_s, lapTime_s }: { time_s: Float64Array; lapTime_s: number }, from: number, to: number): number =>
  wrapTime(time_s[to] - time_s[from], lapTime_s)

/** Place of a car on the lap, as time of the plan's lap (s). */
export const planTimeAt = (plan: Plan, station_m: number): number => {
  const { circuit, profile } = plan
  const last_m = circuit.s_m[circuit.count - 1]
  if (station_m <= last_m) return atStation(circuit, profile.time_s, station_m)
  const last_s = profile.time_s[circuit.count - 1]
  return last_s + ((station_m - last_m) / (circuit.length_m - last_m)) * (profile.lapTime_s - last_s)
}

/** Time of the plan's lap from one station forward to another, 0 ≤ t < lap. */
export const planTimeBetween = (plan: Plan, from_m: number, to_m: number): number => {
  return wrapTime(planTimeAt(plan, to_m) - planTimeAt(plan, from_m), plan.profile.lapTime_s)
}

/** The station at which a lap is at a time (s), which may lie before the line or after the lap. Binary search in the time column. */
export const stationInLap = (
  circuit: Pick<Circuit, 's_m' | 'count' | 'length_m'>,
  lap: { time_s: Float64Array; lapTime_s: number },
  time_s: number,
): number => {
  const t = wrapTime(time_s, lap.lapTime_s)
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

/** The station that a plan's car passes a time (s) before another. */
export const stationBefore = (plan: Plan, station_m: number, before_s: number): number => {
  const { circuit, profile } = plan
  const at = stationIndex(circuit, station_m)
  let back = 0
  while (back < circuit.count - 1) {
    const i = (at - back + circuit.count) % circuit.count
    if (timeBetween(profile, i, at) >= before_s) break
    back++
  }
  return circuit.s_m[(at - back + circuit.count) % circuit.count]
}

/** Time (s) a plan's car takes from a cone on to a mark; 0 where the mark lies before the cone. */
export const waitFrom = (plan: Plan, from_m: number, to_m: number): number => {
  const { circuit, profile } = plan
  if (distanceAhead(from_m, to_m, circuit.length_m) > circuit.length_m / 2) return 0
  const at = (s_m: number): number => {
    const i = stationIndex(circuit, s_m)
    return profile.time_s[i] + (s_m - circuit.s_m[i]) / profile.speed_mps[i]
  }
  const time_s = at(to_m) - at(from_m)
  // Past the line the lap begins again; a rounding error below 0 is 0.
  return Math.max(0, time_s < -profile.lapTime_s / 2 ? time_s + profile.lapTime_s : time_s)
}
