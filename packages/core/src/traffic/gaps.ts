import { atStation } from '../circuit/station.ts'
import type { Plan } from '../plan/plan.ts'

/** A car on the lap. `lapTime_s`: what it needs for a lap as it goes now; `lap`: the lap it is in. */
export type TrackCar = { id: string; station_m: number; lap: number; lapTime_s: number }

/** Who drives ahead of a car, and how far: seconds at the following car's own pace, and metres along the road. */
export type Gap = { id: string; aheadId: string; gap_s: number; gap_m: number }

/** The gap that is kept unless told otherwise (s). */
export const SAFE_GAP_S = 3

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

/**
 * The gap of every car to the one ahead of it on the road, whoever that is, nearest first. A car alone has none.
 * Cost: n log n in cars.
 */
export const gapsOnTrack = (plan: Plan, cars: readonly TrackCar[]): Gap[] => {
  if (cars.length < 2) return []
  const order = [...cars].sort((a, b) => a.station_m - b.station_m)
  return order
    .map((car, i) => {
      const ahead = order[(i + 1) % order.length]
      const gap_m = (ahead.station_m - car.station_m + plan.circuit.length_m) % plan.circuit.length_m
      const gap_s = (planTimeBetween(plan, car.station_m, ahead.station_m) * car.lapTime_s) / plan.profile.lapTime_s
      return { id: car.id, aheadId: ahead.id, gap_s, gap_m }
    })
    .sort((a, b) => a.gap_s - b.gap_s)
}
