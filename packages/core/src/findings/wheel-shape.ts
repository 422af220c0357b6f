import { thresholds } from './thresholds.ts'
import { atTravel, firstAtOrAbove, type Way } from './way.ts'

/** The curvature that a wheel asks for, at a travelled distance (1/m). */
export const wheelAt = (way: Way, travel_m: number): number => {
  const { travel_m: column, wheel_1pm } = way.feet
  const i = Math.min(Math.max(1, firstAtOrAbove(column, travel_m)), column.length - 1)
  const gap = column[i] - column[i - 1]
  const share = gap > 0 ? Math.min(1, Math.max(0, (travel_m - column[i - 1]) / gap)) : 1
  return wheel_1pm[i - 1] + share * (wheel_1pm[i] - wheel_1pm[i - 1])
}

/** Turning must last this long to count as the turn-in (s). */
const TURN_KEPT_S = 0.5

/** The first place in a stretch from which the wheel stays above a level (1/m, positive into the corner) for half a second. */
export const turnInOf = (way: Way, sign: 1 | -1, level_1pm: number, from_m: number, to_m: number): number | null => {
  const { travel_m, time_s, wheel_1pm } = way.feet
  const end = Math.min(firstAtOrAbove(travel_m, to_m), travel_m.length - 1)
  let since = -1
  for (let i = firstAtOrAbove(travel_m, from_m); i < travel_m.length; i++) {
    if (!(sign * wheel_1pm[i] > level_1pm)) {
      since = -1
      if (i > end) return null
      continue
    }
    if (since < 0) {
      if (i > end) return null
      since = i
    }
    if (time_s[i] - time_s[since] < TURN_KEPT_S) continue
    const b = Math.max(0, since - 1)
    const rise = sign * (wheel_1pm[since] - wheel_1pm[b])
    const share = rise > 0 ? Math.min(1, Math.max(0, (level_1pm - sign * wheel_1pm[b]) / rise)) : 1
    return travel_m[b] + share * (travel_m[since] - travel_m[b])
  }
  return null
}

/**
 * How often the wheel goes back and up again by a share of the peak: 1 is one turn of the wheel. `depth`: how far it went
 * back before the deepest bite.
 */
export const bitesOf = (
  way: Way,
  sign: 1 | -1,
  peak_1pm: number,
  from_m: number,
  to_m: number,
  swing: number,
): { bites: number; at_m: number; depth: number } => {
  const { travel_m, wheel_1pm } = way.feet
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

/** Step at which wheels are compared (m). */
const LOOK_M = 2

/**
 * The longest time after the apex that the wheel is held well beyond the reference's and not opened, while the throttle
 * rises: seconds, the excess (share of the peak) and where it begins. Both are looked at from their own apex and at the
 * same place; `shift_m` leads from the way's distances to the reference's.
 */
export const pinchOf = (
  way: Way,
  reference: Way,
  sign: 1 | -1,
  peak_1pm: number,
  apex: { at_m: number; reference_m: number; shift_m: number },
  reach_m: number,
  wanted: number,
): { time_s: number; excess: number; at_m: number } | null => {
  const { travel_m, time_s, throttle } = way.feet
  const pedal = (m: number): number => throttle[Math.min(firstAtOrAbove(travel_m, m), travel_m.length - 1)]
  const clock = (m: number): number => time_s[Math.min(firstAtOrAbove(travel_m, m), travel_m.length - 1)]
  let best: { time_s: number; excess: number; at_m: number } | null = null
  let since: number | null = null
  let excess = 0
  for (let along = 0; along <= reach_m; along += LOOK_M) {
    const at_m = apex.at_m + along
    const own = (sign * wheelAt(way, at_m)) / peak_1pm
    const beside = (sign * wheelAt(reference, apex.reference_m + along)) / peak_1pm
    const samePlace = (sign * wheelAt(reference, at_m + apex.shift_m)) / peak_1pm
    const over = own - Math.max(beside, samePlace)
    const rising = pedal(at_m + 4) >= pedal(at_m - 4) - 0.02 && pedal(at_m) > 0.1
    if (over < wanted || !rising) {
      since = null
      excess = 0
      continue
    }
    since ??= at_m
    excess = Math.max(excess, over)
    const kept = clock(at_m) - clock(since)
    if (kept > (best?.time_s ?? 0)) best = { time_s: kept, excess, at_m: since }
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
  way: Way,
  sign: 1 | -1,
  peak_1pm: number,
  from_m: number,
  to_m: number,
  doubt_m: number,
): { against: number; at_m: number } | null => {
  const { travel_m, time_s, wheel_1pm } = way.feet
  const end = Math.min(firstAtOrAbove(travel_m, to_m), travel_m.length - 1)
  let since = -1
  let against = 0
  for (let i = firstAtOrAbove(travel_m, from_m); i <= end; i++) {
    const value = (-sign * wheel_1pm[i]) / peak_1pm
    const path = Math.min(...[-doubt_m, 0, doubt_m].map((by_m) => (sign * atTravel(way, way.kappa_1pm, travel_m[i] + by_m)) / peak_1pm))
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
