import type { Circuit } from '../circuit/circuit.ts'
import type { Corner } from '../circuit/corners.ts'
import { atStation, distanceAhead } from '../circuit/station.ts'
import { CoreError } from '../errors.ts'
import { type Lap, type SkippedLap, splitLaps } from '../log/laps.ts'
import type { Log } from '../log/log.ts'
import { matchLog } from '../log/match.ts'
import type { Plan } from '../plan.ts'
import { type CornerTrace, drivenCorner, referenceCorners } from './driven-marks.ts'
import { type Evidence, judgeCorner } from './judge.ts'
import { type LapTrace, type LogQuality, lapTraces, logQuality, planTrace } from './lap-trace.ts'
import { canExplain, type LogCode } from './mistakes.ts'

/** A mistake with evidence from a log. `root`: nothing upstream in the same corner and lap explains it. */
export type Finding = {
  lap: number
  cornerId: string
  cornerName: string
  station_m: number
  code: LogCode
  root: boolean
  /** Code of the root that explains this one; null for roots. */
  because: LogCode | null
  /** Time lost (positive) or won against the reference from the corner's approach to the next corner's (s). */
  lossTime_s: number
  evidence: Evidence
}

/** What laps are held against: a plan, or one of the log's own laps by number. */
export type Reference = { kind: 'plan'; plan: Plan } | { kind: 'lap'; lap: number }

/** Outcome of an analysis; `traces[k]` belongs to `laps[k]`, `reference` is the trace they were held against. */
export type Analysis = {
  laps: Lap[]
  skipped: SkippedLap[]
  quality: LogQuality
  findings: Finding[]
  traces: LapTrace[]
  reference: LapTrace
}

/**
 * From a log to laps and findings: match, split, resample by station, measure each corner, judge it against the
 * reference, fold consequences under their root. Pure; cost linear in fixes and in laps × stations.
 * @throws CoreError when the log is from elsewhere, holds no whole lap, or the reference lap is missing
 */
export const analyseLog = (circuit: Circuit, corners: readonly Corner[], log: Log, reference: Reference): Analysis => {
  const matched = matchLog(circuit, log)
  const { laps, skipped } = splitLaps(circuit, log, matched)
  const quality = logQuality(log, matched)
  const traces = lapTraces(circuit, log, matched, laps, quality)
  const referenceTrace = reference.kind === 'plan' ? planTrace(reference.plan) : traceOfLap(laps, traces, reference.lap)
  const references = referenceCorners(circuit, corners, referenceTrace)
  const findings: Finding[] = []
  laps.forEach((lap, j) => {
    if (reference.kind === 'lap' && lap.lap === reference.lap) return
    corners.forEach((corner, k) => {
      const driven = drivenCorner(circuit, corner, traces[j], references[k])
      const judged = judgeCorner(circuit, corner, driven, references[k], referenceTrace, quality)
      const lossTime_s = judged.length === 0 ? 0 : timeLost(circuit, corners, references, k, traces[j], referenceTrace)
      for (const mistake of judged) {
        const cause = judged.find((other) => canExplain(other.code, mistake.code) && !judged.some((up) => canExplain(up.code, other.code)))
        findings.push({
          lap: lap.lap,
          cornerId: corner.id,
          cornerName: corner.name,
          station_m: mistake.station_m,
          code: mistake.code,
          root: cause === undefined,
          because: cause?.code ?? null,
          lossTime_s,
          evidence: mistake.evidence,
        })
      }
    })
  })
  return { laps, skipped, quality, findings, traces, reference: referenceTrace }
}

const traceOfLap = (laps: readonly Lap[], traces: readonly LapTrace[], wanted: number): LapTrace => {
  const at = laps.findIndex((l) => l.lap === wanted)
  if (at < 0) throw new CoreError('reference-lap-missing', 'reference', { lap: wanted, known: laps.map((l) => l.lap).join(', ') })
  return traces[at]
}

/** From the reference's brake point (or turn-in) of this corner to that of the next. */
const timeLost = (
  circuit: Circuit,
  corners: readonly Corner[],
  references: readonly CornerTrace[],
  k: number,
  driven: LapTrace,
  reference: LapTrace,
): number => {
  const begin = (j: number): number => {
    const corner = references[j]
    const entry_m = corner.brake_m ?? corner.turnIn_m ?? corners[j].start_m
    return (entry_m - 40 + circuit.length_m) % circuit.length_m
  }
  const from_m = begin(k)
  const to_m = begin((k + 1) % corners.length)
  return timeBetween(circuit, driven, from_m, to_m) - timeBetween(circuit, reference, from_m, to_m)
}

/** Time a trace takes from one station to another in the direction of travel (s); over the start line where needed. */
export const timeBetween = (circuit: Circuit, trace: LapTrace, from_m: number, to_m: number): number => {
  const span = distanceAhead(from_m, to_m, circuit.length_m) || circuit.length_m
  const timeAt = (s_m: number): number => {
    const lastStation = circuit.s_m[circuit.count - 1]
    if (s_m <= lastStation) return atStation(circuit, trace.time_s, s_m)
    const share = (s_m - lastStation) / (circuit.length_m - lastStation)
    const last = trace.time_s[circuit.count - 1]
    return last + share * (trace.lapTime_s - last)
  }
  const end = from_m + span
  return end <= circuit.length_m ? timeAt(end) - timeAt(from_m) : trace.lapTime_s - timeAt(from_m) + timeAt(end - circuit.length_m)
}
