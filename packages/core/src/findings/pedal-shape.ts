import { atTravel, type DriverInputs, firstAtOrAbove, TOUCH_G, type Trajectory } from '../drive/trajectory.ts'
import { MIN_BRAKING_MPS } from '../marks/touch.ts'
import { thresholds } from './thresholds.ts'

/** A moment of a pass: travelled distance (m), time (s) and speed there (m/s). */
export type Moment = { at_m: number; time_s: number; speed_mps: number }

/** Braking for a corner. `build_s`: from touch to nine tenths of the peak; `fall_s`: from most of the peak to nothing. */
export type Braking = {
  onset: Moment
  /** Already on where the window begins: it was begun for the corner before, and its onset is not this corner's. */
  carried: boolean
  release: Moment
  peak_g: number
  build_s: number
  /** Let go and pressed again within the zone: the least share of the peak between, null where it was one application. */
  split: number | null
  fall_s: number
  fallFrom: Moment
  /** The last moment above the brake that counts as braking in the turn; null where it never was. */
  firmUntil: Moment | null
}

/** Opening of the throttle after a corner. `dip`: the deepest lift after the first touch, as a share of travel. */
export type Opening = {
  first: Moment | null
  stays: Moment | null
  dip: { depth: number; at: Moment } | null
  /** `sure`: more than one sample shows it. */
  jab: { rise_s: number; at: Moment; sure: boolean } | null
}

/** A pedal counts as touched when it is kept this long (s). */
const TOUCH_KEPT_S = 0.1
/** Pause that separates two brake applications (s): with and without acceleration in between. */
const PART_S = { withThrottle: 0.3, without: 0.9 }
/** Speed gain from which the car counts as accelerating rather than holding speed (m/s). */
const GAINED_MPS = 0.3
/** Minimum duration of a peak (s). */
const PEAK_S = 0.15
const RELEASE_G = TOUCH_G
/** A throttle dip shorter than this next to a gear change is attributed to the gear change (s). */
const SHIFT_DIP_S = 0.3

/** The moment at which a column passes a level between entries i−1 and i. */
const crossing = (trajectory: Trajectory, column: Float64Array, level: number, i: number): Moment => {
  const { travel_m, time_s } = trajectory.inputs
  const b = Math.max(0, i - 1)
  const change = column[i] - column[b]
  const share = change === 0 ? 1 : Math.min(1, Math.max(0, (level - column[b]) / change))
  const at_m = travel_m[b] + share * (travel_m[i] - travel_m[b])
  return { at_m, time_s: time_s[b] + share * (time_s[i] - time_s[b]), speed_mps: atTravel(trajectory, trajectory.speed_mps, at_m) }
}

/** True if a column stays above a level for a time from entry i on. */
const keptAbove = ({ time_s }: DriverInputs, column: Float64Array, level: number, i: number, kept_s: number): boolean => {
  for (let j = i; j < column.length; j++) {
    if (!(column[j] > level)) return false
    if (time_s[j] - time_s[i] >= kept_s - 1e-6) return true
  }
  return false
}

/** Greatest mean over PEAK_S of a column from one entry to another. */
const heldPeak = ({ time_s }: DriverInputs, column: Float64Array, from: number, to: number): number => {
  let best = 0
  let sum = 0
  let j = from
  for (let i = from; i <= to; i++) {
    sum += column[i]
    while (j < i && time_s[i] - time_s[j] > PEAK_S) sum -= column[j++]
    if (time_s[i] - time_s[from] >= PEAK_S * 0.6 || i === to) best = Math.max(best, sum / (i - j + 1))
  }
  return best
}

/** The window in which a corner's brake is looked for: not before `from_m`, begun before `slowest_m`, ended past `pastFrom_m` and before `until_m`. */
export type BrakeWindow = { from_m: number; pastFrom_m: number; slowest_m: number; until_m: number }

/** The braking of a corner: of all applications in the window the one that takes off most speed; null where there is none. */
export const brakingOf = (trajectory: Trajectory, window: BrakeWindow): Braking | null => {
  const { travel_m, brake_g } = trajectory.inputs
  const begin = firstAtOrAbove(travel_m, window.from_m)
  const end = Math.min(firstAtOrAbove(travel_m, window.until_m), travel_m.length - 1)
  let last = Math.min(firstAtOrAbove(travel_m, window.slowest_m + 1), end)
  let best: (Braking & { taken_mps: number }) | null = null
  while (last > begin) {
    while (last > begin && brake_g[last] <= trajectory.brakeTouch_g) last--
    if (last <= begin) break
    const { first } = zoneBefore(trajectory, begin, last)
    const shape = shapeOf(trajectory, first, last)
    const braking = shape && { ...shape, carried: first <= begin && brake_g[begin] > trajectory.brakeTouch_g }
    if (braking && braking.release.at_m > window.pastFrom_m && braking.taken_mps > (best?.taken_mps ?? 0)) best = braking
    last = first - 1
  }
  return best
}

/** Back from an entry with the brake on to where this application, or the one before it in the same zone, was first touched. */
const zoneBefore = (trajectory: Trajectory, begin: number, last: number): { first: number } => {
  const { brakeTouch_g: touch, driveTouch_g } = trajectory
  const { time_s, travel_m, brake_g, drive_g } = trajectory.inputs
  const speedAt = (i: number): number => atTravel(trajectory, trajectory.speed_mps, travel_m[i])
  let first = last
  let pauseFrom = -1
  let open = false
  for (let i = last; i >= begin; i--) {
    if (brake_g[i] > touch) {
      first = i
      pauseFrom = -1
      open = false
      continue
    }
    if (pauseFrom < 0) pauseFrom = i
    open ||= drive_g[i] > driveTouch_g && speedAt(pauseFrom) > speedAt(i) + GAINED_MPS
    if (time_s[pauseFrom] - time_s[i] > (open ? PART_S.withThrottle : PART_S.without)) break
  }
  return { first }
}

/** The shape of an application of which one sample is known; it is followed to its own end, wherever the window ends. */
const shapeOf = (trajectory: Trajectory, zoneFirst: number, last: number): (Omit<Braking, 'carried'> & { taken_mps: number }) | null => {
  const { inputs, brakeTouch_g: touch } = trajectory
  const { brake_g } = inputs
  const end = brake_g.length - 1
  let first = zoneFirst
  while (first < last && !keptAbove(inputs, brake_g, touch, first, TOUCH_KEPT_S)) {
    first++
    while (first < last && brake_g[first] <= touch) first++
  }
  const released_g = Math.max(touch, RELEASE_G)
  // A foot that rests on the pedal has let go: the brake ends where it last fell below the level of a release.
  let off = Math.min(lastAbove(brake_g, released_g, first, last) + 1, end)
  while (off < end && brake_g[off] > released_g) off++
  const onset = crossing(trajectory, brake_g, touch, first)
  const peak_g = heldPeak(inputs, brake_g, first, off)
  const release = crossing(trajectory, brake_g, released_g, off)
  const taken_mps = onset.speed_mps - atTravel(trajectory, trajectory.speed_mps, Math.max(release.at_m, onset.at_m))
  if (taken_mps < MIN_BRAKING_MPS || peak_g < 2 * touch) return null
  let full = first
  while (full < off && brake_g[full] < 0.9 * peak_g) full++
  const high = lastAbove(brake_g, thresholds.dumpFrom * peak_g, first, off)
  let low = high
  while (low < off && brake_g[low] > Math.max(touch, 0.08 * peak_g)) low++
  const fallFrom = crossing(trajectory, brake_g, thresholds.dumpFrom * peak_g, Math.min(high + 1, end))
  const firm = lastAbove(brake_g, thresholds.inTurn_g, first, off)
  return {
    taken_mps,
    onset,
    release,
    peak_g,
    build_s: Math.max(0, crossing(trajectory, brake_g, 0.9 * peak_g, full).time_s - onset.time_s),
    split: splitOf(brake_g, peak_g, full, off),
    fall_s: Math.max(0, crossing(trajectory, brake_g, Math.max(touch, 0.08 * peak_g), low).time_s - fallFrom.time_s),
    fallFrom,
    firmUntil: firm > first ? crossing(trajectory, brake_g, thresholds.inTurn_g, Math.min(firm + 1, end)) : null,
  }
}

const lastAbove = (column: Float64Array, level: number, from: number, to: number): number => {
  let i = to
  while (i > from && !(column[i] >= level)) i--
  return i
}

/** The least share of the peak between two applications, where the brake was let go and pressed again. */
const splitOf = (brake: Float64Array, peak_g: number, from: number, to: number): number | null => {
  let min = Number.POSITIVE_INFINITY
  let pressed = false
  for (let i = from; i <= to; i++) {
    const share = brake[i] / peak_g
    pressed ||= share > thresholds.splitAgain
    if (pressed && share < thresholds.splitRelease) min = Math.min(min, share)
    if (share > thresholds.splitAgain && min < thresholds.splitRelease) return min
  }
  return null
}

/** The throttle from one place to another: after a corner's brake up to the next corner's. `corner`: where a jab counts. */
export const openingOf = (trajectory: Trajectory, from_m: number, to_m: number, corner: { from_m: number; to_m: number }): Opening => {
  const { inputs } = trajectory
  const { time_s, travel_m, drive_g, throttle, gear } = inputs
  const begin = firstAtOrAbove(travel_m, from_m)
  const end = Math.min(firstAtOrAbove(travel_m, to_m), travel_m.length - 1)
  const level = trajectory.driveTouch_g
  const touched = (i: number): boolean => drive_g[i] > level && keptAbove(inputs, drive_g, level, i, TOUCH_KEPT_S)
  let first = begin
  while (first < end && !touched(first)) first++
  if (first >= end) return { first: null, stays: null, dip: null, jab: jabOf(trajectory, corner) }
  let stays = first
  for (let i = first; i < end; i++) if (drive_g[i] <= level && touched(i + 1)) stays = i + 1
  // The deepest lift: how far the pedal goes back from the most that it had been at before.
  let highest = 0
  let highestAt = first
  let dip: Opening['dip'] = null
  const reopened = mostFrom(throttle, first, end)
  for (let i = first; i < end; i++) {
    if (throttle[i] >= highest) {
      highest = throttle[i]
      highestAt = i
    }
    const depth = highest - throttle[i]
    // A throttle that stays closed was let go for the next corner.
    if (depth <= (dip?.depth ?? 0.02) || reopened[i - first] - throttle[i] < Math.min(REOPENS, depth / 2)) continue
    if (gear && isShift(inputs, gear, highestAt, i, end)) continue
    dip = { depth, at: moment(trajectory, i) }
  }
  return {
    first: momentOf(trajectory, drive_g, level, first),
    stays: momentOf(trajectory, drive_g, level, stays),
    dip,
    jab: jabOf(trajectory, corner),
  }

  function isShift({ time_s: t }: DriverInputs, gears: Float64Array, before: number, at: number, until: number): boolean {
    let after = at
    while (after < until && throttle[after] < highest - 0.1) after++
    return t[after] - t[before] < SHIFT_DIP_S + 0.1 && gears[after] !== gears[before] && time_s[after] > t[before]
  }
}

/** After a dip the throttle opens again by this much of its travel, or by half of the dip. */
const REOPENS = 0.1

/** The most of a column from each entry on. */
const mostFrom = (column: Float64Array, from: number, to: number): Float64Array => {
  const out = new Float64Array(Math.max(0, to - from))
  let most = 0
  for (let i = to - 1; i >= from; i--) {
    most = Math.max(most, column[i])
    out[i - from] = most
  }
  return out
}

const momentOf = (trajectory: Trajectory, column: Float64Array, level: number, i: number): Moment => crossing(trajectory, column, level, i)

const moment = (trajectory: Trajectory, i: number): Moment => ({
  at_m: trajectory.inputs.travel_m[i],
  time_s: trajectory.inputs.time_s[i],
  speed_mps: atTravel(trajectory, trajectory.speed_mps, trajectory.inputs.travel_m[i]),
})

/** The quickest opening from little to most of the pedal within a stretch. */
const jabOf = (trajectory: Trajectory, { from_m, to_m }: { from_m: number; to_m: number }): Opening['jab'] => {
  const { throttle, travel_m, time_s } = trajectory.inputs
  const begin = Math.max(1, firstAtOrAbove(travel_m, from_m))
  const end = Math.min(firstAtOrAbove(travel_m, to_m), travel_m.length - 2)
  let low: Moment | null = null
  let best: Opening['jab'] = null
  for (let i = begin; i <= end; i++) {
    if (throttle[i - 1] < thresholds.jabFrom && throttle[i] >= thresholds.jabFrom)
      low = crossing(trajectory, throttle, thresholds.jabFrom, i)
    if (!low || throttle[i - 1] >= thresholds.jabTo || throttle[i] < thresholds.jabTo) continue
    // One sample alone may be a slip of the sensor.
    const sure = throttle[i + 1] >= thresholds.jabTo || time_s[i + 1] - time_s[i] <= 0.05
    const at = crossing(trajectory, throttle, thresholds.jabTo, i)
    const rise_s = at.time_s - low.time_s
    if (!best || (sure && !best.sure) || (sure === best.sure && rise_s < best.rise_s)) best = { rise_s, at: low, sure }
    low = null
  }
  return best
}

/** The longest time (s) with neither brake nor drive within a stretch, and where it begins. */
export const coastOf = (trajectory: Trajectory, from_m: number, to_m: number): { time_s: number; at: Moment } | null => {
  const { time_s, travel_m, brake_g, drive_g } = trajectory.inputs
  const begin = firstAtOrAbove(travel_m, from_m)
  const end = Math.min(firstAtOrAbove(travel_m, to_m), travel_m.length - 1)
  let best: { time_s: number; at: Moment } | null = null
  let since = -1
  for (let i = begin; i <= end; i++) {
    const free = brake_g[i] <= Math.max(trajectory.idle_g, trajectory.brakeTouch_g) && drive_g[i] <= trajectory.idle_g
    if (!free) {
      since = -1
      continue
    }
    if (since < 0) since = i
    const kept = time_s[i] - time_s[since]
    if (kept > (best?.time_s ?? 0)) best = { time_s: kept, at: moment(trajectory, since) }
  }
  return best
}

/** A lift that takes off less than this (m/s) is none. */
const MIN_LIFT_MPS = 0.7

/** Place of the lift before a corner that is not braked for: the last fall below half of the highest value before it. */
export const liftOf = (trajectory: Trajectory, from_m: number, slowest_m: number, least_mps = MIN_LIFT_MPS): Moment | null => {
  const { throttle, travel_m } = trajectory.inputs
  const begin = firstAtOrAbove(travel_m, from_m)
  const end = Math.min(firstAtOrAbove(travel_m, slowest_m), travel_m.length - 1)
  let highest = 0
  for (let i = begin; i <= end; i++) highest = Math.max(highest, throttle[i])
  const level = 0.5 * highest
  if (highest < 0.3 || throttle[end] > level) {
    let lowest = 1
    for (let i = begin; i <= end; i++) lowest = Math.min(lowest, throttle[i])
    if (highest < 0.3 || lowest > level) return null
  }
  for (let i = end; i > begin; i--) {
    if (!(throttle[i] <= level && throttle[i - 1] > level)) continue
    const lift = crossing(trajectory, throttle, level, i)
    return lift.speed_mps - atTravel(trajectory, trajectory.speed_mps, slowest_m) > least_mps ? lift : null
  }
  return null
}
