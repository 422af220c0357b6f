import { planTimeAt } from './lap-time.ts'
import type { Plan } from './plan.ts'

/**
 * A plan driven no faster than a cap (m/s), as slow laps are: where it would be faster the speed is the cap. Times follow; marks stay
 * where they are. The same plan comes back where it never gets so fast.
 */
export const withSpeedCap = (plan: Plan, cap_mps: number): Plan => {
  const { circuit, profile } = plan
  if (profile.speed_mps.every((v) => v <= cap_mps)) return plan
  const speed_mps = profile.speed_mps.map((v) => Math.min(v, cap_mps))
  const time_s = new Float64Array(circuit.count)
  const between = (a: number, b: number, planned_s: number): number =>
    // Where neither end is capped the plan's own time stays, with all that it knows of the path between.
    profile.speed_mps[a] <= cap_mps && profile.speed_mps[b] <= cap_mps
      ? planned_s
      : (planned_s * (profile.speed_mps[a] + profile.speed_mps[b])) / (speed_mps[a] + speed_mps[b])
  for (let i = 1; i < circuit.count; i++) time_s[i] = time_s[i - 1] + between(i - 1, i, profile.time_s[i] - profile.time_s[i - 1])
  const last = circuit.count - 1
  const lapTime_s = circuit.open ? time_s[last] : time_s[last] + between(last, 0, profile.lapTime_s - profile.time_s[last])
  const capped: Plan = { ...plan, profile: { ...profile, speed_mps, time_s, lapTime_s } }
  return {
    ...capped,
    marks: plan.marks.map((mark) => ({
      ...mark,
      speed_mps: Math.min(mark.speed_mps, cap_mps),
      time_s: planTimeAt(capped, mark.station_m),
    })),
  }
}
