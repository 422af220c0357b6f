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
