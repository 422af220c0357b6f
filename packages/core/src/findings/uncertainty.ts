import type { Demands } from '../drive/trajectory.ts'

/**
 * Precision of a log. `offsetNoise_m`: spread of laps on straights with the slow drift removed; `drift_m`: that drift;
 * `wheelNoise_1pm`: spread of the wheel there from lap to lap (1σ each).
 */
export type LogQuality = {
  interval_s: number
  offsetNoise_m: number
  drift_m: number
  /** Sideways error common to all laps, where the circuit has no place on the globe (1σ). */
  positionUncertainty_m: number
  /** Number of laps whose mean the drift was measured from. */
  laps: number
  wheelNoise_1pm: number
  /** False where the log tells how far the car went, but not where it was across the road. */
  positions: boolean
  pedals: boolean
  demands: Demands
  /** By how much demands derived from speed err (g, 1σ); 0 where pedals are recorded. */
  demandNoise_g: number
  steering: boolean
}

/**
 * Twice the standard error of each kind of quantity; what thresholds are widened by. Offsets err more the longer the corner
 * keeps from the straights on which the receiver's drift can be seen.
 */
export type Uncertainty = {
  offset_m: (away_s: number) => number
  /** The same against the edges of the road, where what all laps have in common counts too. */
  edge_m: (away_s: number) => number
  /** Error of the distance between two positions of one pass (m), by the time between them (s). */
  blur_m: (timeBetween_s: number) => number
  along_m: (speed_mps: number) => number
  time_s: number
  share: number
  /** Points of throttle, as a share. */
  throttle: number
  /** Of the wheel as it is in corners (1/m, 1σ). */
  wheel_1pm: number
  bite: (peak_1pm: number) => number
}
