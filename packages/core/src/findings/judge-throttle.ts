import { firstAtOrAbove, type Trajectory, timeOn } from '../drive/trajectory.ts'
import type { Comparison, Report } from './comparison.ts'

/** Mistakes of the throttle after a corner. */
export const judgeThrottle = (c: Comparison, report: Report): void => {
  const { driven, reference, uncertainty, start_m, referenceStart_m, frame, thresholds: t } = c
  const opening = driven.opening
  const wanted = reference.opening
  // Where the reference only lifts, letting go is no dip.
  const dip = reference.lift && !reference.brake && !driven.lift ? null : opening.dip
  const depth = dip ? dip.depth - (wanted.dip?.depth ?? 0) : 0
  const depthDoubt = uncertainty.throttle
  if (opening.first && wanted.first && driven.brake && reference.brake) {
    const first_m = opening.first.at_m - start_m
    const referenceFirst_m = wanted.first.at_m - referenceStart_m
    const later_s = (first_m - referenceFirst_m) / Math.max(5, wanted.first.speed_mps)
    const time_s = Math.hypot(uncertainty.time_s, uncertainty.along_m(wanted.first.speed_mps) / Math.max(5, wanted.first.speed_mps))
    const evidence = { throttle_m: first_m, referenceThrottle_m: referenceFirst_m, later_s }
    const span = { from_m: Math.min(first_m, referenceFirst_m), to_m: Math.max(first_m, referenceFirst_m) }
    if (dip && depth > t.dip + depthDoubt && dip.at.time_s - opening.first.time_s < EARLY_WITHIN_S)
      report.found(
        'throttle-early',
        span,
        -later_s,
        { own: t.throttleEarly_s, uncertainty: Math.min(time_s, t.throttleEarly_s * 2) },
        { ...evidence, dipShare: dip.depth, allowed_s: -(t.throttleEarly_s + time_s) },
      )
    report.found(
      'throttle-late',
      span,
      later_s,
      { own: t.throttleLate_s, uncertainty: time_s },
      { ...evidence, allowed_s: t.throttleLate_s + time_s },
    )
  }
  if (dip)
    report.found(
      'throttle-dip',
      { from_m: dip.at.at_m - start_m, to_m: dip.at.at_m - start_m },
      depth,
      { own: t.dip, uncertainty: depthDoubt },
      { dipShare: dip.depth, referenceDipShare: wanted.dip?.depth ?? 0, allowedShare: t.dip + depthDoubt },
    )
  if (!c.pedals) return
  judgeFull(c, report)
  const jab = opening.jab
  const jabFloor_s = wanted.jab ? wanted.jab.rise_s : Number.POSITIVE_INFINITY
  if (jab && !jab.sure) report.undecidable('throttle-jab')
  if (jab?.sure && jab.rise_s < t.jab_s && jabFloor_s > jab.rise_s + 0.1)
    report.found(
      'throttle-jab',
      { from_m: jab.at.at_m - start_m, to_m: Math.min(frame.next_m, jab.at.at_m - start_m + jab.rise_s * jab.at.speed_mps) },
      1,
      { own: 0, uncertainty: 0 },
      { rise_s: jab.rise_s, allowed_s: t.jab_s },
    )
}

/** A dip belongs to the first touch when it follows within this time (s). */
const EARLY_WITHIN_S = 2.5

/** Full throttle: this much of the pedal, kept so long, let go no longer than for a gear change; less than the second share is short of it. */
const FULL = { share: 0.95, kept_s: 0.3, pause_s: 0.5, short: 0.9 } as const

/**
 * Travelled distances at which a trajectory is at full throttle within a stretch: from which on first, from which on to the end but
 * for gear changes, and up to which; null where it never is.
 */
const fullWithin = (
  { inputs: { travel_m, time_s, throttle } }: Trajectory,
  from_m: number,
  to_m: number,
): { first_m: number; lasting_m: number; to_m: number } | null => {
  let since = -1
  let [first, lasting, last] = [-1, -1, -1]
  for (let i = firstAtOrAbove(travel_m, from_m); i < travel_m.length && travel_m[i] < to_m; i++) {
    if (throttle[i] < FULL.share) {
      since = -1
      continue
    }
    if (since < 0) since = i
    if (time_s[i] - time_s[since] < FULL.kept_s) continue
    if (first < 0) first = since
    if (last < 0 || time_s[since] - time_s[last] > FULL.pause_s) lasting = since
    last = i
  }
  return first < 0 ? null : { first_m: travel_m[first], lasting_m: travel_m[lasting], to_m: travel_m[last] }
}

/** Full throttle that comes late after a touch in time, and throttle that stays short of it down to the next corner. */
const judgeFull = (c: Comparison, report: Report): void => {
  const { driven, reference, trajectory, start_m, referenceTrajectory, referenceStart_m, frame, uncertainty, thresholds: t } = c
  const [first, wanted] = [driven.opening.first, reference.opening.first]
  const { travel_m } = trajectory.inputs
  // While a car is still on its way to the next corner nothing is known of it.
  if (!first || !wanted || travel_m[travel_m.length - 1] < start_m + frame.next_m) return
  // On the way out of the corner only: in one that is taken flat nobody is late.
  const out_m = (pass: Comparison['driven'], from_m: number, first_m: number): number => Math.max(first_m, from_m + pass.slowest_m)
  const due = fullWithin(referenceTrajectory, out_m(reference, referenceStart_m, wanted.at_m), referenceStart_m + frame.next_m)
  if (!due || due.lasting_m < referenceStart_m + frame.turnIn_m) return
  const own = fullWithin(trajectory, out_m(driven, start_m, first.at_m), start_m + frame.next_m)
  const due_m = due.lasting_m - referenceStart_m
  const speed_mps = Math.max(5, wanted.speed_mps)
  const touchedLater_s = (first.at_m - start_m - (wanted.at_m - referenceStart_m)) / speed_mps
  if (own && touchedLater_s <= t.throttleLate_s) {
    const full_m = own.first_m - start_m
    const later_m = full_m - due_m
    const bound = {
      own: Math.max(t.fullLate_m, t.fullLate_s * speed_mps),
      uncertainty: uncertainty.along_m(speed_mps) + uncertainty.time_s * speed_mps,
    }
    const allowed_m = bound.own + bound.uncertainty
    report.found('throttle-full-late', { from_m: due_m, to_m: Math.max(due_m, full_m) }, later_m, bound, {
      full_m,
      referenceFull_m: due_m,
      later_m,
      allowed_m,
    })
  }
  // From where both are at full throttle; a foot that lets go for the next corner is not short of it.
  const from_m = Math.max(due_m, own ? own.first_m - start_m : due_m)
  const to_m = own ? Math.min(due.to_m - referenceStart_m, own.to_m - start_m) : due.to_m - referenceStart_m
  const short_s = shortOn(trajectory, start_m + from_m, start_m + to_m)
  const lost_s =
    timeOn(trajectory, start_m + from_m, start_m + to_m) - timeOn(referenceTrajectory, referenceStart_m + from_m, referenceStart_m + to_m)
  if (lost_s > t.shortLost_s + uncertainty.time_s)
    report.found(
      'throttle-short',
      { from_m, to_m: Math.max(from_m, to_m) },
      short_s,
      { own: t.short_s, uncertainty: uncertainty.time_s },
      { short_s, lost_s, allowed_s: t.short_s + uncertainty.time_s },
    )
}

/** Time spent short of full throttle within a stretch (s). */
const shortOn = ({ inputs: { travel_m, time_s, throttle } }: Trajectory, from_m: number, to_m: number): number => {
  let sum_s = 0
  for (let i = Math.max(1, firstAtOrAbove(travel_m, from_m)); i < travel_m.length && travel_m[i] <= to_m; i++)
    if (throttle[i] < FULL.short) sum_s += time_s[i] - time_s[i - 1]
  return sum_s
}
