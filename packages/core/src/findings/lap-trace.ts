import type { Circuit } from '../circuit/circuit.ts'
import { distanceAhead } from '../circuit/station.ts'
import type { Lap } from '../log/laps.ts'
import type { Log } from '../log/log.ts'
import type { MatchedLog } from '../log/match.ts'
import { fastNoise, smoothRound } from '../log/smooth.ts'
import type { Plan } from '../plan.ts'
import { GRAVITY_MPS2 } from '../units/constants.ts'

/**
 * One lap at the circuit's stations, driven or planned, so that both are judged by the same code. `brake` and `throttle`
 * run from 0 to 1 of the channel's greatest value (or are demands in g where pedals are derived); `time_s` is from the
 * start line.
 */
export type LapTrace = {
  time_s: Float64Array
  speed_mps: Float64Array
  offset_m: Float64Array
  kappa_1pm: Float64Array
  brake: Float64Array
  throttle: Float64Array
  lapTime_s: number
  /** Level above which each pedal counts as touched, in the column's own unit. */
  brakeTouch: number
  throttleTouch: number
}

/** How well a log can tell: noise of position across the road (m) and time between fixes (s). */
export type LogQuality = { offsetNoise_m: number; interval_s: number; pedals: boolean; steering: boolean }

/** A pedal channel counts as touched above this share of its range. */
const TOUCH_SHARE = 0.03
/** Demand that counts as a touch where pedals are derived (g). */
const TOUCH_G = 0.05
/** Drag of a usual car on its mass (1/m), to take the air out of derived demands: ½ρ·CdA/m of about 0.4/1250. */
const USUAL_DRAG_1PM = 0.00032
const USUAL_ROLLING_G = 0.013

/** Noise, rate and channels of a log. */
export const logQuality = (log: Log, matched: MatchedLog): LogQuality => {
  const intervals = Array.from(log.time_s.subarray(1), (t, i) => t - log.time_s[i]).sort((a, b) => a - b)
  return {
    offsetNoise_m: fastNoise(matched.offset_m),
    interval_s: intervals[intervals.length >> 1] ?? 0,
    pedals: log.brake_bar !== undefined && log.throttle_pct !== undefined,
    steering: log.steer_deg !== undefined,
  }
}

/** The traces of a log's laps, all with one scale of pedals and steering. Cost: linear in stations and fixes. */
export const lapTraces = (circuit: Circuit, log: Log, matched: MatchedLog, laps: readonly Lap[], quality: LogQuality): LapTrace[] => {
  const most = (column: Float64Array | undefined): number => column?.reduce((m, v) => Math.max(m, v), 0) || 1
  const mostBrake = most(log.brake_bar)
  const mostThrottle = most(log.throttle_pct)
  const traces = laps.map((lap) => traceOf(circuit, log, matched, windowOf(circuit, matched, lap), quality, { mostBrake, mostThrottle }))
  if (log.steer_deg)
    calibrateSteering(
      circuit,
      log,
      matched,
      laps.map((lap) => windowOf(circuit, matched, lap)),
      traces,
    )
  return traces
}

/** A stretch of one lap's length in a log: fixes `first` … `last`, from the travelled distance `from_m` on. */
export type LapWindow = Pick<Lap, 'first' | 'last' | 'start_s' | 'time_s'> & { from_m: number }

/** A lap as a window: from the line it starts at. */
const windowOf = (circuit: Circuit, matched: MatchedLog, lap: Lap): LapWindow => ({
  ...lap,
  from_m: Math.floor(matched.travel_m[lap.first] / circuit.length_m) * circuit.length_m,
})

/**
 * The trace of one lap's length, wherever it begins; pedals in the scale given. Stations behind the beginning of the
 * window hold what was driven a lap before.
 */
export const traceOf = (
  circuit: Circuit,
  log: Log,
  matched: MatchedLog,
  lap: LapWindow,
  quality: LogQuality,
  scale: { mostBrake: number; mostThrottle: number },
): LapTrace => {
  const n = circuit.count
  const sampled = sampleByStation(circuit, log, matched, lap)
  const spacing_m = Math.max(1, (quality.interval_s * circuit.length_m) / lap.time_s)
  const half = smoothingHalf(circuit.step_m, spacing_m, quality.offsetNoise_m)
  const offset_m = smoothRound(sampled.column(matched.offset_m), half)
  const kappa_1pm = pathCurvature(circuit, smoothRound(offset_m, half))
  const derived = speedFromTime(circuit, sampled.time_s, lap.time_s, offset_m)
  const speed_mps = log.speed_mps ? sampled.column(log.speed_mps) : smoothRound(derived, half)
  const trace: LapTrace = {
    time_s: sampled.time_s,
    speed_mps,
    offset_m,
    kappa_1pm,
    brake: new Float64Array(n),
    throttle: new Float64Array(n),
    lapTime_s: lap.time_s,
    brakeTouch: TOUCH_SHARE,
    throttleTouch: TOUCH_SHARE,
  }
  if (log.brake_bar && log.throttle_pct) {
    trace.brake = sampled.column(log.brake_bar).map((v) => v / scale.mostBrake)
    trace.throttle = sampled.column(log.throttle_pct).map((v) => v / scale.mostThrottle)
    return trace
  }
  const demand = lengthwaysDemand(circuit, smoothRound(speed_mps, Math.max(2, half)))
  trace.brake = demand.map((g) => Math.max(0, -g))
  trace.throttle = demand.map((g) => Math.max(0, g))
  trace.brakeTouch = TOUCH_G
  trace.throttleTouch = TOUCH_G
  return trace
}

/** Half window (stations) of the smoothing: at least one fix to either side, wider the noisier the log, 14 m at most. */
const smoothingHalf = (step_m: number, spacing_m: number, noise_m: number): number =>
  Math.round(Math.min(14, Math.max(spacing_m, 4 + 30 * noise_m)) / step_m)

/** Linear interpolation of a lap's fixes at the circuit's stations. */
const sampleByStation = (circuit: Circuit, log: Log, matched: MatchedLog, lap: LapWindow) => {
  const n = circuit.count
  const from = new Int32Array(n)
  const share = new Float64Array(n)
  const start_m = lap.from_m - Math.floor(lap.from_m / circuit.length_m) * circuit.length_m
  const firstStation = Math.ceil(start_m / circuit.step_m) % n
  let j = Math.max(0, lap.first - 1)
  const isOn = (i: number): boolean => matched.onCircuit[i] === 1
  for (let k = 0; k < n; k++) {
    const i = (firstStation + k) % n
    const at = lap.from_m + distanceAhead(start_m, circuit.s_m[i], circuit.length_m)
    while (j + 1 < log.time_s.length - 1 && (!isOn(j + 1) || matched.travel_m[j + 1] < at)) j++
    const a = isOn(j) ? matched.travel_m[j] : matched.travel_m[lap.first]
    const b = matched.travel_m[j + 1]
    from[i] = j
    share[i] = b > a ? Math.min(1, Math.max(0, (at - a) / (b - a))) : 0
  }
  const column = (values: Float64Array): Float64Array => {
    const out = new Float64Array(n)
    for (let i = 0; i < n; i++) {
      const a = values[from[i]]
      const b = values[from[i] + 1]
      out[i] = Number.isFinite(a) ? (Number.isFinite(b) ? a + share[i] * (b - a) : a) : b
    }
    return out
  }
  return { column, time_s: column(log.time_s).map((t) => Math.max(0, t - lap.start_s)) }
}

/** Plan curvature of a path from its offsets by central differences (formula of lineFromOffsets). */
const pathCurvature = (circuit: Circuit, offset_m: Float64Array): Float64Array => {
  const n = circuit.count
  const h = circuit.step_m
  return offset_m.map((value, i) => {
    const next = (i + 1) % n
    const before = (i - 1 + n) % n
    const dn = (offset_m[next] - offset_m[before]) / (2 * h)
    const ddn = (offset_m[next] - 2 * value + offset_m[before]) / (h * h)
    const kc = circuit.kappa_1pm[i]
    const a = 1 - value * kc
    const da = -dn * kc - (value * (circuit.kappa_1pm[next] - circuit.kappa_1pm[before])) / (2 * h)
    const q = a * a + dn * dn
    return (kc + (ddn * a - dn * da) / q) / Math.sqrt(q)
  })
}

const speedFromTime = (circuit: Circuit, time_s: Float64Array, lapTime_s: number, offset_m: Float64Array): Float64Array => {
  const n = circuit.count
  return time_s.map((_, i) => {
    const next = i + 1 === n ? lapTime_s + time_s[0] : time_s[i + 1]
    const before = i === 0 ? time_s[n - 1] - lapTime_s : time_s[i - 1]
    const path = 2 * circuit.step_m * (1 - offset_m[i] * circuit.kappa_1pm[i])
    return path / Math.max(1e-3, next - before)
  })
}

/** Lengthways demand in g with slope, air and rolling of a usual car taken out; positive drives. */
const lengthwaysDemand = (circuit: Circuit, speed_mps: Float64Array): Float64Array => {
  const n = circuit.count
  return speed_mps.map((v, i) => {
    const u = speed_mps[(i + 1) % n] ** 2 - speed_mps[(i - 1 + n) % n] ** 2
    const acceleration = u / (4 * circuit.step_m)
    return acceleration / GRAVITY_MPS2 + Math.sin(circuit.grade_rad[i]) + (USUAL_DRAG_1PM * v * v) / GRAVITY_MPS2 + USUAL_ROLLING_G
  })
}

/**
 * Where steering was recorded it shows the turn-in better than the path does: its angle is scaled to the path's
 * curvature by least squares over the whole log and takes the path curvature's place.
 */
export const calibrateSteering = (
  circuit: Circuit,
  log: Log,
  matched: MatchedLog,
  windows: readonly LapWindow[],
  traces: LapTrace[],
): void => {
  const steers = windows.map((window) => sampleByStation(circuit, log, matched, window).column(log.steer_deg as Float64Array))
  let product = 0
  let square = 0
  traces.forEach((trace, k) => {
    for (let i = 0; i < circuit.count; i++) {
      product += steers[k][i] * trace.kappa_1pm[i]
      square += steers[k][i] ** 2
    }
  })
  if (square === 0) return
  const scale = product / square
  traces.forEach((trace, k) => {
    trace.kappa_1pm = steers[k].map((angle) => angle * scale)
  })
}

/** The plan as a trace. Its pedals are demands in g. */
export const planTrace = (plan: Plan): LapTrace => {
  const { line, profile } = plan
  const demand = profile.ax_mps2.map((a) => a / GRAVITY_MPS2)
  return {
    time_s: profile.time_s,
    speed_mps: profile.speed_mps,
    offset_m: line.offset_m,
    kappa_1pm: line.kappa_1pm,
    brake: demand.map((g) => Math.max(0, -g)),
    throttle: demand.map((g) => Math.max(0, g)),
    lapTime_s: profile.lapTime_s,
    brakeTouch: TOUCH_G,
    throttleTouch: TOUCH_G,
  }
}
