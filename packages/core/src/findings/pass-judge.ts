import { type Circuit, isWidthAssumed } from '../circuit/circuit.ts'
import { type Trajectory, timeOn } from '../drive/trajectory.ts'
import { type OffsetBounds, offsetBounds } from '../line/bounds.ts'
import { type AnalyseSettings, TYPICAL_WIDTH_M } from './analyse-settings.ts'
import type { Comparison } from './comparison.ts'
import { judgePass } from './judge.ts'
import { type Frame, measurePass, type Pass, tells } from './pass.ts'
import { isSparse, uncertaintyOf } from './quality.ts'
import type { Reference, ReferenceDrive } from './reference.ts'
import { thresholdsOf } from './thresholds.ts'
import type { TrialOfCorner } from './trial.ts'
import type { LogQuality } from './uncertainty.ts'

/** A corner's pass with the reference's pass beside it, and what was judged of it. */
export type JudgedPass = ReturnType<typeof judgePass> & { pass: Pass; reference: Pass }

/** Judges one pass of a corner, given by its number, on any trajectory of the same circuit; null where trajectory or reference has no data. */
export type PassJudge = (trajectory: Trajectory, start_m: number, corner: number, see?: Comparison['see']) => JudgedPass | null

/** Places a vehicle may not drive over, and the lanes it keeps to, as offsets of its middle; the same for all passes. */
export type Limits = { halfWidth_m: number; limits: OffsetBounds; lanes: OffsetBounds | null }

/** The limits that a reference, or else the settings, bring with them. */
export const limitsOf = (circuit: Circuit, reference: Reference, settings: AnalyseSettings): Limits => {
  const plan = reference.kind === 'plan' ? reference.plan : null
  const width_m = plan?.vehicle.width_m ?? settings.width_m ?? TYPICAL_WIDTH_M
  const ground = plan?.ground ?? settings.ground ?? []
  const bounds = (kind: 'lane' | 'closed'): OffsetBounds =>
    offsetBounds(circuit, width_m, 0, {
      ground: ground.filter((item) => (item.kind === 'lane') === (kind === 'lane')),
      closed: ['forbidden'],
    })
  return {
    halfWidth_m: width_m / 2,
    limits: bounds('closed'),
    lanes: ground.some((item) => item.kind === 'lane') ? bounds('lane') : null,
  }
}

/** Judges passes by one log's quality; a corner of the reference is measured when it is first asked for. */
export const judgeOf = (
  circuit: Circuit,
  reference: Reference,
  settings: AnalyseSettings,
  quality: LogQuality,
  referenceDrive: Pick<ReferenceDrive, 'trajectory' | 'start_m' | 'frames'>,
  limits: Limits = limitsOf(circuit, reference, settings),
  trials: readonly TrialOfCorner[] = [],
): PassJudge => {
  const plan = reference.kind === 'plan' ? reference.plan : null
  const uncertainty = uncertaintyOf(quality, reference.kind)
  const thresholds = thresholdsOf(settings.thresholds)
  const noise = { blur_m: uncertainty.blur_m, wheel_1pm: uncertainty.wheel_1pm }
  const { frames } = referenceDrive
  const seconds = (frame: Frame): number =>
    timeOn(referenceDrive.trajectory, referenceDrive.start_m + frame.turnIn_m, referenceDrive.start_m + (frame.exit_m ?? frame.next_m))
  const away_s = frames.map(seconds)
  const measure = (trajectory: Trajectory, k: number, start_m: number): Pass | null =>
    tells(trajectory, frames[k], start_m)
      ? measurePass(circuit, trajectory, frames[k], frames[(k + 1) % frames.length], start_m, noise)
      : null
  const edgesUnknown = (k: number): boolean => {
    const { turnIn_m, next_m } = frames[k]
    const first = Math.floor((((turnIn_m % circuit.length_m) + circuit.length_m) % circuit.length_m) / circuit.step_m)
    return isWidthAssumed(circuit, first, Math.ceil((next_m - turnIn_m) / circuit.step_m) + 1)
  }
  const references = new Map<number, Pass | null>()
  const referenceAt = (k: number): Pass | null => {
    const measuredBefore = references.get(k)
    if (measuredBefore !== undefined) return measuredBefore
    const measured = measure(referenceDrive.trajectory, k, referenceDrive.start_m)
    references.set(k, measured)
    return measured
  }
  return (trajectory, start_m, k, see) => {
    const frame = frames[k]
    const reference = referenceAt(k)
    const driven = reference && measure(trajectory, k, start_m)
    if (!reference || !driven) return null
    const judged = judgePass({
      circuit,
      frame,
      trajectory,
      start_m,
      driven,
      referenceTrajectory: referenceDrive.trajectory,
      referenceStart_m: referenceDrive.start_m,
      reference: reference,
      // Where nobody measured the road its edges are not known.
      uncertainty: {
        ...uncertainty,
        offset_m: uncertainty.offset_m(away_s[k]),
        edge_m: edgesUnknown(k) ? Number.POSITIVE_INFINITY : uncertainty.edge_m(away_s[k]),
      },
      school: plan?.settings.school ?? settings.school ?? null,
      planned: plan !== null,
      compact: plan?.settings.method === 'compact',
      pedals: quality.pedals,
      sparse: isSparse(quality),
      demands: quality.demands.source,
      trial: trials[k],
      see,
      steering: quality.steering,
      thresholds,
      ...limits,
    })
    return { ...judged, pass: driven, reference: reference }
  }
}
