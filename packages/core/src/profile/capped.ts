import type { Line } from '../path/line.ts'
import type { Profile } from './profile.ts'

/**
 * The same lap driven no faster than a limit: where the profile is faster it is driven at the limit, and times follow.
 * Accelerations and gears stay those of the profile. @param limit_mps above 0
 */
export const cappedProfile = (profile: Profile, line: Pick<Line, 'stepPath_m'>, limit_mps: number): Profile => {
  const n = profile.speed_mps.length
  const speed_mps = profile.speed_mps.map((v) => Math.min(v, limit_mps))
  const time_s = new Float64Array(n)
  let total = 0
  for (let i = 0; i < n; i++) {
    time_s[i] = total
    const j = (i + 1) % n
    // Where nothing is capped, steps keep their own time, with slope and all.
    const own = (i + 1 < n ? profile.time_s[i + 1] : profile.lapTime_s) - profile.time_s[i]
    const mean = (profile.speed_mps[i] + profile.speed_mps[j]) / 2
    total += line.stepPath_m[i] > 0 ? (own * mean) / ((speed_mps[i] + speed_mps[j]) / 2) : 0
  }
  return { ...profile, speed_mps, time_s, lapTime_s: total }
}
