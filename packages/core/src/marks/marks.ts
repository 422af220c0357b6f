import type { Circuit } from '../circuit/circuit.ts'
import { distanceAhead, signedDistance } from '../circuit/station.ts'
import type { Venue } from '../circuit/venue.ts'
import type { Line } from '../path/line.ts'
import { cornerReach, type Turning } from '../path/turning.ts'
import type { Profile } from '../profile/profile.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import type { Mark, MarkKind } from './mark.ts'
import { MIN_BRAKING_MPS, SLOWEST_PAST_APEX_M, TOUCH_MPS2 } from './touch.ts'

/** Pauses shorter than this join two stretches of braking (s). */
const PAUSE_S = 0.5
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
  const runs = brakingRuns(profile)
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
    // Two corners that share one apex share its braking, which belongs to the first.
    const room =
      corners.length === 1
        ? n
        : Math.round(distanceAhead(circuit.s_m[previous.apex], circuit.s_m[turning.apex], circuit.length_m) / circuit.step_m)
    const marks = [mark('turn-in', turning.turnIn), mark('apex', turning.apex), mark('slowest', slowest)]
    const zones = zonesOf(runs, profile.speed_mps, previous.apex, room)
    const zone = zones.reduce<BrakingZone | null>((most, other) => (most && most.taken_mps >= other.taken_mps ? most : other), null)
    if (zone && zone.taken_mps > MIN_BRAKING_MPS) {
      const linked = zone.linked && corners.length > 1 ? { beforeApexOf: corners[(k - 1 + corners.length) % corners.length].id } : {}
      marks.push({ ...mark('brake', zone.from), ...linked }, mark('release', zone.to))
      const later = zones.filter((other) => other.taken_mps > MIN_BRAKING_MPS && (other.from - zone.to + n) % n < room)
      for (const dab of later) if (dab !== zone) marks.push(mark('brake-again', dab.from))
    } else {
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
    const fromApex = (m: Mark): number => signedDistance(circuit.s_m[turning.apex], m.station_m, circuit.length_m)
    marks.sort((a, b) => fromApex(a) - fromApex(b))
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

/** A stretch of braking, short pauses included: its first station and its number of stations. */
type BrakingRun = { from: number; length: number }

/** All stretches on which the plan brakes above the touch level, round the closed lap; pauses under half a second join two of them. */
const brakingRuns = ({ ax_mps2, time_s, lapTime_s }: Profile): BrakingRun[] => {
  const n = ax_mps2.length
  const brakes = (i: number): boolean => ax_mps2[i % n] < -TOUCH_MPS2
  // Begin where nothing is braked, so that no stretch is cut at the line.
  const start = ax_mps2.findIndex((a) => a >= -TOUCH_MPS2)
  if (start < 0) return [{ from: 0, length: n }]
  const runs: BrakingRun[] = []
  for (let i = start; i < start + n; i++) {
    if (!brakes(i)) continue
    let length = 1
    while (brakes(i + length)) length++
    runs.push({ from: i % n, length })
    i += length
  }
  const pause_s = (a: BrakingRun, b: BrakingRun): number => {
    const pause = time_s[b.from] - time_s[(a.from + a.length) % n]
    return pause < 0 ? pause + lapTime_s : pause
  }
  const joined: BrakingRun[] = []
  for (const run of runs) {
    const last = joined.at(-1)
    if (last && pause_s(last, run) < PAUSE_S) last.length = ((run.from - last.from + n) % n) + run.length
    else joined.push({ ...run })
  }
  const [first] = joined
  const last = joined.at(-1)
  // The first and the last one may belong together over the line.
  if (last && first !== last && pause_s(last, first) < PAUSE_S) {
    last.length = ((first.from - last.from + n) % n) + first.length
    joined.shift()
  }
  return joined
}

/** Braking for one corner. `taken_mps`: speed taken off between the apexes; `linked`: it begins before the apex of the corner before. */
type BrakingZone = { from: number; to: number; taken_mps: number; linked: boolean }

/** The parts of braking runs that lie between the apex before (not counted) and a corner's apex, in order of travel. */
const zonesOf = (runs: readonly BrakingRun[], speed: Float64Array, before: number, room: number): BrakingZone[] => {
  const n = speed.length
  /** Stations from the apex before on: 1 … room are the corner's own. */
  const ahead = (i: number): number => (i - before + n) % n
  return runs
    .flatMap(({ from, length }): BrakingZone[] => {
      const first = ahead(from)
      const end = first + length - 1
      const parts = [
        { low: Math.max(1, first), high: Math.min(room, end) },
        // A run that begins before the apex of the corner before reaches in from station n on.
        { low: 1, high: Math.min(room, end - n) },
      ]
      return parts
        .filter(({ low, high }) => high >= low)
        .map(({ low, high }) => {
          const to = (before + high) % n
          return { from, to, taken_mps: speed[(before + low) % n] - speed[to], linked: (before + low) % n !== from }
        })
    })
    .sort((a, b) => ahead(a.to) - ahead(b.to))
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
