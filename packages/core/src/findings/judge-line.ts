import { atTravel, gridSpan, stationOf } from '../drive/trajectory.ts'
import type { Comparison, Report } from './comparison.ts'
import { turnInUncertainty } from './turn-in-uncertainty.ts'

/** Mistakes of the line: where the car was turned in, nearest the inner edge, and how much road it used. */
export const judgeLine = (c: Comparison, report: Report): void => {
  judgeTurnIn(c, report)
  judgeApex(c, report)
  judgeExit(c, report)
  judgeLimits(c, report)
  judgeWidth(c, report)
}

const judgeTurnIn = (c: Comparison, report: Report): void => {
  const { driven, reference, uncertainty, trajectory, start_m, thresholds: t } = c
  if (driven.turnIn_m === null || reference.turnIn_m === null) return
  const speed_mps = atTravel(c.referenceTrajectory, c.referenceTrajectory.speed_mps, c.referenceStart_m + reference.turnIn_m)
  const later_m = driven.turnIn_m - reference.turnIn_m
  const allowed_m = Math.max(t.turnIn_m, t.turnIn_s * speed_mps)
  const extra = turnInUncertainty(c, speed_mps)
  const evidence = { turnIn_m: driven.turnIn_m, referenceTurnIn_m: reference.turnIn_m, later_m }
  const span = { from_m: Math.min(driven.turnIn_m, reference.turnIn_m), to_m: Math.max(driven.turnIn_m, reference.turnIn_m) }
  report.found(
    'turn-in-early',
    span,
    -later_m,
    { own: allowed_m, uncertainty: extra.early },
    { ...evidence, allowed_m: -(allowed_m + extra.early) },
  )
  report.found(
    'turn-in-late',
    span,
    later_m,
    { own: allowed_m, uncertainty: extra.late },
    { ...evidence, allowed_m: allowed_m + extra.late },
  )
  if (driven.setupOuter_m === null || reference.setupOuter_m === null) return
  const short_m = driven.setupOuter_m - reference.setupOuter_m
  const at_m = driven.turnIn_m
  // Where the path still crosses the road the place of the turn-in matters.
  const referenceAt = (by_m: number): number =>
    atTravel(c.referenceTrajectory, c.referenceTrajectory.offset_m, c.referenceStart_m + (reference.turnIn_m ?? 0) + by_m)
  const crossed_m = Math.max(...[-extra.early, extra.late].map((by_m) => Math.abs(referenceAt(by_m) - referenceAt(0))))
  const setupDoubt_m = Math.hypot(uncertainty.offset_m, crossed_m)
  report.found(
    'setup-narrow',
    { from_m: at_m, to_m: at_m },
    short_m,
    { own: t.setupNarrow_m, uncertainty: setupDoubt_m },
    {
      outer_m: driven.setupOuter_m,
      referenceOuter_m: reference.setupOuter_m,
      short_m,
      speed_mps: atTravel(trajectory, trajectory.speed_mps, start_m + at_m),
      allowed_m: t.setupNarrow_m + setupDoubt_m,
    },
  )
}

const judgeApex = ({ driven, reference, uncertainty, frame, thresholds: t }: Comparison, report: Report): void => {
  const further_m = driven.apexInner_m - reference.apexInner_m
  report.found(
    'apex-missed',
    { from_m: driven.apex_m, to_m: driven.apex_m },
    further_m,
    { own: t.apexMissed_m, uncertainty: uncertainty.offset_m },
    {
      inner_m: driven.apexInner_m,
      referenceInner_m: reference.apexInner_m,
      further_m,
      allowed_m: t.apexMissed_m + uncertainty.offset_m,
    },
  )
  const later_m = driven.apex_m - reference.apex_m
  const allowed_m = Math.max(t.apexPlace_m, t.apexPlace * frame.length_m)
  const extra = Math.max(driven.apexFlat_m, reference.apexFlat_m)
  const evidence = { apex_m: driven.apex_m, referenceApex_m: reference.apex_m, later_m }
  const span = { from_m: Math.min(driven.apex_m, reference.apex_m), to_m: Math.max(driven.apex_m, reference.apex_m) }
  report.found('apex-early', span, -later_m, { own: allowed_m, uncertainty: extra }, { ...evidence, allowed_m: -(allowed_m + extra) })
  report.found('apex-late', span, later_m, { own: allowed_m, uncertainty: extra }, { ...evidence, allowed_m: allowed_m + extra })
}

/** Pedal travel from which on the throttle counts as full. */
const FULL = 0.85

const judgeExit = ({ driven, reference, uncertainty, halfWidth_m, thresholds: t }: Comparison, report: Report): void => {
  if (driven.exitOuter_m === null || reference.exitOuter_m === null || driven.exit_m === null) return
  const span = { from_m: driven.exit_m, to_m: driven.exit_m }
  const margin_m = driven.exitOuter_m - halfWidth_m
  const referenceMargin_m = reference.exitOuter_m - halfWidth_m
  const wanted_m = referenceMargin_m < t.exitOwnMargin_m ? 0 : t.exitWide_m
  // What counts is the way past the wanted margin; as much as the least margin itself is within anybody's reach.
  report.found(
    'exit-wide',
    span,
    wanted_m - margin_m + t.exitWide_m,
    { own: t.exitWide_m, uncertainty: uncertainty.edge_m },
    { margin_m, referenceMargin_m, wanted_m: wanted_m - uncertainty.edge_m },
  )
  const left_m = driven.exitOuter_m - reference.exitOuter_m
  // Full throttle, or as much of it as the reference takes there.
  if (driven.exitThrottle > Math.min(FULL, 0.9 * reference.exitThrottle))
    report.found(
      'exit-unused',
      span,
      left_m,
      { own: t.exitUnused_m, uncertainty: uncertainty.offset_m },
      { outer_m: driven.exitOuter_m, referenceOuter_m: reference.exitOuter_m, left_m, allowed_m: t.exitUnused_m + uncertainty.offset_m },
    )
}

/** Smallest excursion that counts as crossing an edge (m). */
const MIN_OVER_M = 0.1
const WORST_OF_MANY = 1.4
/** Position error above which crossing an edge is undecidable (m). */
const LIMIT_TELLS_M = 0.5

/** Reports wheels over an edge or closed band, or out of the lane. Excursions of the reference itself are subtracted. */
const judgeLimits = (c: Comparison, report: Report): void => {
  const { circuit, trajectory, start_m, frame, driven, limits, lanes, uncertainty } = c
  const from_m = start_m + frame.turnIn_m - 40
  const to_m = start_m + Math.min(frame.next_m, (frame.exit_m ?? frame.apex_m) + 40)
  const exit = driven.exit_m === null ? null : { from_m: start_m + driven.exit_m - 35, to_m: start_m + driven.exit_m + 35 }
  const { from, to } = gridSpan(trajectory, from_m, to_m)
  const worst = { limit: { by: 0, at: from, inside: 0 }, lane: { by: 0, at: from } }
  for (let i = from; i <= to; i++) {
    const at = stationOf(circuit, trajectory, i)
    const travel = (trajectory.first + i) * trajectory.step_m
    const offset = trajectory.offset_m[i]
    const reference = atTravel(c.referenceTrajectory, c.referenceTrajectory.offset_m, travel - start_m + c.referenceStart_m)
    const over = (bounds: { low_m: Float64Array; high_m: Float64Array }, n: number): number =>
      Math.max(bounds.low_m[at] - n, n - bounds.high_m[at])
    const beyond = (bounds: { low_m: Float64Array; high_m: Float64Array }): number =>
      over(bounds, offset) - Math.max(0, over(bounds, reference))
    const outward = frame.sign * (offset - reference) < 0
    if (!(exit && outward && travel > exit.from_m && travel < exit.to_m) && beyond(limits) > worst.limit.by)
      worst.limit = { by: beyond(limits), at: i, inside: outward ? 0 : 1 }
    if (lanes && beyond(lanes) > worst.lane.by) worst.lane = { by: beyond(lanes), at: i }
  }
  const place = (i: number): { from_m: number; to_m: number } => {
    const at_m = (trajectory.first + i) * trajectory.step_m - start_m
    return { from_m: at_m, to_m: at_m }
  }
  // An edge has no tolerance of its own: only what the log cannot tell.
  // Of the many places looked at the worst errs by more than one of them.
  const least_m = MIN_OVER_M + WORST_OF_MANY * uncertainty.edge_m
  const bound = { own: 0, uncertainty: least_m }
  if (worst.limit.by > least_m)
    report.found('limit-crossed', place(worst.limit.at), worst.limit.by, bound, { over_m: worst.limit.by, inside: worst.limit.inside })
  else if (least_m > LIMIT_TELLS_M) report.undecidable('limit-crossed')
  if (worst.lane.by > least_m) report.found('wrong-lane', place(worst.lane.at), worst.lane.by, bound, { over_m: worst.lane.by })
}

/** Road that is used although it buys nothing: before the corner, where a compact line keeps short. */
const judgeWidth = (c: Comparison, report: Report): void => {
  if (!c.compact) return
  const { trajectory, start_m, frame, uncertainty, thresholds: t } = c
  const { from, to } = gridSpan(trajectory, start_m + frame.turnIn_m - 90, start_m + frame.turnIn_m - 10)
  let max = 0
  let at = from
  for (let i = from; i <= to; i++) {
    const travel = (trajectory.first + i) * trajectory.step_m
    const wider =
      -frame.sign *
      (trajectory.offset_m[i] - atTravel(c.referenceTrajectory, c.referenceTrajectory.offset_m, travel - start_m + c.referenceStart_m))
    if (wider > max) {
      max = wider
      at = i
    }
  }
  const at_m = (trajectory.first + at) * trajectory.step_m - start_m
  report.found(
    'too-much-road',
    { from_m: at_m, to_m: at_m },
    max,
    { own: t.tooMuchRoad_m, uncertainty: uncertainty.offset_m },
    { wider_m: max, allowed_m: t.tooMuchRoad_m + uncertainty.offset_m },
  )
}
