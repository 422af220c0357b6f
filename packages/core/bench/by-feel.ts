import { atStation, wrapStation } from '../src/circuit/station.ts'
import type { Plan } from '../src/plan/plan.ts'
import type { Drive } from '../src/simulate/drive.ts'
import { type DriveOptions, DT_S, driveBy, FELT_M, type Law } from './own-car.ts'

/**
 * A driver by feel: looks ahead along the path and steers there with a delay, brakes when the corner comes up faster than feels
 * right and presses as hard as it takes, and goes back on the throttle as the road opens.
 */
type Feel = {
  /** How far ahead the eyes are, and how late the hands follow (s). */
  look_s: number
  delay_s: number
  /** Deceleration at which a corner feels near, as a share of the plan's hardest braking. */
  near: number
  /** Share of the plan's speeds that feels right, and how much sooner every corner is turned into (m). */
  speed: number
  sooner_m: number
}

const manners: readonly Feel[] = [
  // Careful.
  { look_s: 0.7, delay_s: 0.14, near: 0.72, speed: 0.985, sooner_m: 0 },
  // Turns in early.
  { look_s: 0.9, delay_s: 0.12, near: 0.8, speed: 0.98, sooner_m: 5 },
  // Over-slow.
  { look_s: 0.6, delay_s: 0.16, near: 0.6, speed: 0.93, sooner_m: 0 },
]

const lawOf =
  ({ circuit, line, profile }: Plan, feel: Feel) =>
  (): Law => {
    const L = circuit.length_m
    const hardest = Math.max(...profile.ax_mps2.map((a) => -a))
    let wheel = 0
    let braking = false
    return ({ s, offset_m, askew_rad, speed_mps }, { resist_mps2, engine_mps2 }, wrong, mood) => {
      const wanted = (ahead_m: number): number => {
        const at = wrapStation(s + ahead_m + feel.sooner_m, L)
        return atStation(circuit, line.offset_m, at) + wrong.aside_m(wrapStation(s + ahead_m, L)) + mood.aside_m
      }
      const right = (ahead_m: number): number => {
        const at = wrapStation(s + ahead_m, L)
        return atStation(circuit, profile.speed_mps, at) * feel.speed * mood.speed * wrong.speed(at)
      }
      // Hands: to a point ahead, a little late.
      const look_m = 5 + feel.look_s * speed_mps
      const road = atStation(circuit, circuit.kappa_1pm, wrapStation(s + 0.3 * look_m, L))
      const ask = road + (2 * (wanted(look_m) - offset_m - look_m * Math.tan(askew_rad))) / (look_m * look_m)
      wheel += ((ask - wheel) * DT_S) / feel.delay_s
      // Feet: what it takes to be slow enough for what comes.
      let takes = 0
      for (let d = 8; d < FELT_M; d += 8) takes = Math.max(takes, (speed_mps ** 2 - right(d) ** 2) / (2 * d))
      const near = hardest * feel.near * mood.near * wrong.near(s)
      if (!braking && takes > near) braking = true
      if (braking && takes < 0.12 * hardest) braking = false
      const go = Math.min(engine_mps2, Math.max(0, (right(0.5 * speed_mps) - speed_mps) / 0.5 + resist_mps2))
      const demand_mps2 = braking ? -1.15 * takes : wrong.off(s) || takes > 0.6 * near ? 0 : go
      return { wheel_1pm: wheel, demand_mps2 }
    }
  }

/** Drives by feel, in one of three manners by the seed. */
export const driveByFeel = (plan: Plan, options: DriveOptions): Drive => {
  const feel = manners[options.seed % manners.length]
  return driveBy(plan, options, feel, lawOf(plan, feel))
}
