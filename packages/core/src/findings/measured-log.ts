import type { Circuit } from '../circuit/circuit.ts'
import { takeDriftOut } from '../drive/drift.ts'
import type { Trajectory } from '../drive/trajectory.ts'
import { type KnownCar, trajectoryOfLog, typicalInterval } from '../drive/trajectory-of-log.ts'
import { type Lap, type SkippedLap, splitLaps } from '../log/laps.ts'
import type { Log } from '../log/log.ts'
import { matchLog } from '../log/match.ts'
import type { MatchedLog } from '../log/matched-log.ts'
import { wheelNoise } from './quality.ts'
import type { LogQuality } from './uncertainty.ts'

/** A log on a circuit: its laps, and all of it as one trajectory. */
export type MeasuredLog = { log: Log; matched: MatchedLog; laps: Lap[]; skipped: SkippedLap[]; trajectory: Trajectory }

/**
 * Lays a log on a circuit. `expected`: the line on which it is expected (m, left positive); `car`: what is known of its vehicle.
 * @throws CoreError when the log is from elsewhere or holds no whole lap
 */
export const measureLog = (circuit: Circuit, log: Log, expected: () => Float64Array, car: KnownCar): MeasuredLog => {
  const matched = matchLog(circuit, log, expected)
  const { laps, skipped } = splitLaps(circuit, log, matched)
  return { log, matched, laps, skipped, trajectory: trajectoryOfLog(circuit, log, matched, car) }
}

/** Takes the receiver's slow drift out of a log's trajectory, in place, and tells how precise the log is. `straight`: stations away from corners. */
export const cleanOfDrift = (circuit: Circuit, measured: MeasuredLog, straight: Uint8Array): LogQuality => {
  const { log, laps, trajectory, matched } = measured
  const { drift_m, rest_m } = takeDriftOut(circuit, trajectory, laps, straight)
  const pedals = log.brake_bar !== undefined && log.throttle_pct !== undefined
  const positions = Number.isFinite(matched.positionUncertainty_m)
  const steering = log.steer_deg !== undefined
  return {
    interval_s: typicalInterval(log),
    offsetNoise_m: rest_m,
    drift_m,
    positionUncertainty_m: matched.positionUncertainty_m,
    laps: laps.length,
    // A wheel that nothing shows may have been anywhere.
    wheelNoise_1pm: positions || steering ? wheelNoise(circuit, trajectory, laps, straight) : UNSEEN_WHEEL_1PM,
    positions,
    pedals,
    demands: trajectory.demands,
    demandNoise_g: trajectory.demands.noise_g,
    steering,
  }
}

/** Noise of a wheel that neither a sensor nor a path shows (1/m). */
const UNSEEN_WHEEL_1PM = 0.05

/** Quality of a comparison between two logs: in everything that of the worse. */
export const worseOf = (a: LogQuality, b: LogQuality): LogQuality => ({
  interval_s: Math.max(a.interval_s, b.interval_s),
  offsetNoise_m: Math.max(a.offsetNoise_m, b.offsetNoise_m),
  drift_m: Math.max(a.drift_m, b.drift_m),
  // What all laps of one receiver have in common does not cancel against another's.
  positionUncertainty_m: Math.max(a.positionUncertainty_m, b.positionUncertainty_m),
  laps: Math.min(a.laps, b.laps),
  wheelNoise_1pm: Math.max(a.wheelNoise_1pm, b.wheelNoise_1pm),
  positions: a.positions && b.positions,
  pedals: a.pedals && b.pedals,
  demands: a.demands.noise_g >= b.demands.noise_g ? a.demands : b.demands,
  demandNoise_g: Math.max(a.demandNoise_g, b.demandNoise_g),
  steering: a.steering && b.steering,
})
