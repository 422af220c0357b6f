import type { Circuit } from '../circuit/circuit.ts'
import type { Corner } from '../circuit/corners.ts'
import type { GroundItem } from '../circuit/ground.ts'
import { wrapStation } from '../circuit/station.ts'
import { takeDriftOut } from '../drive/drift.ts'
import { type LapTrace, planTrace, traceOf } from '../drive/lap-trace.ts'
import { atTravel, type Way, wayOfPlan } from '../drive/trajectory.ts'
import { demandNoise, resistanceOf, usualInterval, wayOfLog } from '../drive/trajectory-of-log.ts'
import { CoreError } from '../errors/errors.ts'
import { type OffsetBounds, offsetBounds } from '../line/bounds.ts'
import { smoothestLine } from '../line/smoothest.ts'
import { type Lap, type SkippedLap, splitLaps } from '../log/laps.ts'
import type { Log } from '../log/log.ts'
import { matchLog } from '../log/match.ts'
import type { BrakingSchool } from '../marks/school.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import type { Turning } from '../path/turning.ts'
import type { Plan } from '../plan/plan.ts'
import type { PassMarks } from './advice.ts'
import { type Bank, idealLap } from './bank.ts'
import type { Evidence } from './comparison.ts'
import { judgePass } from './judge.ts'
import { type Frame, framesOf, measurePass, type Pass, tells, turningsOf } from './pass.ts'
import { phasesOf } from './phases.ts'
import { doubtOf, type LogQuality, straightStations, wheelNoise } from './quality.ts'
import { linked, type Rooted, rootOf } from './roots.ts'
import { type OwnThresholds, thresholdsOf } from './thresholds.ts'

/** A mistake with evidence from a log. `root`: the one that the pass of this corner is about. */
export type Finding = {
  lap: number
  cornerId: string
  cornerName: string
  /** Where it shows, and the stretch of road that shows it. */
  station_m: number
  from_m: number
  to_m: number
  code: LogCode
  root: boolean
  /** Code of the mistake that explains this one; null for roots, and for what stands beside a root unexplained. */
  because: LogCode | null
  /** Time lost (positive) or won against the reference from the corner's approach to the next corner's (s). */
  lossTime_s: number
  /** How surely it is more than its threshold, 0 … 1, by the log's noise. */
  certainty: number
  evidence: Evidence
}

/** What laps are held against: a plan, or one of the log's own laps by number. */
export type Reference = { kind: 'plan'; plan: Plan } | { kind: 'lap'; lap: number }

/** What an analysis is at. */
type AnalyseStep = 'matching' | 'judging'

/**
 * What a log is judged by beside its reference; where a plan is the reference it brings its own. `thresholds`: what a school
 * has set for itself. `told` hears what the analysis is at, and which share of that is done (0 … 1).
 */
export type AnalyseSettings = {
  school?: BrakingSchool
  width_m?: number
  ground?: readonly GroundItem[]
  thresholds?: OwnThresholds
  told?: (step: AnalyseStep, share: number) => void
}

/** Passes of corners about which a log says nothing, and codes that its noise hides. */
export type Untold = { lap: number; cornerId: string; codes: readonly LogCode[] | 'all' }

/** Outcome of an analysis; `traces[k]` belongs to `laps[k]`, `reference` is the trace they were held against. */
export type Analysis = {
  laps: Lap[]
  skipped: SkippedLap[]
  quality: LogQuality
  findings: Finding[]
  untold: Untold[]
  /** Codes that this log cannot tell anywhere, for want of a channel. */
  blindTo: LogCode[]
  /** Every pass that could be measured, the reference's own laps too. */
  passes: PassMarks[]
  /** Time in the bank; null with fewer than two whole laps. */
  bank: Bank | null
  traces: LapTrace[]
  reference: LapTrace
}

/** A vehicle whose width is not known (m). */
const USUAL_WIDTH_M = 1.8

/**
 * From a log to laps and findings: match, split, lay on the circuit's stations, take the receiver's drift out, measure each
 * pass of each corner, judge it against the reference, and fold consequences under one root. Pure; cost linear in fixes and
 * in laps × stations.
 * @throws CoreError when the log is from elsewhere, holds no whole lap, or the reference lap is missing
 */
export const analyseLog = (
  circuit: Circuit,
  corners: readonly Corner[],
  log: Log,
  reference: Reference,
  settings: AnalyseSettings = {},
): Analysis => {
  settings.told?.('matching', 0)
  const matched = matchLog(circuit, log, () => expectedLine(circuit, reference, settings))
  const { laps, skipped } = splitLaps(circuit, log, matched)
  const way = wayOfLog(circuit, log, matched, reference.kind === 'plan' ? { resistance: resistanceOf(reference.plan.vehicle) } : {})
  const held = referenceOf(circuit, corners, reference, way, laps)
  const straight = straightStations(circuit, held.frames)
  const { drift_m, rest_m } = takeDriftOut(circuit, way, laps, straight)
  const quality = qualityOf(circuit, log, way, laps, straight, { drift_m, rest_m, placeDoubt_m: matched.placeDoubt_m })
  // The reference lap's own path has been set right too.
  const frames = reference.kind === 'lap' ? referenceOf(circuit, corners, reference, way, laps).frames : held.frames
  const judge = judgeOf(circuit, reference, settings, quality, {
    ...held,
    frames,
    way: reference.kind === 'lap' ? way : touchedAlike(held.way, way),
  })
  const traces = laps.map((lap) => traceOf(circuit, way, lap))
  const referenceTrace = reference.kind === 'plan' ? planTrace(reference.plan) : traces[laps.findIndex((lap) => lap.lap === reference.lap)]
  const findings: Finding[] = []
  const untold: Untold[] = []
  const passes: PassMarks[] = []
  laps.forEach((lap, j) => {
    settings.told?.('judging', j / laps.length)
    const isReference = reference.kind === 'lap' && lap.lap === reference.lap
    let before: Rooted | null = null
    corners.forEach((corner, k) => {
      const judged = judge(way, lap.from * circuit.length_m, k)
      const marks = judged && marksOf(circuit, frames, k, lap, { ...judged, heldStart_m: held.start_m }, traces[j], referenceTrace)
      if (marks) passes.push(marks)
      if (isReference) return
      if (!judged) untold.push({ lap: lap.lap, cornerId: corner.id, codes: 'all' })
      else if (judged.untold.length > 0) untold.push({ lap: lap.lap, cornerId: corner.id, codes: judged.untold })
      const rooted = linked(frames[k], before, rootOf(judged?.found ?? []))
      before = rooted.find((one) => one.root || one.linked) ?? null
      const lossTime_s = marks?.phases_s.reduce((a, b) => a + b, 0) ?? 0
      for (const { code, root, because, evidence, certainty, from_m, to_m } of rooted)
        findings.push({
          lap: lap.lap,
          cornerId: corner.id,
          cornerName: corner.name,
          station_m: wrapStation(shownAt(code, from_m, to_m, evidence), circuit.length_m),
          from_m: wrapStation(from_m, circuit.length_m),
          to_m: wrapStation(to_m, circuit.length_m),
          code,
          root,
          because,
          lossTime_s,
          certainty,
          evidence: inStations(evidence, circuit.length_m),
        })
    })
  })
  const bank = idealLap(
    circuit,
    laps.map((lap, j) => ({ lap: lap.lap, trace: traces[j] })),
    frames.map((frame) => frame.next_m - 40),
  )
  return { laps, skipped, quality, findings, untold, blindTo: blindTo(log), passes, bank, traces, reference: referenceTrace }
}

/** Where a drive is expected to run: on the plan's line, or else on the smoothest one. */
const expectedLine = (circuit: Circuit, reference: Reference, { width_m = USUAL_WIDTH_M }: AnalyseSettings): Float64Array =>
  reference.kind === 'plan' ? reference.plan.line.offset_m : smoothestLine(circuit, offsetBounds(circuit, width_m)).line.offset_m

/** The marks of a pass as stations, and the time lost or won in each of its phases. */
const marksOf = (
  circuit: Circuit,
  frames: readonly Frame[],
  k: number,
  lap: Lap,
  { pass, reference: held, heldStart_m }: { pass: Pass; reference: Pass; heldStart_m: number },
  driven: LapTrace,
  reference: LapTrace,
): PassMarks => {
  const frame = frames[k]
  const station = (m: number | null): number | null => (m === null ? null : wrapStation(m, circuit.length_m))
  const fromLine = (at_m: number | undefined): number | null => (at_m === undefined ? null : station(at_m))
  return {
    lap: lap.lap,
    cornerId: frame.corner.id,
    brake_m: fromLine(pass.brake?.onset.at_m),
    release_m: fromLine(pass.brake?.release.at_m),
    turnIn_m: station(pass.turnIn_m),
    apex_m: wrapStation(pass.apex_m, circuit.length_m),
    exit_m: station(pass.exit_m),
    throttle_m: fromLine(pass.opening.first?.at_m),
    slowest_mps: pass.slowest_mps,
    off: {
      brake_m:
        pass.brake && held.brake ? pass.brake.onset.at_m - lap.from * circuit.length_m - (held.brake.onset.at_m - heldStart_m) : null,
      turnIn_m: pass.turnIn_m !== null && held.turnIn_m !== null ? pass.turnIn_m - held.turnIn_m : null,
      apexInner_m: pass.apexInner_m - held.apexInner_m,
      slowest_mps: pass.slowest_mps - held.slowest_mps,
    },
    phases_s: phasesOf(circuit, frames, k, driven, reference),
  }
}

/** What cannot be judged without the channels that a log lacks. */
const blindTo = (log: Log): LogCode[] => [
  ...(log.gear ? [] : (['shift-early', 'shift-late', 'wrong-gear'] as const)),
  ...(log.steer_deg ? [] : (['steer-caught'] as const)),
  ...(log.brake_bar && log.throttle_pct ? [] : (['brake-dump', 'throttle-jab'] as const)),
]

/** Evidence that tells a place is told as a station of the circuit. */
const places = [
  'brake_m',
  'referenceBrake_m',
  'turnIn_m',
  'referenceTurnIn_m',
  'apex_m',
  'referenceApex_m',
  'release_m',
  'referenceRelease_m',
  'throttle_m',
  'referenceThrottle_m',
  'lift_m',
  'referenceLift_m',
  'at_m',
]
const inStations = (evidence: Evidence, length_m: number): Evidence =>
  Object.fromEntries(Object.entries(evidence).map(([name, v]) => [name, places.includes(name) ? wrapStation(v, length_m) : v]))

/** The driver's own mark where there is one, else the beginning of the stretch. */
const shownAt = (code: LogCode, from_m: number, to_m: number, evidence: Evidence): number => {
  if (code.startsWith('brake-') && evidence.brake_m !== undefined) return evidence.brake_m
  return evidence.turnIn_m ?? evidence.throttle_m ?? evidence.apex_m ?? evidence.lift_m ?? (code === 'lift-missing' ? to_m : from_m)
}

const qualityOf = (
  circuit: Circuit,
  log: Log,
  way: Way,
  laps: readonly Lap[],
  straight: Uint8Array,
  { drift_m, rest_m, placeDoubt_m }: { drift_m: number; rest_m: number; placeDoubt_m: number },
): LogQuality => ({
  interval_s: usualInterval(log),
  offsetNoise_m: rest_m,
  drift_m,
  placeDoubt_m,
  laps: laps.length,
  wheelNoise_1pm: wheelNoise(circuit, way, laps, straight),
  pedals: log.brake_bar !== undefined && log.throttle_pct !== undefined,
  demandNoise_g: log.brake_bar && log.throttle_pct ? 0 : demandNoise(log, way),
  steering: log.steer_deg !== undefined,
})

/** A way whose pedals count as touched no sooner than those of another, so that noise delays both alike. */
const touchedAlike = (way: Way, other: Way): Way => ({
  ...way,
  brakeTouch_g: Math.max(way.brakeTouch_g, other.brakeTouch_g),
  driveTouch_g: Math.max(way.driveTouch_g, other.driveTouch_g),
})

/** What passes are held against: its way, where its lap begins on it, and each corner as it takes it. */
export type Held = { way: Way; start_m: number; turnings: readonly Turning[]; frames: Frame[] }

const referenceOf = (circuit: Circuit, corners: readonly Corner[], reference: Reference, way: Way, laps: readonly Lap[]): Held => {
  if (reference.kind === 'plan') return heldPlan(reference.plan)
  const lap = laps.find((l) => l.lap === reference.lap)
  if (!lap) throw new CoreError('reference-lap-missing', 'reference', { lap: reference.lap, known: laps.map((l) => l.lap).join(', ') })
  const start_m = lap.from * circuit.length_m
  const turnings = turningsOf(circuit, corners, way, start_m)
  return { way, start_m, turnings, frames: framesOf(circuit, corners, turnings, way, start_m) }
}

/** A plan as what passes are held against. */
export const heldPlan = (plan: Plan): Held => {
  const way = wayOfPlan(plan)
  return { way, start_m: 0, turnings: plan.turnings, frames: framesOf(plan.circuit, plan.corners, plan.turnings, way, 0) }
}

/** Judges passes of corners by number on any way of the same circuit; null where way or reference were silent. */
export type PassJudge = (
  way: Way,
  start_m: number,
  corner: number,
) => (ReturnType<typeof judgePass> & { pass: Pass; reference: Pass }) | null

/** What a vehicle may not drive over, and the lanes it keeps to, as offsets of its middle; the same for all passes. */
export type Limits = { halfWidth_m: number; limits: OffsetBounds; lanes: OffsetBounds | null }

/** The limits that a reference, or else the settings, bring with them. */
export const limitsOf = (circuit: Circuit, reference: Reference, settings: AnalyseSettings): Limits => {
  const plan = reference.kind === 'plan' ? reference.plan : null
  const width_m = plan?.vehicle.width_m ?? settings.width_m ?? USUAL_WIDTH_M
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
  held: Pick<Held, 'way' | 'start_m' | 'frames'>,
  limits: Limits = limitsOf(circuit, reference, settings),
): PassJudge => {
  const plan = reference.kind === 'plan' ? reference.plan : null
  const doubt = doubtOf(quality, reference.kind)
  const thresholds = thresholdsOf(settings.thresholds)
  const noise = { blur_m: doubt.blur_m, wheel_1pm: doubt.wheel_1pm }
  const { frames } = held
  const seconds = (frame: Frame): number => timeOn(held.way, held.start_m + frame.turnIn_m, held.start_m + (frame.exit_m ?? frame.next_m))
  const away_s = frames.map(seconds)
  const measure = (way: Way, k: number, start_m: number): Pass | null =>
    tells(way, frames[k], start_m) ? measurePass(circuit, way, frames[k], frames[(k + 1) % frames.length], start_m, noise) : null
  const references = new Map<number, Pass | null>()
  const referenceAt = (k: number): Pass | null => {
    const known = references.get(k)
    if (known !== undefined) return known
    const measured = measure(held.way, k, held.start_m)
    references.set(k, measured)
    return measured
  }
  return (way, start_m, k) => {
    const frame = frames[k]
    const own = referenceAt(k)
    const driven = own && measure(way, k, start_m)
    if (!own || !driven) return null
    const judged = judgePass({
      circuit,
      frame,
      way,
      start_m,
      driven,
      referenceWay: held.way,
      referenceStart_m: held.start_m,
      reference: own,
      // Where nobody measured the road its edges are not known.
      doubt: {
        ...doubt,
        offset_m: doubt.offset_m(away_s[k]),
        edge_m: circuit.widthAssumed ? Number.POSITIVE_INFINITY : doubt.edge_m(away_s[k]),
      },
      school: plan?.settings.school ?? settings.school ?? null,
      planned: plan !== null,
      compact: plan?.settings.method === 'compact',
      pedals: quality.pedals,
      steering: quality.steering,
      thresholds,
      ...limits,
    })
    return { ...judged, pass: driven, reference: own }
  }
}

/** Time (s) that a way takes between two travelled distances. */
const timeOn = (way: Way, from_m: number, to_m: number): number =>
  Math.max(0, atTravel(way, way.time_s, to_m) - atTravel(way, way.time_s, from_m))
