import { atStation, distanceAhead, signedDistance, stationIndex } from '../circuit/station.ts'
import { type Mark, markOf } from '../marks/mark.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import type { Plan } from '../plan/plan.ts'
import type { GripShare } from '../profile/grip.ts'

/** Limits of a lap's speed before it is solved: ceilings (m/s) and grip in use, by station. */
type SpeedLimits = { cap_mps: Float64Array; grip: GripShare[] }

/** One mistake of the speed, made by moving the limits within which a lap is solved; false where there is none to make. */
type SpeedHabit = (plan: Plan, cornerId: string, size: number, limits: SpeedLimits) => boolean

const marksFor = (plan: Plan, cornerId: string) => {
  const { circuit, marks } = plan
  const [brake, turnIn, apex, slowest] = (['brake', 'turn-in', 'apex', 'slowest'] as const).map((kind) => markOf(marks, cornerId, kind))
  if (!turnIn || !apex || !slowest) return null
  const between = (from_m: number, to_m: number, change: (i: number) => void): void => {
    const first = stationIndex(circuit, from_m)
    const count = Math.round(distanceAhead(from_m, to_m, circuit.length_m) / circuit.step_m)
    for (let k = 0; k <= count; k++) change((first + k) % circuit.count)
  }
  return { brake, turnIn, apex, slowest, between }
}

/** The extra grip that a harder brake may take: what the surface still has beyond the pace. */
const room = (plan: Plan): number => 0.97 / plan.settings.pace

/** True if the brake is only touched in the turn: then there is no zone before it to get wrong. */
const inTheTurn = (plan: Plan, { brake, turnIn }: { brake?: Mark | undefined; turnIn: Mark }): boolean =>
  brake !== undefined && signedDistance(brake.station_m, turnIn.station_m, plan.circuit.length_m) < 10

/** Limits of each mistake of the brake's place and amount; sizes in metres, for brake-over a share of the slowest speed. */
export const speedHabits: Partial<Record<LogCode, SpeedHabit>> = {
  'brake-over': (plan, cornerId, size, limits) => {
    const found = marksFor(plan, cornerId)
    if (!found) return false
    const { brake, turnIn, apex, slowest, between } = found
    if (!brake && !markOf(plan.marks, cornerId, 'lift')) return false
    const wanted_mps = slowest.speed_mps * (1 - size)
    if (brake) {
      // Braked from the same place, but harder: the lower speed must not pull the brake point forward.
      const harder = (brake.speed_mps ** 2 - wanted_mps ** 2) / (brake.speed_mps ** 2 - slowest.speed_mps ** 2)
      if (harder > room(plan)) return false
      between(brake.station_m, apex.station_m, (i) => {
        limits.grip[i] = { ...limits.grip[i], brake: limits.grip[i].brake * harder }
      })
    }
    between(turnIn.station_m, apex.station_m + 10, (i) => {
      limits.cap_mps[i] = Math.min(limits.cap_mps[i], wanted_mps)
    })
    return true
  },
  'brake-early': (plan, cornerId, size, limits) => {
    const found = marksFor(plan, cornerId)
    if (!found?.brake || inTheTurn(plan, found)) return false
    const { brake, turnIn, between } = found
    // On a short way to the brake the car is still gaining speed: braking sooner moves its place by less than is left out.
    const coming_mps = atStation(plan.circuit, plan.profile.speed_mps, brake.station_m - 40)
    if (coming_mps < 0.93 * brake.speed_mps) return false
    between(turnIn.station_m - size, turnIn.station_m, (i) => {
      limits.cap_mps[i] = Math.min(limits.cap_mps[i], turnIn.speed_mps)
    })
    return true
  },
  'brake-late': (plan, cornerId, size, limits) => {
    const found = marksFor(plan, cornerId)
    if (!found?.brake || inTheTurn(plan, found)) return false
    const { brake, turnIn, between } = found
    const zone_m = distanceAhead(brake.station_m, turnIn.station_m, plan.circuit.length_m)
    const harder = zone_m / Math.max(zone_m - size, 1)
    if (harder > room(plan)) return false
    between(brake.station_m - 10, turnIn.station_m, (i) => {
      limits.grip[i] = { ...limits.grip[i], brake: limits.grip[i].brake * harder }
    })
    return true
  },
}
