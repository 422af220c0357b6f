import { planTimeBetween } from '../plan/lap-time.ts'
import type { Plan } from '../plan/plan.ts'

/** A car on the lap. `lapTime_s`: what it needs for a lap as it goes now; `lap`: the lap it is in. */
export type TrackCar = { id: string; station_m: number; lap: number; lapTime_s: number }

/** The car ahead and the gap to it: seconds at the following car's own pace, and metres along the road. */
export type Gap = { id: string; aheadId: string; gap_s: number; gap_m: number }

/** The safe gap by default (s). */
export const SAFE_GAP_S = 3
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
