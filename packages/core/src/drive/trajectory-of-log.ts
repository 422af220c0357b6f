import type { Circuit } from '../circuit/circuit.ts'
import type { Log } from '../log/log.ts'
import type { MatchedLog } from '../log/matched-log.ts'
import { fastNoise, smoothOpen } from '../log/smooth.ts'
import { pickRows, quantile } from '../solve/robust.ts'
import { GRAVITY_MPS2 } from '../units/constants.ts'
import { airDrag_1pm } from '../vehicle/air.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { feltAcceleration, type Mounting } from './accelerometer.ts'
import { atTravel, type DriverInputs, IDLE_G, stationOf, TOUCH_G, type Trajectory } from './trajectory.ts'

/** A pedal channel counts as touched above this share of its range. */
const TOUCH_SHARE = 0.03
/** A usual car: ½ρ·CdA/m of about 0.4/1250. */
const TYPICAL_RESISTANCE: Resistance = { drag_1pm: 0.00032, rolling_g: 0.013 }
/** Speeds are smoothed over this long to either side before they are made into demands (s): noisy ones, and clean ones. */
const DEMAND_HALF_S = { noisy: 0.25, clean: 0.14 } as const
/** A speed channel with less quick noise than this is clean (m/s). */
const CLEAN_SPEED_MPS = 0.03
/** Half of the window over which a path's curvature is computed from positions alone (m). */
const PATH_HALF_M = 8

/** Coast-down resistance: drag per unit mass (1/m, times v²) and rolling resistance (g). Subtracted from derived demands. */
export type Resistance = { drag_1pm: number; rolling_g: number }

/** The resistance of a vehicle. */
export const resistanceOf = (vehicle: Pick<Vehicle, 'dragArea_m2' | 'mass_kg' | 'rolling'>): Resistance => ({
  drag_1pm: airDrag_1pm(vehicle),
  rolling_g: vehicle.rolling,
})

/** Facts about the car beside its log: pressure of full braking, where one log's scale is to hold for a part of it, and resistance. */
export type KnownCar = { fullBrake_bar?: number; resistance?: Resistance }

/** The fixes that are placed on the grid. */
type Fixes = { index: Int32Array; travel_m: Float64Array; time_s: Float64Array }

/** Time between two fixes beyond which the log has a gap (s): more than three of its own intervals. */
const silence_s = (interval_s: number): number => Math.max(0.45, 3.5 * interval_s)

/** The usual time between fixes (s). */
export const typicalInterval = ({ time_s }: Pick<Log, 'time_s'>): number => {
  const intervals = new Float64Array(Math.max(0, time_s.length - 1))
  for (let i = 0; i < intervals.length; i++) intervals[i] = time_s[i + 1] - time_s[i]
  return quantile(intervals, 0.5)
}

/** Fixes on the circuit with rising distance; standing and backward ones say nothing new. */
const usable = (log: Log, matched: MatchedLog): Fixes => {
  const keep: number[] = []
  let last = Number.NEGATIVE_INFINITY
  for (let i = 0; i < log.time_s.length; i++) {
    if (matched.onCircuit[i] === 0 || !(matched.travel_m[i] > last + 1e-6)) continue
    keep.push(i)
    last = matched.travel_m[i]
  }
  return { index: Int32Array.from(keep), travel_m: pickRows(matched.travel_m, keep), time_s: pickRows(log.time_s, keep) }
}

/**
 * Places a log on the even grid of a circuit's stations: linear between fixes, smoothed by the log's rate and noise, with what
 * it lacks derived (speed from time, curvature from the path, demands from speed with slope and air taken out). `drift_m`: what
 * to take off the offset at each fix. Cost: linear in fixes and in stations driven.
 */
export const trajectoryOfLog = (circuit: Circuit, log: Log, matched: MatchedLog, car: KnownCar = {}): Trajectory => {
  const fixes = usable(log, matched)
  const { step_m, count } = circuit
  const first = Math.ceil(fixes.travel_m[0] / step_m)
  const size = Math.max(2, Math.floor(fixes.travel_m[fixes.travel_m.length - 1] / step_m) - first + 1)
  const before = new Int32Array(size)
  const share = new Float64Array(size)
  const covered = new Uint8Array(size)
  const interval_s = typicalInterval(log)
  for (let i = 0, j = 0; i < size; i++) {
    const at = (first + i) * step_m
    while (j + 2 < fixes.travel_m.length && fixes.travel_m[j + 1] <= at) j++
    before[i] = j
    share[i] = (at - fixes.travel_m[j]) / (fixes.travel_m[j + 1] - fixes.travel_m[j])
    covered[i] = fixes.time_s[j + 1] - fixes.time_s[j] > silence_s(interval_s) ? 0 : 1
  }
  const sampled = (column: Float64Array): Float64Array =>
    share.map((part, i) => {
      const a = column[fixes.index[before[i]]]
      const b = column[fixes.index[before[i] + 1]]
      return Number.isFinite(a) ? (Number.isFinite(b) ? a + part * (b - a) : a) : b
    })
  const time_s = share.map((part, i) => fixes.time_s[before[i]] + part * (fixes.time_s[before[i] + 1] - fixes.time_s[before[i]]))
  const usual_mps = (size * step_m) / Math.max(1, time_s[size - 1] - time_s[0])
  const fast_m = fastNoise(matched.offset_m)
  const half = Math.round(Math.min(14, Math.max(interval_s * usual_mps, 4 + 30 * fast_m)) / step_m)
  const offset_m = smoothOpen(sampled(matched.offset_m), half)
  const trajectory: Trajectory = {
    step_m,
    count,
    first,
    time_s,
    speed_mps: new Float64Array(size),
    offset_m,
    kappa_1pm: new Float64Array(size),
    known: covered,
    inputs: { time_s, travel_m: time_s, brake_g: time_s, drive_g: time_s, throttle: time_s, wheel_1pm: time_s, gear: null },
    brakeTouch_g: TOUCH_G,
    driveTouch_g: TOUCH_G,
    idle_g: IDLE_G,
    demands: { source: 'pedals', noise_g: 0 },
  }
  trajectory.kappa_1pm = pathCurvature(circuit, trajectory, smoothOpen(offset_m, Math.max(half, Math.round(PATH_HALF_M / step_m))))
  trajectory.speed_mps = log.speed_mps ? sampled(log.speed_mps) : smoothOpen(speedFromTime(circuit, trajectory), Math.max(3, half))
  addDriverInputs(circuit, trajectory, log, fixes, { ...car, half_s: demandHalf_s(log) })
  if (log.brake_bar && log.throttle_pct) return trajectory
  // A derived demand that noise may bring about is no touch.
  const noise_g = 2 * trajectory.demands.noise_g
  if (!log.brake_bar) trajectory.brakeTouch_g += noise_g
  if (!log.throttle_pct) trajectory.driveTouch_g += noise_g
  trajectory.idle_g = trajectory.driveTouch_g
  return trajectory
}

/** Plan curvature of a path from its offsets by central differences (formula of lineFromOffsets). */
const pathCurvature = (circuit: Circuit, trajectory: Trajectory, offset_m: Float64Array): Float64Array => {
  const n = offset_m.length
  const h = trajectory.step_m
  return offset_m.map((value, i) => {
    const [b, a] = [Math.max(0, i - 1), Math.min(n - 1, i + 1)]
    const at = stationOf(circuit, trajectory, i)
    const dn = (offset_m[a] - offset_m[b]) / ((a - b) * h)
    const ddn = a - b === 2 ? (offset_m[a] - 2 * value + offset_m[b]) / (h * h) : 0
    const kc = circuit.kappa_1pm[at]
    const next = circuit.kappa_1pm[(at + 1) % circuit.count]
    const previous = circuit.kappa_1pm[(at - 1 + circuit.count) % circuit.count]
    const stretch = 1 - value * kc
    const q = stretch * stretch + dn * dn
    const change = -dn * kc - (value * (next - previous)) / (2 * h)
    return (kc + (ddn * stretch - dn * change) / q) / Math.sqrt(q)
  })
}

const speedFromTime = (circuit: Circuit, trajectory: Trajectory): Float64Array => {
  const n = trajectory.time_s.length
  return trajectory.time_s.map((_, i) => {
    const [b, a] = [Math.max(0, i - 1), Math.min(n - 1, i + 1)]
    const path = (a - b) * trajectory.step_m * (1 - trajectory.offset_m[i] * circuit.kappa_1pm[stationOf(circuit, trajectory, i)])
    return path / Math.max(1e-3, trajectory.time_s[a] - trajectory.time_s[b])
  })
}

/** A speed channel that is quiet enough to be read closely. */
const isClean = (log: Log): boolean => log.speed_mps !== undefined && fastNoise(log.speed_mps) < CLEAN_SPEED_MPS

/** Half of the time over which a log's speeds are made into demands (s). */
const demandHalf_s = (log: Log): number => Math.max(isClean(log) ? DEMAND_HALF_S.clean : DEMAND_HALF_S.noisy, 1.2 * typicalInterval(log))

/**
 * By how much demands derived from a log's speeds err (g, 1σ): the slope of a line through N samples of noise σ over a
 * time W errs by σ·√12/(W·√N).
 */
const demandNoise = (log: Log, trajectory: Pick<Trajectory, 'speed_mps'>, half_s: number): number => {
  const interval_s = typicalInterval(log)
  const window_s = 2 * half_s
  const noise_mps = fastNoise(log.speed_mps ?? trajectory.speed_mps)
  return (noise_mps * Math.sqrt(12)) / (window_s * Math.sqrt(Math.max(2, window_s / interval_s))) / GRAVITY_MPS2
}

/** Longitudinal demand in g at the grid, with slope, air and rolling taken out; positive drives. */
const longitudinalDemand = (
  circuit: Circuit,
  trajectory: Trajectory,
  half_s: number,
  { drag_1pm, rolling_g }: Resistance,
): Float64Array => {
  const n = trajectory.speed_mps.length
  const half = (i: number): number => Math.max(1, Math.round((half_s * trajectory.speed_mps[i]) / trajectory.step_m))
  return trajectory.speed_mps.map((v, i) => {
    const reach = half(i)
    const [b, a] = [Math.max(0, i - reach), Math.min(n - 1, i + reach)]
    // The slope of v² by least squares over the window: quiet, and unbent by its middle.
    const middle = (a + b) / 2
    let product = 0
    let square = 0
    for (let k = b; k <= a; k++) {
      product += (k - middle) * trajectory.speed_mps[k] ** 2
      square += (k - middle) ** 2
    }
    const acceleration = square > 0 ? product / square / (2 * trajectory.step_m) : 0
    const grade = circuit.grade_rad[stationOf(circuit, trajectory, i)]
    return acceleration / GRAVITY_MPS2 + Math.sin(grade) + (drag_1pm * v * v) / GRAVITY_MPS2 + rolling_g
  })
}

const max = (column: Float64Array): number => column.reduce((m, v) => (v > m ? v : m), 0) || 1

/** A pedal reading above this (%) is taken as fully pressed, whatever its sensor reads at the end. */
const NEAR_FULL_PCT = 85
/** A throttle column whose maximum stays below this is not in percent (%). */
const MIN_FULL_PCT = 30

/**
 * Reading of a throttle channel at full throttle, from its highest reading: a driver who never floored it, as in the wet, has
 * not shown full throttle.
 */
const fullThrottle = (highest: number): number =>
  highest >= NEAR_FULL_PCT ? highest : highest >= MIN_FULL_PCT ? 100 : Math.max(highest, 1)

/** Pedals, wheel and gear of a log, in the units of {@link DriverInputs}; recorded channels are scaled to demands by least squares. */
const addDriverInputs = (
  circuit: Circuit,
  trajectory: Trajectory,
  log: Log,
  fixes: Fixes,
  { fullBrake_bar, resistance = TYPICAL_RESISTANCE, half_s }: KnownCar & { half_s: number },
): void => {
  const demand = longitudinalDemand(circuit, trajectory, half_s, resistance)
  const felt = log.brake_bar && log.throttle_pct ? null : feltDemand(trajectory, log, fixes, { demand_g: demand, half_s }, resistance)
  if (!(log.brake_bar && log.throttle_pct))
    trajectory.demands = felt
      ? { source: 'accelerations', noise_g: felt.noise_g, mounting: felt.mounting }
      : { source: 'speed', noise_g: demandNoise(log, trajectory, half_s) }
  const recorded = felt !== null || log.brake_bar !== undefined || log.throttle_pct !== undefined || log.steer_deg !== undefined
  const grid = Float64Array.from(demand, (_, i) => (trajectory.first + i) * trajectory.step_m)
  const travel_m = recorded ? fixes.travel_m : grid
  const place = (column: Float64Array): Float64Array => (recorded ? travel_m.map((m) => atTravel(trajectory, column, m)) : column)
  const demandHere = felt ? felt.demand_g : place(demand)
  const speed = place(trajectory.speed_mps)
  const inputs: DriverInputs = {
    time_s: recorded ? fixes.time_s : trajectory.time_s,
    travel_m,
    brake_g: demandHere.map((g) => Math.max(0, -g)),
    drive_g: demandHere.map((g) => Math.max(0, g)),
    throttle: new Float64Array(travel_m.length),
    wheel_1pm: place(trajectory.kappa_1pm),
    gear: log.gear && recorded ? atFixes(log.gear, fixes) : null,
  }
  if (log.brake_bar) trajectory.brakeTouch_g = scaleBrake(inputs, atFixes(log.brake_bar, fixes), fullBrake_bar)
  if (log.throttle_pct) scaleThrottle(inputs, atFixes(log.throttle_pct, fixes), demandHere, speed)
  else inputs.throttle = throttleFromDemand(inputs.drive_g, speed)
  if (log.steer_deg) {
    const angle = atFixes(log.steer_deg, fixes)
    const scale = leastSquares(angle, inputs.wheel_1pm, () => true)
    if (scale !== 0) inputs.wheel_1pm = angle.map((v) => v * scale)
  }
  trajectory.inputs = inputs
}

/** Demands at the fixes as an accelerometer felt them, where the log has one that follows its speed. */
const feltDemand = (
  trajectory: Trajectory,
  log: Log,
  fixes: Fixes,
  { demand_g, half_s }: { demand_g: Float64Array; half_s: number },
  { drag_1pm, rolling_g }: Resistance,
): { demand_g: Float64Array; noise_g: number; mounting: Mounting } | null => {
  if (!log.ax_mps2) return null
  const at = (column: Float64Array): Float64Array => fixes.travel_m.map((m) => atTravel(trajectory, column, m))
  const resisted = at(trajectory.speed_mps.map((v) => (drag_1pm * v * v) / GRAVITY_MPS2 + rolling_g))
  const known = at(demand_g).map((g, i) => g - resisted[i])
  const inG = (column: Float64Array): Float64Array => atFixes(column, fixes).map((a) => a / GRAVITY_MPS2)
  const readings = { time_s: fixes.time_s, first: inG(log.ax_mps2), second: log.ay_mps2 ? inG(log.ay_mps2) : undefined }
  const felt = feltAcceleration(readings, known, half_s)
  return felt && { demand_g: felt.along_g.map((g, i) => g + resisted[i]), noise_g: felt.noise_g, mounting: felt.mounting }
}

/** A channel at the fixes, each gap filled with the value before it. */
const atFixes = (column: Float64Array, { index }: Fixes): Float64Array => {
  const out = new Float64Array(index.length)
  let last = 0
  for (let k = 0; k < out.length; k++) {
    const value = column[index[k]]
    if (Number.isFinite(value)) last = value
    out[k] = last
  }
  return out
}

/** Scales a recorded brake (bar) to the demand derived from speed; returns the demand that counts as touched (g). */
const scaleBrake = (inputs: DriverInputs, brake: Float64Array, fullBrake_bar: number | undefined): number => {
  const full = fullBrake_bar ?? max(brake)
  const scale = leastSquares(brake, inputs.brake_g, (i) => brake[i] > 0.15 * full) || 1 / full
  inputs.brake_g = brake.map((v) => Math.max(0, v) * scale)
  return Math.max(TOUCH_SHARE * full * scale, 0.01)
}

/** Reads a recorded throttle as a share of full, and the drive demand from it and the engine that the log shows. */
const scaleThrottle = (inputs: DriverInputs, pedal: Float64Array, demand: Float64Array, speed_mps: Float64Array): void => {
  const full = fullThrottle(max(pedal))
  inputs.throttle = pedal.map((v) => Math.min(1, Math.max(0, v / full)))
  const power = engineOf(inputs, demand, speed_mps)
  inputs.drive_g = inputs.throttle.map((share, i) => share * power(speed_mps[i]))
}

/** Throttle as a share of the strongest drive that the log shows at each speed, where no pedal was recorded. */
const throttleFromDemand = (drive_g: Float64Array, speed_mps: Float64Array): Float64Array => {
  const top = quantile(
    drive_g.map((g, i) => g * speed_mps[i]),
    0.98,
  )
  const strongest = quantile(drive_g, 0.995)
  return drive_g.map((g, i) => Math.min(1, g / Math.max(1e-6, Math.min(strongest, top / Math.max(speed_mps[i], 1)))))
}

/** Factor that makes one column the other, by least squares over the entries chosen; 0 where there are none. */
const leastSquares = (from: Float64Array, to: Float64Array, chosen: (i: number) => boolean): number => {
  let product = 0
  let square = 0
  for (let i = 0; i < from.length; i++) {
    if (!chosen(i)) continue
    product += from[i] * to[i]
    square += from[i] ** 2
  }
  return square > 0 ? product / square : 0
}

/** Bands of speed in which full throttle is measured, and how many samples each has at least. */
const BANDS = 10
const MIN_IN_BAND = 40
/** Maximum number of samples used to fit the engine; more do not improve the fit. */
const MAX_SAMPLES = 16_384
/** Minimum throttle from which the force at full throttle can be estimated. */
const TELLS_FORCE = 0.06

/**
 * Demand at full throttle (g) by speed, from the log's own demands: in bands of speed the force that fits pedal and demand best
 * (least squares), linear between their middles. Where full throttle is never used, part throttle decides.
 */
const engineOf = (inputs: DriverInputs, demand_g: Float64Array, speed_mps: Float64Array): ((v: number) => number) => {
  const chosen: number[] = []
  const stride = Math.max(1, Math.floor(demand_g.length / MAX_SAMPLES))
  for (let i = 0; i < demand_g.length; i += stride) if (inputs.throttle[i] > TELLS_FORCE && speed_mps[i] > 3) chosen.push(i)
  chosen.sort((a, b) => speed_mps[a] - speed_mps[b])
  const count = Math.max(1, Math.min(BANDS, Math.floor(chosen.length / MIN_IN_BAND)))
  const bands = Array.from({ length: count }, (_, b) => {
    const band = chosen.slice(Math.floor((b * chosen.length) / count), Math.floor(((b + 1) * chosen.length) / count))
    const [throttle, demand] = [band.map((i) => inputs.throttle[i]), band.map((i) => demand_g[i])].map((c) => Float64Array.from(c))
    return {
      speed_mps: band.reduce((sum, i) => sum + speed_mps[i], 0) / Math.max(1, band.length),
      force_g: Math.max(
        MIN_FORCE_G,
        leastSquares(throttle, demand, () => true),
      ),
    }
  })
  return (v) => {
    let k = 0
    while (k + 2 < bands.length && bands[k + 1].speed_mps < v) k++
    const [a, b] = [bands[k], bands[Math.min(k + 1, bands.length - 1)]]
    const share = b.speed_mps > a.speed_mps ? Math.min(1, Math.max(0, (v - a.speed_mps) / (b.speed_mps - a.speed_mps))) : 0
    return a.force_g + share * (b.force_g - a.force_g)
  }
}

/** No engine gives less at full throttle (g). */
const MIN_FORCE_G = 0.02
