import { TURN_IN_SHARE } from '../path/turning.ts'
import type { Comparison } from './comparison.ts'
import { turnInOf } from './wheel-shape.ts'

/**
 * By how much (m) a turn-in may seem earlier or later by noise: as far as the reference's own wheel takes from a level lower
 * or higher by the doubt. Where it is turned slowly, or stays about the level for a while, that is far.
 */
export const turnInUncertainty = (c: Comparison, speed_mps: number): { early: number; late: number } => {
  const { uncertainty, frame, referenceTrajectory, referenceStart_m, reference } = c
  const along_m = uncertainty.along_m(speed_mps)
  const level_1pm = TURN_IN_SHARE * frame.peak_1pm
  const by_1pm = uncertainty.bite(frame.peak_1pm) * frame.peak_1pm
  const at_m = referenceStart_m + (reference.turnIn_m ?? frame.turnIn_m)
  const passes = (higher_1pm: number): number =>
    turnInOf(referenceTrajectory, frame.sign, level_1pm + higher_1pm, at_m - MAX_DOUBT_M, referenceStart_m + frame.apex_m) ??
    at_m + MAX_DOUBT_M
  const far = (m: number): number => Math.hypot(along_m, Math.min(MAX_DOUBT_M, Math.max(0, m)))
  const early = at_m - passes(-Math.min(by_1pm, 0.9 * level_1pm))
  const late = passes(by_1pm) - at_m
  // Where the wheel rests just below or above the level no hand hits it twice at the same place.
  const rests = (hand: number, noise: number): number => (hand > RESTS_M ? Math.max(hand, noise) : noise)
  return {
    early: far(rests(at_m - passes(-HAND_SHARE * level_1pm), early)),
    late: far(rests(passes(HAND_SHARE * level_1pm) - at_m, late)),
  }
}

/** A hand turns the wheel alike to this share, and a wheel that takes longer than this for so little rests there (m). */
const HAND_SHARE = 0.1
const RESTS_M = 12
/** No turn-in is looked for further away than this (m). */
const MAX_DOUBT_M = 50
