import type { Circuit } from '../circuit/circuit.ts'
import type { Corner } from '../circuit/corners.ts'
import { atStation, distanceAhead } from '../circuit/station.ts'
import { type CornerTrace, laterBy } from './driven-marks.ts'
import type { LapTrace, LogQuality } from './lap-trace.ts'
import { type LogCode, thresholds } from './mistakes.ts'

/** What was measured, what the reference did, and what was allowed; names carry their units. */
export type Evidence = Readonly<Record<string, number>>

/** A mistake with evidence, in one corner of one lap. */
export type JudgedMistake = { code: LogCode; station_m: number; evidence: Evidence }

/** Twice the standard error of an offset after smoothing, and of a mark's station. */
type Doubt = { offset_m: number; station_m: number; speedShare: number }

/** How far each quantity may be off by the log's noise and rate alone (two standard errors). */
const doubtOf = (quality: LogQuality, speed_mps: number): Doubt => {
  const spacing_m = Math.max(0.5, quality.interval_s * speed_mps)
  const averaged = Math.max(1, 16 / spacing_m)
  return {
    offset_m: (2 * quality.offsetNoise_m) / Math.sqrt(averaged),
    station_m: 2 * Math.hypot(quality.offsetNoise_m, spacing_m / Math.sqrt(12)),
    speedShare: quality.pedals ? 0.005 : 0.01,
  }
}

/** All mistakes of one lap in one corner against a reference, each with its evidence. */
export const judgeCorner = (
  circuit: Circuit,
  corner: Corner,
  driven: CornerTrace,
  reference: CornerTrace,
  referenceTrace: LapTrace,
  quality: LogQuality,
): JudgedMistake[] => {
  const found: JudgedMistake[] = []
  const t = thresholds
  const speedAt = (s_m: number): number => atStation(circuit, referenceTrace.speed_mps, s_m)
  if (driven.brake_m !== null && reference.brake_m !== null) {
    const speed_mps = speedAt(reference.brake_m)
    const doubt = doubtOf(quality, speed_mps).station_m
    const later_m = laterBy(circuit, driven.brake_m, reference.brake_m)
    const early_m = Math.max(t.brakeEarly_m, t.brakeEarly_s * speed_mps) + doubt
    const late_m = Math.max(t.brakeLate_m, t.brakeLate_s * speed_mps) + doubt
    const evidence = { brake_m: driven.brake_m, referenceBrake_m: reference.brake_m, later_m }
    if (later_m < -early_m) found.push({ code: 'brake-early', station_m: driven.brake_m, evidence: { ...evidence, allowed_m: -early_m } })
    if (later_m > late_m) found.push({ code: 'brake-late', station_m: driven.brake_m, evidence: { ...evidence, allowed_m: late_m } })
  }
  const underShare = 1 - driven.slowest_mps / reference.slowest_mps
  const allowedShare = t.overSlowed + doubtOf(quality, reference.slowest_mps).speedShare
  if (underShare > allowedShare)
    found.push({
      code: 'brake-over',
      station_m: driven.slowest_m,
      evidence: { slowest_mps: driven.slowest_mps, referenceSlowest_mps: reference.slowest_mps, underShare, allowedShare },
    })
  if (driven.turnIn_m !== null && reference.turnIn_m !== null) {
    const speed_mps = speedAt(reference.turnIn_m)
    const later_m = laterBy(circuit, driven.turnIn_m, reference.turnIn_m)
    const allowed_m = Math.max(t.turnInEarly_m, t.turnInEarly_s * speed_mps) + doubtOf(quality, speed_mps).station_m
    if (later_m < -allowed_m)
      found.push({
        code: 'turn-in-early',
        station_m: driven.turnIn_m,
        evidence: { turnIn_m: driven.turnIn_m, referenceTurnIn_m: reference.turnIn_m, later_m, allowed_m: -allowed_m },
      })
  }
  const offsetDoubt = doubtOf(quality, reference.slowest_mps).offset_m
  const farther_m = driven.apexInner_m - reference.apexInner_m
  if (farther_m > t.apexMissed_m + offsetDoubt)
    found.push({
      code: 'apex-missed',
      station_m: driven.apex_m,
      evidence: {
        inner_m: driven.apexInner_m,
        referenceInner_m: reference.apexInner_m,
        farther_m,
        allowed_m: t.apexMissed_m + offsetDoubt,
      },
    })
  const wide = exitWide(driven, reference, offsetDoubt)
  if (wide) found.push(wide)
  return found.sort(
    (a, b) =>
      distanceAhead(corner.start_m - 300, a.station_m, circuit.length_m) -
      distanceAhead(corner.start_m - 300, b.station_m, circuit.length_m),
  )
}

/** Half of a usual car's width (m): edges count for the wheels, offsets for the vehicle's middle. */
const HALF_WIDTH_M = 0.9

const exitWide = (driven: CornerTrace, reference: CornerTrace, doubt_m: number): JudgedMistake | null => {
  if (driven.exitOuter_m === null || reference.exitOuter_m === null || driven.exit_m === null) return null
  const ownMargin_m = reference.exitOuter_m - HALF_WIDTH_M
  const wanted_m = ownMargin_m < thresholds.exitOwnMargin_m ? 0 : thresholds.exitWide_m
  const margin_m = driven.exitOuter_m - HALF_WIDTH_M
  if (margin_m > wanted_m - doubt_m) return null
  return { code: 'exit-wide', station_m: driven.exit_m, evidence: { margin_m, referenceMargin_m: ownMargin_m, wanted_m } }
}
