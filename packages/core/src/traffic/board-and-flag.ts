import { planTimeAt } from '../plan/lap-time.ts'
import type { Plan } from '../plan/plan.ts'
import type { TrackCar } from './gaps.ts'

/** What a car is shown at the line, and in how many seconds it comes by for it. */
export type LineSign = { id: string; sign: 'board' | 'flag'; in_s: number }

/**
 * The next sign for a car on so many timed laps after its out lap: the board as it begins the last of them, the flag as it ends it; null
 * once it has both behind it. By the car's own lap time, spread over the lap as the plan's.
 */
export const lineSign = (plan: Plan, car: TrackCar, laps: number): LineSign | null => {
  if (car.lap > laps) return null
  const toLine_s = car.lapTime_s * (1 - planTimeAt(plan, car.station_m) / plan.profile.lapTime_s)
  const sign = car.lap < laps ? 'board' : 'flag'
  return { id: car.id, sign, in_s: toLine_s + Math.max(0, laps - car.lap - 1) * car.lapTime_s }
}
