import { atTravel, firstAtOrAbove, type Trajectory, timeOn } from '../drive/trajectory.ts'
import type { BrakingSchool } from '../marks/braking-school.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import { GRAVITY_MPS2 } from '../units/constants.ts'
import type { Comparison, Report } from './comparison.ts'
import type { Braking } from './pedal-shape.ts'
import { turnInUncertainty } from './turn-in-uncertainty.ts'

/** Mistakes of braking and of the time between brake and throttle. */
export const judgeBraking = (c: Comparison, report: Report): void => {
  const { driven, reference } = c
  judgeSlowest(c, report)
  judgeSlowestPlace(c, report)
  if (!reference.brake) {
    judgeLift(c, report)
    return
  }
  if (!driven.brake) return
  // One brake for two corners: where it would have begun for this one alone, and how hard it would have been, nobody knows.
  if (driven.brake.carried !== reference.brake.carried) for (const code of ofTheOnset) report.undecidable(code)
  else {
    judgeOnset(c, driven.brake, reference.brake, report)
    judgePressure(c, driven.brake, reference.brake, report)
  }
  judgeRelease(c, driven.brake, reference.brake, report)
  judgeCoast(c, report)
}

/** What is measured from the first touch of the brake on. */
const ofTheOnset: readonly LogCode[] = ['brake-early', 'brake-late', 'brake-soft', 'brake-slow-build']

/** Place of the first touch of the brake. */
const judgeOnset = (c: Comparison, own: Braking, reference: Braking, report: Report): void => {
  const { onset } = own
  const { onset: wanted } = reference
  const { uncertainty, start_m, referenceStart_m, thresholds: t } = c
  const { speed_mps } = wanted
  const brake_m = onset.at_m - start_m
  const referenceBrake_m = wanted.at_m - referenceStart_m
  const later_m = brake_m - referenceBrake_m
  const along_m = uncertainty.along_m(speed_mps)
  const span = { from_m: Math.min(brake_m, referenceBrake_m), to_m: Math.max(brake_m, referenceBrake_m) }
  const early_m = Math.max(t.brakeEarly_m, t.brakeEarly_s * speed_mps)
  const late_m = Math.max(t.brakeLate_m, t.brakeLate_s * speed_mps)
  const place = { brake_m, referenceBrake_m, later_m, speed_mps }
  report.found('brake-early', span, -later_m, { own: early_m, uncertainty: along_m }, { ...place, allowed_m: -(early_m + along_m) })
  // A slower car that brakes later has made no mistake: late is what takes grace, or has to be made up by braking harder.
  const harder = own.peak_g > (1 + HARDER + 2 * uncertainty.share) * reference.peak_g
  const lost_m = harder ? later_m : graceLost(c, brake_m, referenceBrake_m, GRAVITY_MPS2 * reference.peak_g)
  report.found(
    'brake-late',
    span,
    Math.min(later_m, lost_m),
    { own: late_m, uncertainty: along_m },
    { ...place, allowed_m: late_m + along_m },
  )
}

/** Braking harder than the reference by more than this share makes up for a late brake (on top of the log's error). */
const HARDER = 0.1

/** Share of a deceleration that counts as the least with which the reference slows down. */
const LEAST_SLOWING = 0.3

/**
 * Grace (m) that is lost by slowing down from a later place than the reference. The car's speed there is compared with the
 * reference's at the same place, which has slowed already: all of the way is lost at the reference's first speed, none at its speed there,
 * since then the car has as much road left as the reference has. `deceleration_mps2`: how hard the reference slows down at most.
 */
const graceLost = (
  { trajectory, start_m, referenceTrajectory, referenceStart_m }: Comparison,
  from_m: number,
  reference_m: number,
  deceleration_mps2: number,
): number => {
  const later_m = from_m - reference_m
  const arrived = speedAt(trajectory, start_m + from_m) ** 2
  const first = speedAt(referenceTrajectory, referenceStart_m + reference_m) ** 2
  const there = speedAt(referenceTrajectory, referenceStart_m + from_m) ** 2
  const slowed = Math.max(first - there, 2 * LEAST_SLOWING * deceleration_mps2 * later_m)
  return later_m <= 0 ? later_m : Math.min(later_m, (later_m * (arrived - there)) / slowed)
}

/** Deceleration of a car off the throttle (m/s²). */
const LIFTED_MPS2 = 0.8

/** Pressure and evenness of the braking. */
const judgePressure = (c: Comparison, own: Braking, wanted: Braking, report: Report): void => {
  const { uncertainty, start_m, thresholds: t } = c
  const brake_m = own.onset.at_m - start_m
  const zone = { from_m: brake_m, to_m: own.release.at_m - start_m }
  const softness = own.peak_g / wanted.peak_g
  const shape = softOrSlow(c, own, wanted)
  if (shape === 'soft')
    report.found(
      'brake-soft',
      zone,
      1 - softness,
      { own: 1 - t.softPeak, uncertainty: 2 * uncertainty.share },
      { peak_g: own.peak_g, referencePeak_g: wanted.peak_g, share: softness, allowedShare: t.softPeak },
    )
  if (shape === 'slow')
    report.found(
      'brake-slow-build',
      { from_m: brake_m, to_m: brake_m + own.build_s * wanted.onset.speed_mps },
      own.build_s,
      { own: t.build_s, uncertainty: uncertainty.time_s },
      { build_s: own.build_s, referenceBuild_s: wanted.build_s, allowed_s: t.build_s + uncertainty.time_s },
    )
  if (own.split !== null && wanted.split === null)
    report.found('brake-split', zone, 1, { own: 0, uncertainty: 0 }, { leastShare: own.split, allowedShare: t.splitRelease })
}

/** Time between brake and throttle. */
const judgeCoast = ({ driven, reference, uncertainty, start_m, pedals, thresholds: t }: Comparison, report: Report): void => {
  if (!driven.coast) return
  const pause = reference.coast?.time_s ?? 0
  // Derived demands fade in and out: there it has to be longer.
  const allowed_s = uncertainty.time_s + (pedals ? 0 : FADES_S)
  const from_m = driven.coast.at.at_m - start_m
  report.found(
    'coast',
    { from_m, to_m: from_m + driven.coast.time_s * driven.coast.at.speed_mps },
    pause > t.coast_s ? 0 : driven.coast.time_s,
    { own: t.coast_s, uncertainty: allowed_s },
    { coast_s: driven.coast.time_s, referenceCoast_s: pause, allowed_s: t.coast_s + allowed_s },
  )
}

/** A soft brake and a slow one in the same zone are one finding: the one further past its threshold. */
const softOrSlow = (c: Comparison, own: Braking, wanted: Braking): 'soft' | 'slow' | null => {
  const { uncertainty, thresholds: t } = c
  const zone_s = wanted.release.time_s - wanted.onset.time_s
  const softBy = zone_s > t.softZone_s ? (1 - own.peak_g / wanted.peak_g) / (1 - t.softPeak + 2 * uncertainty.share) : 0
  const slowBy = lags(c, own, wanted) ? own.build_s / (t.build_s + uncertainty.time_s) : 0
  if (softBy <= 1 && slowBy <= 1) return null
  return softBy >= slowBy ? 'soft' : 'slow'
}

/** Delay (s) after which a brake is compared with the reference's, and the share of the reference's build-up below which it lags. */
const LATER_S = 0.25
const LAGS_SHARE = 0.85

/** True if a brake really lags: where it goes in two humps the harder second one alone makes none slow. */
const lags = ({ trajectory, referenceTrajectory }: Comparison, own: Braking, wanted: Braking): boolean => {
  if (!(own.build_s > wanted.build_s + LATER_S)) return false
  const after_s = wanted.build_s + LATER_S
  const shareAt = ({ inputs }: Trajectory, { onset, peak_g }: Braking): number =>
    inputs.brake_g[Math.min(firstAtOrAbove(inputs.time_s, onset.time_s + after_s), inputs.brake_g.length - 1)] / peak_g
  return shareAt(trajectory, own) < LAGS_SHARE * shareAt(referenceTrajectory, wanted)
}

const judgeSlowest = ({ driven, reference, uncertainty, thresholds: t }: Comparison, report: Report): void => {
  const underShare = 1 - driven.slowest_mps / reference.slowest_mps
  const extra = 2 * uncertainty.share
  report.found(
    'brake-over',
    { from_m: driven.slowest_m, to_m: driven.slowest_m },
    underShare,
    { own: t.overSlowed, uncertainty: extra },
    {
      slowest_mps: driven.slowest_mps,
      referenceSlowest_mps: reference.slowest_mps,
      underShare,
      allowedShare: t.overSlowed + extra,
    },
  )
}

/** Peak braking below which a quick release is not reported (g). */
const MIN_DROPPED_G = 0.25
/** Time a foot needs to follow a plan's instantaneous release (s). */
const FOOT_S = 0.12
/** A brake that is derived from speed seems to end later by this (s). */
const FADES_S = 0.1
/** Entry speed counts as faster above this fraction over the reference. */
const FASTER_ENTRY = 0.03

const speedAt = (trajectory: Trajectory, at_m: number): number => atTravel(trajectory, trajectory.speed_mps, at_m)

/** A stretch this near to its slowest speed is as slow (share). */
const AS_SLOW = 0.01

/** The middle of the stretch about a place that is as slow, and half its length (m). */
const slowStretch = (trajectory: Trajectory, at_m: number): { middle_m: number; half_m: number } => {
  const { speed_mps, step_m, first } = trajectory
  const at = Math.min(Math.max(Math.round(at_m / step_m) - first, 0), speed_mps.length - 1)
  const most_mps = (1 + AS_SLOW) * speed_mps[at]
  let [from, to] = [at, at]
  while (from > 0 && speed_mps[from - 1] < most_mps) from--
  while (to < speed_mps.length - 1 && speed_mps[to + 1] < most_mps) to++
  return { middle_m: (first + (from + to) / 2) * step_m, half_m: ((to - from) / 2) * step_m }
}

/** A slowest point before or after the reference's that costs time: speed was given away too soon, or kept for too long. */
const judgeSlowestPlace = (c: Comparison, report: Report): void => {
  const { driven, reference, trajectory, start_m, referenceTrajectory, referenceStart_m, frame, uncertainty, thresholds: t } = c
  const own = slowStretch(trajectory, start_m + driven.slowest_m)
  const due = slowStretch(referenceTrajectory, referenceStart_m + reference.slowest_m)
  const from_m = Math.min(reference.brake ? reference.brake.onset.at_m - referenceStart_m : frame.turnIn_m, frame.turnIn_m)
  const lastKnown_m = (trajectory.first + trajectory.time_s.length - 1) * trajectory.step_m - start_m
  const to_m = Math.min(frame.next_m, lastKnown_m)
  const lost_s =
    timeOn(trajectory, start_m + from_m, start_m + to_m) - timeOn(referenceTrajectory, referenceStart_m + from_m, referenceStart_m + to_m)
  if (lost_s <= t.slowestLost_s + uncertainty.time_s) return
  const slowest_m = own.middle_m - start_m
  const referenceSlowest_m = due.middle_m - referenceStart_m
  const later_m = slowest_m - referenceSlowest_m
  const bound = {
    own: Math.max(t.slowest_m, t.slowest_s * reference.slowest_mps),
    // Where the speed hardly changes its least value lies anywhere.
    uncertainty: Math.hypot(uncertainty.along_m(reference.slowest_mps), own.half_m, due.half_m),
  }
  const span = { from_m: Math.min(slowest_m, referenceSlowest_m), to_m: Math.max(slowest_m, referenceSlowest_m) }
  const evidence = { slowest_m, referenceSlowest_m, later_m, lost_s }
  const allowed_m = bound.own + bound.uncertainty
  report.found('slowest-early', span, -later_m, bound, { ...evidence, allowed_m: -allowed_m })
  report.found('slowest-late', span, later_m, bound, { ...evidence, allowed_m })
}

/** Release of the brake: too late, all at once, in the turn, or before it. */
const judgeRelease = (c: Comparison, own: Braking, wanted: Braking, report: Report): void => {
  const { driven, reference, uncertainty, start_m, referenceStart_m, school, thresholds: t } = c
  if (driven.turnIn_m === null || reference.turnIn_m === null) return
  const release_m = own.release.at_m - start_m
  const referenceRelease_m = wanted.release.at_m - referenceStart_m
  const slow_mps = Math.max(5, own.release.speed_mps)
  const release: Release = {
    own,
    wanted,
    turnIn_m: driven.turnIn_m,
    referenceTurnIn_m: reference.turnIn_m,
    release_m,
    referenceRelease_m,
    slow_mps,
    uncertainty_s: Math.hypot(uncertainty.time_s, uncertainty.along_m(slow_mps) / slow_mps),
    // A reference lap shows its own braking style.
    style: school ?? (referenceRelease_m > reference.turnIn_m + t.inTurn_s * slow_mps ? 'trail' : 'straight'),
  }
  const fasterInTurn = judgeBrakeInTurn(c, release, report)
  if (!fasterInTurn) judgeHold(c, release, report)
  judgeTrail(c, release, report)
  judgeDump(c, release, report)
}

/** A release as driven and as the reference's, in metres from the line, with its error (s, 1σ). */
type Release = {
  own: Braking
  wanted: Braking
  turnIn_m: number
  referenceTurnIn_m: number
  release_m: number
  referenceRelease_m: number
  slow_mps: number
  uncertainty_s: number
  style: BrakingSchool
}

/** A brake carried past turn-in. Returns true if a faster entry explains it, so that the late release is no mistake of its own. */
const judgeBrakeInTurn = (c: Comparison, release: Release, report: Report): boolean => {
  const { start_m, referenceStart_m, thresholds: t } = c
  const { own, wanted, turnIn_m, referenceTurnIn_m, slow_mps, uncertainty_s, style } = release
  const turned_s = own.firmUntil ? (own.firmUntil.at_m - start_m - turnIn_m) / slow_mps : 0
  const referenceTurned_s = wanted.firmUntil ? (wanted.firmUntil.at_m - referenceStart_m - referenceTurnIn_m) / slow_mps : 0
  if (style !== 'straight' || referenceTurned_s >= t.inTurn_s) return false
  const noise_s = Math.hypot(uncertainty_s, turnInUncertainty(c, slow_mps).early / slow_mps) + (c.pedals ? 0 : FADES_S)
  report.found(
    'brake-in-turn',
    { from_m: turnIn_m, to_m: turnIn_m + turned_s * slow_mps },
    turned_s,
    { own: t.inTurn_s, uncertainty: noise_s },
    { inTurn_s: turned_s, allowed_s: t.inTurn_s + noise_s },
  )
  const faster = speedAt(c.trajectory, start_m + turnIn_m) / speedAt(c.referenceTrajectory, referenceStart_m + referenceTurnIn_m) - 1
  return turned_s > t.inTurn_s + noise_s && faster > FASTER_ENTRY
}

/** A brake held longer than the reference's. */
const judgeHold = ({ frame, thresholds: t }: Comparison, release: Release, report: Report): void => {
  const { wanted, release_m, referenceRelease_m, slow_mps, uncertainty_s } = release
  // Still on where the next corner begins it is braking for that one too.
  if (release_m > frame.next_m && referenceRelease_m <= frame.next_m) {
    report.undecidable('brake-hold')
    return
  }
  const held_s = (release_m - referenceRelease_m) / slow_mps
  // A brake that fades slowly has no sharp end.
  const fading_s = 0.5 * (wanted.firmUntil ? Math.max(0, wanted.release.time_s - wanted.firmUntil.time_s) : 0)
  const noise_s = Math.hypot(uncertainty_s, Math.min(fading_s, t.hold_s))
  report.found(
    'brake-hold',
    { from_m: referenceRelease_m, to_m: release_m },
    held_s,
    { own: t.hold_s, uncertainty: noise_s },
    { release_m, referenceRelease_m, held_s, allowed_s: t.hold_s + noise_s },
  )
}

/** No brake left at turn-in where the style carries one in. */
const judgeTrail = ({ thresholds: t }: Comparison, release: Release, report: Report): void => {
  const { turnIn_m, release_m, slow_mps, uncertainty_s, style } = release
  if (style !== 'trail') return
  const gap_s = (turnIn_m - release_m) / slow_mps
  report.found(
    'no-trail',
    { from_m: release_m, to_m: turnIn_m },
    gap_s,
    { own: t.noTrail_s, uncertainty: uncertainty_s },
    { gap_s, allowed_s: t.noTrail_s + uncertainty_s },
  )
}

/** A firm brake let go all at once at turn-in or after it. */
const judgeDump = ({ start_m, uncertainty, pedals, planned, thresholds: t }: Comparison, release: Release, report: Report): void => {
  const { own, wanted, turnIn_m, release_m, slow_mps } = release
  const fallFrom_m = own.fallFrom.at_m - start_m
  // A brake that was hardly pressed cannot be dropped.
  const late = own.peak_g > MIN_DROPPED_G && fallFrom_m > turnIn_m - 0.1 * slow_mps
  if (!pedals || !late) return
  const referenceFall_s = planned ? Math.max(wanted.fall_s, FOOT_S) : wanted.fall_s
  // Between two samples a drop and a quick release look alike.
  if (referenceFall_s - 0.05 < 1.5 * uncertainty.time_s) report.undecidable('brake-dump')
  else if (own.fall_s < t.dump_s + 0.5 * uncertainty.time_s && referenceFall_s > own.fall_s + 0.05)
    report.found(
      'brake-dump',
      { from_m: fallFrom_m, to_m: release_m },
      1,
      { own: 0, uncertainty: 0 },
      { fall_s: own.fall_s, allowed_s: t.dump_s },
    )
}

/** Time lost up to the apex below which an early lift is no mistake (s). */
const MIN_LIFT_LOSS_S = 0.05

/** A corner that the reference only lifts for. */
const judgeLift = (c: Comparison, report: Report): void => {
  const { driven, reference, uncertainty, start_m, referenceStart_m, frame, thresholds: t } = c
  if (!reference.lift) return
  const wanted_m = reference.lift.at_m - referenceStart_m
  const speed_mps = reference.lift.speed_mps
  if (!driven.lift) {
    // Who comes in slower has nothing to lift for.
    if (!driven.brake && driven.slowest_mps >= reference.slowest_mps)
      report.found('lift-missing', { from_m: wanted_m, to_m: frame.apex_m }, 1, { own: 0, uncertainty: 0 }, { referenceLift_m: wanted_m })
    return
  }
  const lift_m = driven.lift.at_m - start_m
  const late_m = Math.max(t.brakeLate_m, t.brakeLate_s * speed_mps)
  const along_m = uncertainty.along_m(speed_mps)
  const lost_m = graceLost(c, lift_m, wanted_m, LIFTED_MPS2)
  report.found(
    'lift-late',
    { from_m: wanted_m, to_m: lift_m },
    Math.min(lift_m - wanted_m, lost_m),
    { own: late_m, uncertainty: along_m },
    { lift_m, referenceLift_m: wanted_m, speed_mps, later_m: lift_m - wanted_m, allowed_m: late_m + along_m },
  )
  const early_m = Math.max(t.brakeEarly_m, t.brakeEarly_s * speed_mps)
  const lost_s =
    timeOn(c.trajectory, start_m + lift_m, start_m + frame.apex_m) -
    timeOn(c.referenceTrajectory, referenceStart_m + lift_m, referenceStart_m + frame.apex_m)
  if (lost_s <= MIN_LIFT_LOSS_S) return
  report.found(
    'lift-early',
    { from_m: lift_m, to_m: wanted_m },
    wanted_m - lift_m,
    { own: early_m, uncertainty: along_m },
    { lift_m, referenceLift_m: wanted_m, speed_mps, later_m: lift_m - wanted_m, lost_s, allowed_m: -(early_m + along_m) },
  )
}
