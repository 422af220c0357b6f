import type { Circuit } from '../circuit/circuit.ts'
import { distanceAhead } from '../circuit/station.ts'
import type { Venue } from '../circuit/venue.ts'
import type { Line } from '../path/line.ts'
import { cornerReach, type Turning } from '../path/turning.ts'
import type { Profile } from '../profile/profile.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import type { Mark, MarkKind } from './mark.ts'
import { MIN_BRAKING_MPS, SLOWEST_PAST_APEX_M, TOUCH_MPS2 } from './touch.ts'

/** A drop of drive demand to under this share before a corner that needs no brake is a lift. */
const LIFT_SHARE = 0.5
/** All marks of a plan in each corner, in order of travel. Source: handbook definitions of brake, release, turn-in, apex, slowest, throttle and exit. */
export const findMarks = (
  { circuit, corners }: Pick<Venue, 'circuit' | 'corners'>,
  vehicle: Vehicle,
  line: Line,
  profile: Profile,
  turnings: readonly Turning[],
): Mark[] => {
  const n = circuit.count
  const out: Mark[] = []
  corners.forEach((corner, k) => {
    const turning = turnings[k]
    const mark = (kind: MarkKind, i: number): Mark => ({
      kind,
      cornerId: corner.id,
      station_m: circuit.s_m[i],
      offset_m: line.offset_m[i],
      speed_mps: profile.speed_mps[i],
      gear: profile.gear[i],
      time_s: profile.time_s[i],
    })
    const slowest = slowestIn(circuit, turning, profile.speed_mps)
    const previous = turnings[(k - 1 + turnings.length) % turnings.length]
    const room = Math.round(distanceAhead(circuit.s_m[previous.apex], circuit.s_m[turning.apex], circuit.length_m) / circuit.step_m) || n
    const marks = [mark('turn-in', turning.turnIn), mark('apex', turning.apex), mark('slowest', slowest)]
    const zone = brakeZone(profile.ax_mps2, turning.apex, room)
    if (zone && profile.speed_mps[zone.from] - profile.speed_mps[zone.to] > MIN_BRAKING_MPS)
      marks.push(mark('brake', zone.from), mark('release', zone.to))
    else {
      const lift = liftPoint(profile.ax_mps2, slowest, cornerReach(circuit, corners, k).count)
      if (lift !== null) marks.push(mark('lift', lift))
    }
    const next = turnings[(k + 1) % turnings.length]
    const untilNext = (from: number): number => (next.turnIn - from + n) % n || n
    const throttle = throttlePoint(profile.ax_mps2, slowest, untilNext(slowest))
    if (throttle !== null) {
      marks.push(mark('throttle', throttle))
      const full = fullThrottlePoint(vehicle, profile, throttle, untilNext(throttle))
      if (full !== null) marks.push(mark('full-throttle', full))
    }
    if (turning.exit !== null) marks.push(mark('exit', turning.exit))
    const origin = circuit.s_m[(turning.apex - room + 1 + n) % n]
    marks.sort((a, b) => distanceAhead(origin, a.station_m, circuit.length_m) - distanceAhead(origin, b.station_m, circuit.length_m))
    out.push(...marks)
  })
  return out
}

/** Station index of the least speed between turn-in and exit (or a little past the apex). */
const slowestIn = (circuit: Circuit, turning: Turning, speed: Float64Array): number => {
  const n = circuit.count
  const past = Math.round(SLOWEST_PAST_APEX_M / circuit.step_m)
  const end = (turning.apex + past) % n
  let min = turning.turnIn
  for (let i = turning.turnIn; i !== end; i = (i + 1) % n) if (speed[i] < speed[min]) min = i
  return min
}

/** The braking zone that ends last before station `until`, looking back `room` stations; small pauses do not cut it. */
const brakeZone = (ax: Float64Array, until: number, room: number): { from: number; to: number } | null => {
  const n = ax.length
  const pause = 4
  let to = -1
  let from = -1
  for (let back = 0; back < room; back++) {
    const i = (until - back + n) % n
    const braking = ax[i] < -TOUCH_MPS2
    if (braking && to < 0) to = i
    if (braking) from = i
    if (to >= 0 && !braking && (from - i + n) % n > pause) break
  }
  return to < 0 ? null : { from, to }
}

/** Place where the drive demand first falls to half before the slowest point; null where the throttle stays open. */
const liftPoint = (ax: Float64Array, slowest: number, room: number): number | null => {
  const n = ax.length
  let max = 0
  for (let back = 0; back < room; back++) max = Math.max(max, ax[(slowest - back + n) % n])
  if (ax[slowest] > LIFT_SHARE * max) return null
  for (let back = 0; back < room; back++) {
    const i = (slowest - back + n) % n
    if (ax[i] > LIFT_SHARE * max) return (i + 1) % n
  }
  return null
}

/** First station from the slowest point on where drive demand passes the touch level and stays for ten stations. */
const throttlePoint = (ax: Float64Array, slowest: number, room: number): number | null => {
  const n = ax.length
  let run = 0
  for (let on = 0; on < room + 10; on++) {
    run = ax[(slowest + on) % n] > TOUCH_MPS2 ? run + 1 : 0
    if (run === 10) return (slowest + on - 9 + n) % n
  }
  return null
}

/** Drive demand from this share of what engine and drive force give counts as full throttle. */
const FULL_SHARE = 0.97

/** First station from the throttle point on where the engine gives all it has and goes on to for five stations. */
const fullThrottlePoint = (vehicle: Vehicle, profile: Profile, throttle: number, room: number): number | null => {
  const n = profile.speed_mps.length
  let run = 0
  for (let on = 0; on < room + 5; on++) {
    const i = (throttle + on) % n
    const max = Math.min(vehicle.power_W / profile.speed_mps[i], vehicle.maxDriveForce_N) / vehicle.mass_kg
    run = profile.ax_mps2[i] > FULL_SHARE * max ? run + 1 : 0
    if (run === 5) return (throttle + on - 4 + n) % n
  }
  return null
}
