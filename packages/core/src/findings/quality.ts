import type { Circuit } from '../circuit/circuit.ts'
import { MEMORY_S } from '../drive/drift.ts'
import { type Trajectory, wheelAt } from '../drive/trajectory.ts'
import type { Lap } from '../log/laps.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import { median, spread } from '../solve/robust.ts'
import type { Frame } from './pass.ts'
import type { LogQuality, Uncertainty } from './uncertainty.ts'

/** Pass and reference are both measured, so the error of their difference is √2 times larger. */
const SQRT2_TWO_MEASUREMENTS = Math.SQRT2
/** Standard deviation of a place that is known to within one interval. */
const UNIFORM_SIGMA = 1 / Math.sqrt(12)
/** The same for the place where a level is passed, which is interpolated between samples. */
const CROSSING = 0.6 * UNIFORM_SIGMA
/** A wheel that is read off the path errs more in bends than on the straights where its noise is measured. */
const PATH_ALONE = 1.6
/** Fraction of the drift that remains visible in corners. */
const SEEN_IN_CORNERS = 0.7
/** Lower bound on lap-to-lap position noise (m). */
const MIN_OFFSET_M = 0.05
/** Demands derived from speed are smoothed over about this long (s). */
const DERIVED_S = 0.12
/** Demands that an accelerometer felt are averaged over less (s). */
const FELT_S = 0.06
/** Two laps are smoothed alike: they differ in time by less, and by more where their demands are noisy (s, and s for each g). */
const DERIVED_ALIKE_S = { least: 0.04, perNoise: 4 } as const
/** Full throttle in the middle of a car's speeds (g). */
const TYPICAL_DRIVE_G = 0.3
/** Lower bound on the error of a throttle derived from speed (fraction of pedal travel). */
const DERIVED_SHARE = 0.01

/** Doubts of comparing a log's passes with a lap of it, with a lap of another drive, or with a plan. */
export const uncertaintyOf = (quality: LogQuality, reference: 'lap' | 'drive' | 'plan'): Uncertainty => {
  const factor = 2 * (reference === 'plan' ? 1 : SQRT2_TWO_MEASUREMENTS)
  const derived_s =
    quality.demands.source === 'accelerations'
      ? FELT_S
      : reference === 'plan'
        ? DERIVED_S
        : Math.min(DERIVED_S, DERIVED_ALIKE_S.least + DERIVED_ALIKE_S.perNoise * quality.demandNoise_g)
  const pedal_s = Math.hypot(quality.interval_s * UNIFORM_SIGMA, quality.pedals ? 0 : derived_s)
  // A Gauss–Markov drift half-way between two places where it is known.
  const bridged = (away_s: number): number => quality.drift_m * Math.sqrt(Math.tanh(away_s / (2 * MEMORY_S))) * SEEN_IN_CORNERS
  // The median of laps errs by a quarter more than their mean.
  const common_m = Math.hypot((1.25 * quality.drift_m) / Math.sqrt(Math.max(1, quality.laps)), quality.positionUncertainty_m)
  const wheel_1pm = quality.wheelNoise_1pm * (quality.steering ? 1 : PATH_ALONE)
  const own_m = Math.max(MIN_OFFSET_M, quality.offsetNoise_m)
  const edge_m = (away_s: number): number => 2 * Math.hypot(own_m, bridged(away_s), common_m)
  const offsets = {
    plan: edge_m,
    lap: (away_s: number): number => factor * Math.hypot(own_m, bridged(away_s)),
    // What the laps of one drive have in common, another drive does not share.
    drive: (away_s: number): number => SQRT2_TWO_MEASUREMENTS * edge_m(away_s),
  }
  return {
    offset_m: offsets[reference],
    edge_m,
    blur_m: (timeBetween_s) => 2 * quality.drift_m * Math.sqrt(2 * (1 - Math.exp(-timeBetween_s / MEMORY_S))),
    along_m: (speed_mps) => factor * Math.hypot(quality.drift_m, speed_mps * quality.interval_s * CROSSING),
    time_s: factor * pedal_s,
    throttle: quality.pedals ? 0.01 : factor * Math.hypot(DERIVED_SHARE, quality.demandNoise_g / TYPICAL_DRIVE_G),
    share: quality.pedals ? 0.005 : 0.01,
    wheel_1pm,
    bite: (peak_1pm) => (factor * wheel_1pm) / peak_1pm,
  }
}

/** Fixes further apart than this show nothing of what hands and feet do between them (s). */
const SPARSE_S = 0.4
/** True for a log of so few fixes that only times, slowest speeds and the line through corners can be read off it. */
export const isSparse = ({ interval_s }: Pick<LogQuality, 'interval_s'>): boolean => interval_s > SPARSE_S
/** What can be told from such a log. */
export const toldWhenSparse: ReadonlySet<LogCode> = new Set(['brake-over', 'apex-missed', 'exit-wide', 'limit-crossed'])

/** Stations away from corners: 1 from a little past an exit to a little before the next turn-in. */
export const straightStations = (circuit: Circuit, frames: readonly Frame[]): Uint8Array => {
  const out = new Uint8Array(circuit.count).fill(1)
  for (const frame of frames) {
    const from = Math.floor((frame.turnIn_m - 15) / circuit.step_m)
    const to = Math.ceil(((frame.exit_m ?? 2 * frame.apex_m - frame.turnIn_m) + 15) / circuit.step_m)
    for (let i = from; i <= to; i++) out[((i % circuit.count) + circuit.count) % circuit.count] = 0
  }
  return out
}

/** Places between which wheels are compared (m). */
const LOOK_M = 6

/** Spread of the wheel from lap to lap on straights (1/m, 1σ). */
export const wheelNoise = (circuit: Circuit, trajectory: Trajectory, laps: readonly Pick<Lap, 'from'>[], straight: Uint8Array): number => {
  const apart: number[] = []
  for (let s_m = 0; s_m < circuit.length_m; s_m += LOOK_M) {
    if (straight[Math.min(circuit.count - 1, Math.floor(s_m / circuit.step_m))] === 0) continue
    const values = laps.slice(0, 8).map((lap) => wheelAt(trajectory, lap.from * circuit.length_m + s_m))
    const middle = values.length > 1 ? median(values) : 0
    for (const value of values) apart.push(value - middle)
  }
  return spread(apart)
}
