import { planTimeAt, planTimeBetween, stationAtTime } from '../plan/lap-time.ts'
import type { Plan } from '../plan/plan.ts'
import { SAFE_GAP_S, type TrackCar } from './gaps.ts'

/** Place where a car will be too close to the one ahead. `lap`: the following car's lap then; `in_s`: 0 where it already is. */
export type Meeting = { behindId: string; aheadId: string; in_s: number; station_m: number; lap: number }

/**
 * Cars that will catch others, with time and place, soonest first: every car goes on round the lap at its own lap time, shaped
 * like the plan's. Meetings further away than `within_s` are left out. Cost: cars squared.
 */
export const meetings = (plan: Plan, cars: readonly TrackCar[], { safeGap_s = SAFE_GAP_S, within_s = 600 } = {}): Meeting[] => {
  const lap_s = plan.profile.lapTime_s
  const found: Meeting[] = []
  for (const behind of cars)
    for (const ahead of cars) {
      if (behind === ahead) continue
      // In time of the plan's lap: how much lies between them, and how quickly it closes.
      const between = planTimeBetween(plan, behind.station_m, ahead.station_m)
      const wanted = (safeGap_s * lap_s) / behind.lapTime_s
      const closing = lap_s / behind.lapTime_s - lap_s / ahead.lapTime_s
      const tooNear = between < wanted
      if (!tooNear && closing <= 0) continue
      const in_s = tooNear ? 0 : (between - wanted) / closing
      if (in_s > within_s) continue
      const reached = planTimeAt(plan, behind.station_m) + (in_s * lap_s) / behind.lapTime_s
      found.push({
        behindId: behind.id,
        aheadId: ahead.id,
        in_s,
        station_m: stationAtTime(plan, reached % lap_s),
        lap: behind.lap + Math.floor(reached / lap_s),
      })
    }
  return found.sort((a, b) => a.in_s - b.in_s)
}
