import { atTravel, firstAtOrAbove, type Trajectory, wheelAt } from '../drive/trajectory.ts'
import { thresholds } from './thresholds.ts'

/** Turning must last this long to count as the turn-in (s). */
const TURN_KEPT_S = 0.5

/**
 * The first place in a stretch from which the wheel stays above a level (1/m, positive into the corner) for half a second.
 * A noisy wheel (`noise_1pm`, 1σ) passes the level more than once: it may fall back by twice its noise, and the middle
 * between its first and its last passing is the place, which is neither too early nor too late.
 */
export const turnInOf = (
  trajectory: Trajectory,
  sign: 1 | -1,
  level_1pm: number,
  from_m: number,
  to_m: number,
  noise_1pm = 0,
): number | null => {
  const { travel_m, time_s, wheel_1pm } = trajectory.inputs
  const end = Math.min(firstAtOrAbove(travel_m, to_m), travel_m.length - 1)
  const kept_1pm = level_1pm - Math.min(2 * noise_1pm, 0.8 * level_1pm)
  const passedAt = (i: number): number => {
    const b = Math.max(0, i - 1)
    const rise = sign * (wheel_1pm[i] - wheel_1pm[b])
    const share = rise > 0 ? Math.min(1, Math.max(0, (level_1pm - sign * wheel_1pm[b]) / rise)) : 1
    return travel_m[b] + share * (travel_m[i] - travel_m[b])
  }
  let first = -1
  let last = -1
  let below = true
  for (let i = firstAtOrAbove(travel_m, from_m); i < travel_m.length; i++) {
    const value = sign * wheel_1pm[i]
    if (value <= kept_1pm) first = -1
    if (first < 0 && i > end) return null
    if (value > level_1pm && below) {
      last = i
      if (first < 0) first = i
    }
    below = !(value > level_1pm)
    if (first >= 0 && !below && time_s[i] - time_s[last] >= TURN_KEPT_S) return (passedAt(first) + passedAt(last)) / 2
  }
  return null
}

/**
 * How often the wheel goes back and up again by a share of the peak: 1 is one turn of the wheel. `depth`: how far it went
 * back before the deepest bite.
 */
export const countSteeringInputs = (
  trajectory: Trajectory,
  sign: 1 | -1,
  peak_1pm: number,
  from_m: number,
  to_m: number,
  swing: number,
): { bites: number; at_m: number; depth: number } => {
  const { travel_m, wheel_1pm } = trajectory.inputs
  const end = Math.min(firstAtOrAbove(travel_m, to_m), travel_m.length - 1)
  let bites = 1
  let high = Number.NEGATIVE_INFINITY
  let low = Number.POSITIVE_INFINITY
  let lowAt = from_m
  let at_m = from_m
  let depth = 0
  let falling = false
  for (let i = firstAtOrAbove(travel_m, from_m); i <= end; i++) {
    const value = (sign * wheel_1pm[i]) / peak_1pm
    if (!falling) {
      high = Math.max(high, value)
      if (value > high - swing) continue
      falling = true
      low = value
      lowAt = travel_m[i]
      continue
    }
    if (value < low) {
      low = value
      lowAt = travel_m[i]
    }
    if (value < low + swing) continue
    bites++
    if (high - low > depth) {
      depth = high - low
      at_m = lowAt
    }
    falling = false
    high = value
  }
  return { bites, at_m, depth }
}

/** Share of the reference's opening rate up to which a wheel counts as held. */
const OPENS_AS = 0.5
/** Step at which wheels are compared (m). */
const LOOK_M = 2

/**
 * The longest time after the apex that the wheel is held well beyond the reference's and not opened, while the throttle
 * rises: seconds, the excess (share of the peak) and where it begins. Both are looked at from their own apex and at the
 * same place; `shift_m` leads from the way's distances to the reference's.
 */
export const pinchOf = (
  trajectory: Trajectory,
  reference: Trajectory,
  sign: 1 | -1,
  peak_1pm: number,
  apex: { at_m: number; reference_m: number; shift_m: number },
  reach_m: number,
  wanted: number,
  opens: number,
): { time_s: number; excess: number; at_m: number } | null => {
  const { travel_m, time_s, throttle } = trajectory.inputs
  const pedal = (m: number): number => throttle[Math.min(firstAtOrAbove(travel_m, m), travel_m.length - 1)]
  const clock = (m: number): number => time_s[Math.min(firstAtOrAbove(travel_m, m), travel_m.length - 1)]
  let best: { time_s: number; excess: number; at_m: number } | null = null
  let heldSamples: { at_m: number; own: number; over: number }[] = []
  for (let along = 0; along <= reach_m; along += LOOK_M) {
    const at_m = apex.at_m + along
    const driven = (sign * wheelAt(trajectory, at_m)) / peak_1pm
    const beside = (sign * wheelAt(reference, apex.reference_m + along)) / peak_1pm
    const samePlace = (sign * wheelAt(reference, at_m + apex.shift_m)) / peak_1pm
    const over = driven - Math.max(beside, samePlace)
    const rising = pedal(at_m + 4) >= pedal(at_m - 4) - 0.02 && pedal(at_m) > 0.1
    if (over < wanted || !rising) {
      heldSamples = []
      continue
    }
    // A wheel that opens is not held, however far beyond the reference's it is.
    const opened = (since: (typeof heldSamples)[number]): boolean =>
      since.own - driven > opens + OPENS_AS * Math.max(0, since.own - since.over - (driven - over))
    while (heldSamples.length > 0 && opened(heldSamples[0])) heldSamples.shift()
    heldSamples.push({ at_m, own: driven, over })
    const kept = clock(at_m) - clock(heldSamples[0].at_m)
    if (kept > (best?.time_s ?? 0))
      best = { time_s: kept, excess: Math.max(...heldSamples.map((sample) => sample.over)), at_m: heldSamples[0].at_m }
  }
  return best
}

/** Opposite lock held for at least this long is a slide caught (s). */
const CAUGHT_S = 0.1
/** Share of the peak curvature from which a path goes round the corner. */
const GOES_ROUND = 0.3

/**
 * Where the wheel is turned against the corner beyond a share of the peak while the car still goes round it; `doubt_m`: by
 * how much wheel and path may lie apart along the road.
 */
export const caughtOf = (
  trajectory: Trajectory,
  sign: 1 | -1,
  peak_1pm: number,
  from_m: number,
  to_m: number,
  doubt_m: number,
): { against: number; at_m: number } | null => {
  const { travel_m, time_s, wheel_1pm } = trajectory.inputs
  const end = Math.min(firstAtOrAbove(travel_m, to_m), travel_m.length - 1)
  let since = -1
  let against = 0
  for (let i = firstAtOrAbove(travel_m, from_m); i <= end; i++) {
    const value = (-sign * wheel_1pm[i]) / peak_1pm
    const path = Math.min(
      ...[-doubt_m, 0, doubt_m].map((by_m) => (sign * atTravel(trajectory, trajectory.kappa_1pm, travel_m[i] + by_m)) / peak_1pm),
    )
    if (value < thresholds.caught || path < GOES_ROUND) {
      since = -1
      against = 0
      continue
    }
    if (since < 0) since = i
    against = Math.max(against, value)
    if (time_s[i] - time_s[since] >= CAUGHT_S - 1e-6) return { against, at_m: travel_m[since] }
  }
  return null
}
