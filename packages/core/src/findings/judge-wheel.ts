import type { Comparison, Report } from './comparison.ts'
import { caughtOf, countSteeringInputs, pinchOf } from './wheel-shape.ts'

/** Mistakes of the wheel: several bites, holding it after the apex, opposite lock. */
export const judgeWheel = (c: Comparison, report: Report): void => {
  const noise = c.uncertainty.bite(c.frame.peak_1pm)
  const turnIn_m = c.driven.turnIn_m ?? c.frame.turnIn_m
  judgeBites(c, turnIn_m, noise, report)
  judgePinch(c, noise, report)
  if (c.steering) judgeCaught(c, turnIn_m, noise, report)
}

/** Several bites at the wheel between turn-in and apex. */
const judgeBites = (c: Comparison, turnIn_m: number, noise: number, report: Report): void => {
  const { driven, reference, trajectory, start_m, referenceTrajectory, referenceStart_m, frame, thresholds: t } = c
  const { sign, peak_1pm } = frame
  // A bite is the greatest swing of many samples: it errs by more than one of them.
  const swinging = SWINGS * noise
  const swing = t.bite + swinging
  // What happens at the apex itself belongs to the way out.
  const until = (from_m: number, apex_m: number): number => apex_m - 0.1 * Math.max(0, apex_m - from_m)
  const counted = countSteeringInputs(trajectory, sign, peak_1pm, start_m + turnIn_m, start_m + until(turnIn_m, driven.apex_m), swing)
  // From the earlier turn-in on: where the wheel rests before the corner both are looked at alike.
  const referenceTurnIn_m = Math.min(turnIn_m, reference.turnIn_m ?? frame.turnIn_m)
  const wanted = countSteeringInputs(
    referenceTrajectory,
    sign,
    peak_1pm,
    referenceStart_m + referenceTurnIn_m,
    referenceStart_m + until(referenceTurnIn_m, reference.apex_m),
    Math.max(0.06, swing - 0.06),
  )
  report.found(
    'steer-notched',
    { from_m: turnIn_m, to_m: driven.apex_m },
    counted.bites > wanted.bites ? counted.depth : 0,
    { own: t.bite, uncertainty: swinging },
    { bites: counted.bites, referenceBites: wanted.bites, at_m: counted.at_m - start_m },
  )
}

/** A wheel held past the apex while the reference opens it. */
const judgePinch = (c: Comparison, noise: number, report: Report): void => {
  const { driven, reference, uncertainty, trajectory, start_m, referenceTrajectory, referenceStart_m, frame, thresholds: t } = c
  if (noise > 2 * t.pinch) {
    report.undecidable('steer-pinched')
    return
  }
  const pinch = pinchOf(
    trajectory,
    referenceTrajectory,
    frame.sign,
    frame.peak_1pm,
    { at_m: start_m + driven.apex_m, reference_m: referenceStart_m + reference.apex_m, shift_m: referenceStart_m - start_m },
    Math.max(20, Math.min(frame.next_m, (frame.exit_m ?? frame.apex_m + 60) - 5) - driven.apex_m),
    t.pinch + noise,
    OPENS + noise,
  )
  if (!pinch) return
  const from_m = pinch.at_m - start_m
  report.found(
    'steer-pinched',
    { from_m, to_m: from_m + pinch.time_s * driven.slowest_mps },
    pinch.time_s,
    { own: t.pinch_s, uncertainty: uncertainty.time_s },
    { held_s: pinch.time_s, excessShare: pinch.excess, allowed_s: t.pinch_s + uncertainty.time_s },
  )
}

/** Opposite lock. */
const judgeCaught = (c: Comparison, turnIn_m: number, noise: number, report: Report): void => {
  const { driven, uncertainty, trajectory, start_m, frame, thresholds: t } = c
  const end_m = Math.min(frame.next_m, (frame.exit_m ?? frame.apex_m + 40) + 10)
  const settle_m = 4 + uncertainty.along_m(driven.slowest_mps)
  const caught = caughtOf(trajectory, frame.sign, frame.peak_1pm, start_m + turnIn_m, start_m + end_m, settle_m)
  if (!caught) return
  const at_m = caught.at_m - start_m
  report.found(
    'steer-caught',
    { from_m: at_m, to_m: at_m },
    caught.against,
    { own: t.caught, uncertainty: noise },
    { againstShare: caught.against, allowedShare: t.caught + noise },
  )
}

/** Maximum opening of a wheel that counts as held, as a share of the peak. */
const OPENS = 0.02
/** Error of the greatest of many swings, in errors of one sample. */
const SWINGS = 3
