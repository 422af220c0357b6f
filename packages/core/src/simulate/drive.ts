import { tangentPlane } from '../circuit/geodesy.ts'
import { placeAt, wrapStation } from '../circuit/station.ts'
import type { Log } from '../log/log.ts'
import type { Plan } from '../plan/plan.ts'
import { degrees } from '../units/convert.ts'
import { type Random, seededRandom } from '../units/random.ts'
import { maxEngineForce } from '../vehicle/engine.ts'
import { engineSpeed } from '../vehicle/gears.ts'
import { type Correction, habitsInLap } from './learning.ts'
import { type Habit, type MadeMistake, type SimulatedLap, simulateLap } from './student.ts'

/**
 * A simulated run. `outLap_m`: how far before the line the log begins; `noise_m`: drifting error of the receiver,
 * `speedNoise_mps`: quick error of its speed (1σ);
 * `dropOuts`: silences of the receiver, on average so many a lap; `paceOf`: the pace of each lap where it is not the plan's;
 * `corrected`: what was said to the student, and in which lap, from which the student learns; `tiring`: growth of every
 * habit's probability a lap. A lap depends on the seed, its number and what was said before it, on nothing later.
 */
export type DriveOptions = {
  laps: number
  seed: number
  rate_hz?: number
  noise_m?: number
  speedNoise_mps?: number
  dropOuts?: number
  outLap_m?: number
  habits?: readonly Habit[]
  /** The first lap in which habits show, 1 by default. */
  habitsFrom?: number
  paceOf?: (lap: number) => number
  corrected?: readonly Correction[]
  tiring?: number
}

/** The log of a simulated run with what the student really did, and the time of the first crossing of the line. */
export type Drive = { log: Log; made: MadeMistake[]; driven: SimulatedLap[]; lapTimes_s: number[]; firstLine_s: number }

/** Laps draw from streams of their own, so that a change in one leaves the others as they are. */
const LAP_SEED = 7919
const wheelbase_m = 2.6
const steeringRatio = 14
const fullBrake_bar = 90

/** Simulates a whole run: an approach to the line, laps, and a little past the line. Simulated, and to be labelled so. */
export const simulateDrive = (plan: Plan, options: DriveOptions): Drive => {
  const { circuit, vehicle } = plan
  const random = seededRandom(options.seed)
  const rate_hz = options.rate_hz ?? 10
  const laps = Array.from({ length: options.laps }, (_, k) => {
    const lap = k + 1
    const habits =
      lap < (options.habitsFrom ?? 1) ? [] : habitsInLap(options.habits ?? [], lap, options.corrected ?? [], options.tiring ?? 0)
    return simulateLap(plan, habits, lap, seededRandom(options.seed + lap * LAP_SEED), options.paceOf?.(lap))
  })
  const timeline = joinLaps(circuit.length_m, circuit.step_m, laps, options.outLap_m ?? 240)
  const plane = tangentPlane(circuit.origin ?? { lat_deg: 0, lon_deg: 0 })
  const count = Math.floor(timeline.duration_s * rate_hz) + 1
  const column = (): Float64Array => new Float64Array(count)
  const log = {
    time_s: column(),
    lat_deg: column(),
    lon_deg: column(),
    ele_m: column(),
    speed_mps: column(),
    throttle_pct: column(),
    brake_bar: column(),
    steer_deg: column(),
    gear: column(),
    rpm: column(),
  }
  const quick = seededRandom(options.seed ^ 0x2545f491)
  const drift = drifting(random.normal, options.noise_m ?? 0, rate_hz)
  for (let i = 0; i < count; i++) {
    const time_s = i / rate_hz
    const at = timeline.at(time_s)
    const place = placeAt(circuit, wrapStation(at.travel_m, circuit.length_m), at.offset_m)
    const [east_m, north_m] = drift()
    const { lat_deg, lon_deg } = plane.toGeodetic(place.x_m + east_m, place.y_m + north_m, place.z_m)
    log.time_s[i] = time_s
    log.lat_deg[i] = lat_deg
    log.lon_deg[i] = lon_deg
    log.ele_m[i] = place.z_m
    log.speed_mps[i] = Math.max(0, at.speed_mps + (options.speedNoise_mps ?? 0) * quick.normal())
    log.throttle_pct[i] = Math.min(100, Math.max(0, (100 * at.ax_mps2) / maxEngineForce(vehicle, at.speed_mps)))
    log.brake_bar[i] = (fullBrake_bar * Math.max(0, -at.ax_mps2)) / vehicle.maxBrake_mps2
    log.steer_deg[i] = degrees(Math.atan(wheelbase_m * at.wheel_1pm)) * steeringRatio
    log.gear[i] = at.gear
    log.rpm[i] = engineSpeed(vehicle, at.speed_mps, at.gear)
  }
  if (options.dropOuts) silence(log, options.dropOuts * options.laps, seededRandom(options.seed ^ 0x5f3759df))
  return {
    log,
    made: laps.flatMap((l) => l.made),
    driven: laps,
    lapTimes_s: laps.map((l) => l.lapTime_s),
    firstLine_s: timeline.firstLine_s,
  }
}

/** Removes fixes in gaps of two to eight seconds, `count` of them on average. */
const silence = (log: Drive['log'], count: number, random: Random): void => {
  const duration_s = log.time_s[log.time_s.length - 1]
  const holes = Array.from({ length: Math.floor(count + random.uniform()) }, () => {
    const from_s = random.uniform() * duration_s
    return { from_s, to_s: from_s + 2 + 6 * random.uniform() }
  })
  const keep = Array.from(log.time_s.keys()).filter((i) => !holes.some((h) => log.time_s[i] > h.from_s && log.time_s[i] < h.to_s))
  for (const [name, column] of Object.entries(log)) log[name as keyof Log] = Float64Array.from(keep, (i) => column[i])
}

/** A first-order Gauss–Markov drift of east and north with a memory of 20 s, the usual form of receiver error. */
const drifting = (normal: () => number, sigma_m: number, rate_hz: number): (() => [number, number]) => {
  const keep = Math.exp(-1 / (20 * rate_hz))
  const fresh = sigma_m * Math.sqrt(1 - keep * keep)
  let east = sigma_m > 0 ? sigma_m * normal() : 0
  let north = sigma_m > 0 ? sigma_m * normal() : 0
  return () => {
    if (sigma_m > 0) {
      east = keep * east + fresh * normal()
      north = keep * north + fresh * normal()
    }
    return [east, north]
  }
}

/** State of the vehicle at one moment. */
type Moment = { travel_m: number; speed_mps: number; offset_m: number; wheel_1pm: number; ax_mps2: number; gear: number }

/** The moments of a run: an approach to the line, its laps and a little past the line. */
type Timeline = { firstLine_s: number; duration_s: number; at: (time_s: number) => Moment }

/** Time that a run goes on after its last lap (s). */
const AFTER_LINE_S = 2

/** Strings laps together, each seamed to the one before over its first stretch so that nothing jumps at the line. */
const joinLaps = (length_m: number, step_m: number, laps: readonly SimulatedLap[], outLap_m: number): Timeline => {
  const [first] = laps
  const last = laps[laps.length - 1]
  const outFrom = Math.max(0, first.time_s.length - Math.round(outLap_m / step_m))
  const firstLine_s = first.lapTime_s - first.time_s[outFrom]
  const starts: number[] = []
  let clock = firstLine_s
  for (const lap of laps) {
    starts.push(clock)
    clock += lap.lapTime_s
  }
  const momentOf = (k: number, since_s: number): Moment => {
    const lap = laps[Math.min(Math.max(k, 0), laps.length - 1)]
    const { moment, stations } = momentOfLap(lap, since_s)
    moment.travel_m = k * length_m + stations * step_m
    if (k > 0 && k < laps.length) easeFrom(laps[k - 1], lap, stations, moment)
    return moment
  }
  const approach = (time_s: number): Moment => {
    const moment = momentOf(0, first.time_s[outFrom] + time_s)
    return { ...moment, travel_m: moment.travel_m - length_m }
  }
  const at = (time_s: number): Moment => {
    if (time_s < firstLine_s) return approach(time_s)
    const k = starts.findLastIndex((s) => s <= time_s)
    const since_s = time_s - starts[k]
    if (since_s < laps[k].lapTime_s) return momentOf(k, since_s)
    return momentOf(k + 1, k + 1 < laps.length ? time_s - starts[k + 1] : since_s - last.lapTime_s)
  }
  return { firstLine_s, duration_s: clock + AFTER_LINE_S, at }
}

/** The state of a lap some time after its start, and how many stations it has come; `travel_m` is left at 0. */
const momentOfLap = (lap: SimulatedLap, since_s: number): { moment: Moment; stations: number } => {
  const n = lap.time_s.length
  const timeAt = (i: number): number => (i === n ? lap.lapTime_s : lap.time_s[i])
  let low = 0
  let high = n
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (timeAt(middle) <= since_s) low = middle
    else high = middle
  }
  const next = (low + 1) % n
  const share = (since_s - timeAt(low)) / (timeAt(low + 1) - timeAt(low))
  const value = (column: Float64Array): number => column[low] * (1 - share) + column[next] * share
  const moment: Moment = {
    travel_m: 0,
    speed_mps: value(lap.speed_mps),
    offset_m: value(lap.offset_m),
    wheel_1pm: value(lap.wheel_1pm),
    ax_mps2: value(lap.ax_mps2),
    gear: lap.gear[share < 0.5 ? low : next],
  }
  return { moment, stations: low + share }
}

/** Eases a lap's first stations into the lap before it. */
const easeFrom = (previous: SimulatedLap, lap: SimulatedLap, stations: number, moment: Moment): void => {
  const seam = Math.max(0, 1 - stations / SEAM_STATIONS)
  const ease = seam * seam * (3 - 2 * seam)
  moment.offset_m += ease * (previous.offset_m[0] - lap.offset_m[0])
  moment.speed_mps += ease * (previous.speed_mps[0] - lap.speed_mps[0])
}

/** A lap is eased into the one before over this many stations. */
const SEAM_STATIONS = 40
