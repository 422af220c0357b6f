import type { Circuit } from '../circuit/circuit.ts'
import { placeAt, wrapStation } from '../circuit/station.ts'
import { atTravel, type Trajectory, wheelAt } from '../drive/trajectory.ts'
import { type KnownCar, trajectoryOfLog } from '../drive/trajectory-of-log.ts'
import type { Log } from '../log/log.ts'
import type { MatchedLog } from '../log/matched-log.ts'
import type { PositionNoise } from '../log/position-noise.ts'
import { fastNoise } from '../log/smooth.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import { median, quantile } from '../solve/robust.ts'
import { type Random, seededRandom } from '../units/random.ts'
import type { ReferenceDrive } from './reference.ts'
import type { TrialOfCode, TrialOfCorner } from './trial.ts'

/** Laps of the trial. */
const LAPS = 14
/** Channels of a log that the trial has too, and the noise of its speeds. */
export type TrialOf = { interval_s: number; noise: PositionNoise; log: Log }

/** A slow error that forgets in half a minute, of a given step. */
const wandering = (normal: () => number, step_m: number, interval_s: number): (() => number) => {
  const keep = Math.exp(-interval_s / 30)
  let at = 0
  return () => {
    at = keep * at + step_m * normal()
    return at
  }
}

/** The reference as a log like this one would have it: laps one after another, with its rate, channels and noise. */
const loggedReference = (
  circuit: Circuit,
  { trajectory, start_m }: ReferenceDrive,
  { interval_s, noise, log }: TrialOf,
  random: Random,
) => {
  const at = (column: Float64Array, m: number): number => atTravel(trajectory, column, m)
  const lapTime_s = at(trajectory.time_s, start_m + circuit.length_m) - at(trajectory.time_s, start_m)
  const count = Math.floor((LAPS * lapTime_s) / interval_s)
  const speedNoise_mps = log.speed_mps ? fastNoise(log.speed_mps) : 0
  const steps = noise.drift_mps * Math.sqrt(interval_s)
  const [alongDrift, acrossDrift] = [wandering(random.normal, steps, interval_s), wandering(random.normal, steps, interval_s)]
  const column = (): Float64Array => new Float64Array(count)
  const out: Log = { time_s: column(), lat_deg: column(), lon_deg: column(), ele_m: column() }
  if (log.speed_mps) out.speed_mps = column()
  if (log.steer_deg) out.steer_deg = column()
  const matched: MatchedLog = { travel_m: column(), offset_m: column(), onCircuit: new Uint8Array(count).fill(1), positionUncertainty_m: 0 }
  const begin_s = at(trajectory.time_s, start_m)
  let entry = 0
  for (let i = 0; i < count; i++) {
    const time_s = i * interval_s
    const lap = Math.floor(time_s / lapTime_s)
    const within_s = begin_s + time_s - lap * lapTime_s
    if (i > 0 && lap !== Math.floor(((i - 1) * interval_s) / lapTime_s)) entry = 0
    while (entry + 1 < trajectory.time_s.length - 1 && trajectory.time_s[entry + 1] < within_s) entry++
    const gap_s = trajectory.time_s[entry + 1] - trajectory.time_s[entry]
    const share = gap_s > 0 ? (within_s - trajectory.time_s[entry]) / gap_s : 0
    const travel_m = (trajectory.first + entry + share) * trajectory.step_m
    out.time_s[i] = time_s
    out.ele_m[i] = placeAt(circuit, wrapStation(travel_m, circuit.length_m), 0).z_m
    matched.travel_m[i] = travel_m - start_m + lap * circuit.length_m + noise.single_m * random.normal() + alongDrift()
    matched.offset_m[i] = at(trajectory.offset_m, travel_m) + noise.single_m * random.normal() + acrossDrift()
    if (out.speed_mps) out.speed_mps[i] = Math.max(0, at(trajectory.speed_mps, travel_m) + speedNoise_mps * random.normal())
    if (out.steer_deg) out.steer_deg[i] = wheelAt(trajectory, travel_m)
  }
  return { log: out, matched }
}

/** Judges one pass of a corner and tells every value that it looked at, also those within their bounds. */
export type Trier = (trajectory: Trajectory, start_m: number, corner: number, see: (code: LogCode, value: number) => void) => void

/**
 * Tries a log's own noise on its reference: what would be found in laps that were driven exactly as the reference is what the log
 * cannot tell from a mistake. From a seed, so that a log is always judged alike. Cost: that of judging some more laps.
 */
export const tryReference = (
  circuit: Circuit,
  corners: number,
  reference: ReferenceDrive,
  of: TrialOf,
  car: KnownCar,
  judge: Trier,
): TrialOfCorner[] => {
  const { log, matched } = loggedReference(circuit, reference, of, seededRandom(0x7e57))
  const trajectory = trajectoryOfLog(circuit, log, matched, car)
  const ofCorners = Array.from({ length: corners }, (_, k) => {
    const seen = new Map<LogCode, number[]>()
    let tried = 0
    // The first lap has no approach, the last no way out.
    for (let lap = 1; lap < LAPS - 1; lap++) {
      tried++
      const inPass = new Map<LogCode, number>()
      judge(trajectory, lap * circuit.length_m, k, (code, value) => inPass.set(code, Math.max(value, inPass.get(code) ?? value)))
      for (const [code, value] of inPass) seen.set(code, [...(seen.get(code) ?? []), value])
    }
    // A value that was not looked at in a pass lay at nothing.
    return new Map(
      [...seen].map(([code, values]) => [
        code,
        [...values, ...new Array<number>(Math.max(0, tried - values.length)).fill(Math.min(0, ...values))],
      ]),
    )
  })
  return together(ofCorners)
}

/** Share of the passes of all corners that strays less than what single corners are taken to stray at least. */
const NEARLY_ALL = 0.985

/** Bias of each code in each corner; what it strays there, and no less than in the corners together: one corner's few passes miss what is rare. */
const together = (ofCorners: readonly ReadonlyMap<LogCode, readonly number[]>[]): TrialOfCorner[] => {
  const codes = new Set(ofCorners.flatMap((seen) => [...seen.keys()]))
  const out = ofCorners.map(() => new Map<LogCode, TrialOfCode>())
  for (const code of codes) {
    const centred = ofCorners.map((seen) => {
      const values = seen.get(code) ?? []
      const bias = values.length > 0 ? median(values) : 0
      return { bias, above: values.map((v) => v - bias), shown: values.some((v) => v > 0) }
    })
    const passes = Math.max(...centred.map((c) => c.above.length))
    // Corners in which a code was never looked at strayed by nothing.
    const all = centred.flatMap(({ above }) => (above.length > 0 ? above : new Array<number>(passes).fill(0)))
    const common = Math.max(0, quantile(all, NEARLY_ALL))
    const often = centred.filter((c) => c.shown).length > 0.25 * centred.length
    centred.forEach(({ bias, above, shown }, k) => {
      out[k].set(code, { bias, spread: Math.max(common, ...above), shown: shown || often })
    })
  }
  return out
}
