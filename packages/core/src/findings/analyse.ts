import type { Circuit } from '../circuit/circuit.ts'
import type { Corner } from '../circuit/corners.ts'
import { wrapStation } from '../circuit/station.ts'
import { type LapTrace, planTrace, traceOf } from '../drive/lap-trace.ts'
import { type KnownCar, resistanceOf } from '../drive/trajectory-of-log.ts'
import { offsetBounds } from '../line/bounds.ts'
import { smoothestLine } from '../line/smoothest.ts'
import type { Lap, SkippedLap } from '../log/laps.ts'
import type { Log } from '../log/log.ts'
import { positionNoise } from '../log/position-noise.ts'
import { type Evidenced, evidenceKeys } from '../mistakes/evidence.ts'
import { gearCodes, isGear, type LogCode, logCodes, placeCodes, wheelCodes } from '../mistakes/mistakes.ts'
import type { PassMarks, PassShape } from './advice.ts'
import { type AnalyseSettings, TYPICAL_WIDTH_M } from './analyse-settings.ts'
import type { Finding } from './finding.ts'
import type { JudgedMistake } from './judged.ts'
import { cleanOfDrift, type MeasuredLog, measureLog, worseOf } from './measured-log.ts'
import type { Frame, Pass } from './pass.ts'
import { type JudgedPass, judgeOf, limitsOf, type PassJudge } from './pass-judge.ts'
import { phasesOf } from './phases.ts'
import { isSparse, straightStations, toldWhenSparse } from './quality.ts'
import { type Reference, type ReferenceDrive, referenceLap, referencePlan, touchedAlike } from './reference.ts'
import { tryReference } from './reference-trial.ts'
import { linked, type Rooted, rootOf } from './roots.ts'
import { idealLap, type TheoreticalBest } from './theoretical-best.ts'
import type { TrialOfCorner } from './trial.ts'
import type { LogQuality } from './uncertainty.ts'

/** Passes of corners of which a log shows nothing, and codes that its noise hides. */
export type Undecidable = { lap: number; cornerId: string; codes: readonly LogCode[] | 'all' }

/** Outcome of an analysis; `traces[k]` belongs to `laps[k]`, `reference` is the trace they were compared with. */
export type Analysis = {
  laps: Lap[]
  skipped: SkippedLap[]
  quality: LogQuality
  findings: Finding[]
  undecidable: Undecidable[]
  /** Codes that this log cannot tell anywhere, for want of a channel. */
  undecidableCodes: LogCode[]
  /** Every pass that could be measured, the reference's own laps too. */
  passes: PassMarks[]
  /** Theoretical best lap; null with fewer than two whole laps. */
  theoreticalBest: TheoreticalBest | null
  traces: LapTrace[]
  reference: LapTrace
}
/**
 * From a log to laps and findings: match, split, place on the circuit's stations, remove the receiver's drift, measure each
 * pass of each corner, judge it against the reference, and fold consequences under one root. Pure; cost linear in fixes and in
 * laps × stations.
 * @throws CoreError when the log is from elsewhere, holds no whole lap, or the reference lap is missing
 */
export const analyseLog = (
  circuit: Circuit,
  corners: readonly Corner[],
  log: Log,
  reference: Reference,
  settings: AnalyseSettings = {},
): Analysis => {
  settings.onProgress?.('matching', 0)
  const expected = () => expectedLine(circuit, reference, settings)
  const car: KnownCar = reference.kind === 'plan' ? { resistance: resistanceOf(reference.plan.vehicle) } : {}
  const measured = measureLog(circuit, log, expected, car)
  const { laps, skipped, trajectory } = measured
  const other = reference.kind === 'drive' ? otherDrive(circuit, corners, reference, expected) : null
  const asLogged =
    other?.drive ?? (reference.kind === 'plan' ? referencePlan(reference.plan) : referenceLap(circuit, corners, measured, reference.lap))
  const ownQuality = cleanOfDrift(circuit, measured, straightStations(circuit, asLogged.frames))
  const quality = other ? worseOf(ownQuality, other.quality) : ownQuality
  // Taking the drift out has changed the reference lap's own path too.
  const referenceDrive = reference.kind === 'lap' ? referenceLap(circuit, corners, measured, reference.lap) : asLogged
  const { frames } = referenceDrive
  const held = {
    ...referenceDrive,
    trajectory: reference.kind === 'lap' ? trajectory : touchedAlike(referenceDrive.trajectory, trajectory),
  }
  const limits = limitsOf(circuit, reference, settings)
  const judgeBy = (trials?: readonly TrialOfCorner[]): PassJudge => judgeOf(circuit, reference, settings, quality, held, limits, trials)
  const judge = judgeBy(isTrying(quality) ? triedOn(circuit, { ...held, measured, quality, car }, judgeBy()) : [])
  const traces = laps.map((lap) => traceOf(circuit, trajectory, lap))
  const referenceTrace =
    reference.kind === 'plan' ? planTrace(reference.plan) : (other?.trace ?? traces[laps.findIndex((lap) => lap.lap === reference.lap)])
  const compared = { circuit, frames, quality, halfWidth_m: limits.halfWidth_m, referenceStart_m: referenceDrive.start_m, referenceTrace }
  const judgedLaps = laps.map((lap, j) => {
    settings.onProgress?.('judging', j / laps.length)
    const passes = corners.map((_, k) => judge(trajectory, lap.from * circuit.length_m, k))
    const marks = passes.map((pass, k) => pass && marksOf(compared, k, lap, pass, traces[j]))
    if (reference.kind === 'lap' && lap.lap === reference.lap) return { marks, findings: [], undecidable: [] }
    const own = settings.counts?.({ lap: lap.lap + 1 }) === false ? passes.map((pass) => pass && untilLine(pass, circuit.length_m)) : passes
    return { marks, findings: findingsOfLap(circuit, frames, lap, own, marks), undecidable: undecidableIn(frames, lap, passes) }
  })
  const theoreticalBest = idealLap(
    circuit,
    laps.map((lap, j) => ({ lap: lap.lap, trace: traces[j] })).filter(settings.counts ?? (() => true)),
    frames.map((frame) => frame.next_m - 40),
  )
  return {
    laps,
    skipped,
    quality,
    findings: judgedLaps.flatMap((lap) => lap.findings),
    undecidable: judgedLaps.flatMap((lap) => lap.undecidable),
    undecidableCodes: undecidableCodes(log, quality),
    passes: judgedLaps.flatMap((lap) => lap.marks.filter((marks) => marks !== null)),
    theoreticalBest,
    traces,
    reference: referenceTrace,
  }
}

/** Noise of positions from which on the log is tried on its reference even where it has all channels (m). */
const NOISY_M = 0.35

/** True for logs that have to derive what they are judged by: they are tried on their reference first. */
const isTrying = ({ pedals, steering, positions, offsetNoise_m }: LogQuality): boolean =>
  positions && !(pedals && steering && offsetNoise_m < NOISY_M)

type Tried = ReferenceDrive & { measured: MeasuredLog; quality: LogQuality; car: KnownCar }

/** What a log's own noise would show of its reference. */
const triedOn = (circuit: Circuit, { measured, quality, car, ...reference }: Tried, judge: PassJudge): TrialOfCorner[] => {
  const { interval_s } = quality
  const of = { interval_s, noise: positionNoise(measured.log, measured.matched, interval_s), log: measured.log }
  return tryReference(circuit, reference.frames.length, reference, of, car, (trajectory, start_m, k, see) => {
    judge(trajectory, start_m, k, see)
  })
}

/** A lap of another drive as reference, with its trace and the quality of its log. */
const otherDrive = (
  circuit: Circuit,
  corners: readonly Corner[],
  { log, lap }: Extract<Reference, { kind: 'drive' }>,
  expected: () => Float64Array,
): { drive: ReferenceDrive; trace: LapTrace; quality: LogQuality } => {
  const measured = measureLog(circuit, log, expected, {})
  const asLogged = referenceLap(circuit, corners, measured, lap)
  const quality = cleanOfDrift(circuit, measured, straightStations(circuit, asLogged.frames))
  const drive = referenceLap(circuit, corners, measured, lap)
  const [driven] = measured.laps.filter((l) => l.lap === lap)
  return { drive, trace: traceOf(circuit, measured.trajectory, driven), quality }
}

/** A pass without the mistakes that begin past the line: there a lap begins that does not count. */
const untilLine = (pass: JudgedPass, length_m: number): JudgedPass => ({ ...pass, found: pass.found.filter((m) => m.from_m < length_m) })

/** A gear that costs no more than this in its corner is a matter of taste (s). */
const GEAR_COSTS_S = 0.03

/** Gears are told only where they cost time, or where a lower one is still to come when the car turns in. */
const isWorthTelling = (mistake: JudgedMistake, frame: Frame, lossTime_s: number): boolean => {
  if (!isGear(mistake.code)) return true
  return lossTime_s > GEAR_COSTS_S || (mistake.code === 'shift-late' && mistake.from_m < frame.apex_m)
}

/** Findings of one lap, corner by corner, with consequences linked to their root also from the corner before. */
const findingsOfLap = (
  circuit: Circuit,
  frames: readonly Frame[],
  lap: Lap,
  passes: readonly (JudgedPass | null)[],
  marks: readonly (PassMarks | null)[],
): Finding[] => {
  const station = (travel_m: number): number => wrapStation(travel_m, circuit.length_m)
  let before: Rooted | null = null
  return passes.flatMap((judged, k) => {
    const { corner } = frames[k]
    const lossTime_s = marks[k]?.phases_s.reduce((a, b) => a + b, 0) ?? 0
    const rooted = linked(
      frames[k],
      before,
      rootOf((judged?.found ?? []).filter((mistake) => isWorthTelling(mistake, frames[k], lossTime_s))),
    )
    before = rooted.find((mistake) => mistake.root || mistake.linked) ?? null
    return rooted.map(
      (mistake) =>
        ({
          lap: lap.lap,
          cornerId: corner.id,
          cornerName: corner.name,
          station_m: station(shownAt(mistake)),
          from_m: station(mistake.from_m),
          to_m: station(mistake.to_m),
          root: mistake.root,
          because: mistake.because,
          lossTime_s,
          certainty: mistake.certainty,
          ...inStations(mistake, circuit.length_m),
        }) as Finding,
    )
  })
}

/** Corners of one lap of which the log shows nothing, or not all. */
const undecidableIn = (frames: readonly Frame[], { lap }: Lap, passes: readonly (JudgedPass | null)[]): Undecidable[] =>
  passes.flatMap((judged, k) => {
    const codes = judged ? judged.undecidable : ('all' as const)
    return codes.length > 0 ? { lap, cornerId: frames[k].corner.id, codes } : []
  })

/** The line on which a drive is expected: the plan's, or else the smoothest one. */
const expectedLine = (circuit: Circuit, reference: Reference, { width_m = TYPICAL_WIDTH_M }: AnalyseSettings): Float64Array =>
  reference.kind === 'plan' ? reference.plan.line.offset_m : smoothestLine(circuit, offsetBounds(circuit, width_m)).line.offset_m

/** The reference that passes are compared with: its frames, the start of its lap and its trace. */
type Compared = {
  halfWidth_m: number
  circuit: Circuit
  frames: readonly Frame[]
  quality: Pick<LogQuality, 'positions' | 'steering'>
  referenceStart_m: number
  referenceTrace: LapTrace
}

/** Half the stretch about the apex over which a path's radius is taken (m). */
const RADIUS_HALF_M = 10
/** No corner is wider than this (m). */
const WIDEST_M = 2000

/** A pass beside its marks: where it was slowest, how near the edges, how tight, and where the gear changed. */
const shapeOf = (
  { circuit, halfWidth_m }: { circuit: Circuit; halfWidth_m: number },
  frame: Frame,
  pass: Pass,
  driven: LapTrace,
): PassShape => {
  const { count, step_m, length_m } = circuit
  const index = (m: number): number => ((Math.round(m / step_m) % count) + count) % count
  const half = Math.max(1, Math.round(RADIUS_HALF_M / step_m))
  let bend = 0
  for (let k = -half; k <= half; k++) bend += Math.abs(driven.kappa_1pm[index(pass.apex_m + k * step_m)]) / (2 * half + 1)
  const shifts: PassShape['shifts'] = []
  const [from, stretch] = [index(frame.from_m), Math.round((frame.next_m - frame.from_m) / step_m)]
  for (let k = 1; k < stretch; k++) {
    const [before, now] = [driven.gear[(from + k - 1) % count], driven.gear[(from + k) % count]]
    if (before > 0 && now > 0 && now !== before) shifts.push({ station_m: circuit.s_m[(from + k) % count], to: now })
  }
  return {
    slowest_m: wrapStation(pass.slowest_m, length_m),
    apexInner_m: pass.apexInner_m - halfWidth_m,
    exitOuter_m: pass.exitOuter_m === null ? null : pass.exitOuter_m - halfWidth_m,
    radius_m: Math.min(WIDEST_M, 1 / Math.max(1e-6, bend)),
    shifts,
  }
}

/** The marks of a pass as stations, and the time lost or won in each of its phases. */
const marksOf = (
  { circuit, frames, quality, halfWidth_m, referenceStart_m, referenceTrace }: Compared,
  k: number,
  lap: Lap,
  { pass, reference: referenceDrive }: JudgedPass,
  driven: LapTrace,
): PassMarks => {
  const frame = frames[k]
  const station = (m: number | null): number | null => (m === null ? null : wrapStation(m, circuit.length_m))
  const seesTurnIn = quality.positions || quality.steering
  const fromLine = (at_m: number | undefined): number | null => (at_m === undefined ? null : station(at_m))
  return {
    lap: lap.lap,
    cornerId: frame.corner.id,
    brake_m: fromLine(pass.brake?.onset.at_m),
    release_m: fromLine(pass.brake?.release.at_m),
    turnIn_m: seesTurnIn ? station(pass.turnIn_m) : null,
    apex_m: wrapStation(pass.apex_m, circuit.length_m),
    exit_m: quality.positions ? station(pass.exit_m) : null,
    throttle_m: fromLine(pass.opening.first?.at_m),
    slowest_mps: pass.slowest_mps,
    shape: quality.positions ? shapeOf({ circuit, halfWidth_m }, frame, pass, driven) : null,
    off: {
      brake_m:
        pass.brake && referenceDrive.brake
          ? pass.brake.onset.at_m - lap.from * circuit.length_m - (referenceDrive.brake.onset.at_m - referenceStart_m)
          : null,
      turnIn_m: seesTurnIn && pass.turnIn_m !== null && referenceDrive.turnIn_m !== null ? pass.turnIn_m - referenceDrive.turnIn_m : null,
      apexInner_m: pass.apexInner_m - referenceDrive.apexInner_m,
      slowest_mps: pass.slowest_mps - referenceDrive.slowest_mps,
    },
    phases_s: phasesOf(circuit, frames, k, driven, referenceTrace),
  }
}

/** Codes that cannot be judged without the channels that a log lacks. */
const undecidableCodes = (log: Log, quality: LogQuality): LogCode[] => [
  ...new Set<LogCode>([
    ...(isSparse(quality) ? logCodes.filter((code) => !toldWhenSparse.has(code)) : []),
    ...(quality.positions ? [] : placeCodes),
    ...(quality.positions || quality.steering ? [] : wheelCodes),
    ...(log.gear ? [] : gearCodes),
    ...(log.steer_deg ? [] : (['steer-caught'] as const)),
    ...(log.brake_bar && log.throttle_pct ? [] : (['brake-dump', 'throttle-jab', 'throttle-full-late', 'throttle-short'] as const)),
  ]),
]

/** Evidence that is a place, and among it the driver's own mark that a finding is shown at. */
const ownMarks: ReadonlySet<string> = new Set(['brake_m', 'turnIn_m', 'apex_m', 'throttle_m', 'lift_m', 'full_m', 'slowest_m'])
const otherPlaces: ReadonlySet<string> = new Set([
  'referenceBrake_m',
  'referenceTurnIn_m',
  'referenceApex_m',
  'release_m',
  'referenceRelease_m',
  'referenceThrottle_m',
  'referenceFull_m',
  'referenceSlowest_m',
  'referenceLift_m',
  'at_m',
])

/** The same evidence with its places as stations of the circuit. */
const inStations = <E extends Evidenced<LogCode>>({ code, evidence }: E, length_m: number): Pick<E, 'code' | 'evidence'> => ({
  code,
  evidence: Object.fromEntries(
    Object.entries(evidence).map(([key, v]) => [key, ownMarks.has(key) || otherPlaces.has(key) ? wrapStation(v, length_m) : v]),
  ) as E['evidence'],
})

/** The driver's own mark where the evidence begins with one, else the beginning of the stretch; a missing lift shows where it was due. */
const shownAt = ({ code, evidence, from_m, to_m }: JudgedMistake): number => {
  const [first] = evidenceKeys[code]
  if (ownMarks.has(first)) return (evidence as Readonly<Record<string, number>>)[first]
  return code === 'lift-missing' ? to_m : from_m
}
