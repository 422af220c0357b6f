import { gzipSync } from 'node:zlib'
import {
  type CornerDrawing,
  type Debrief,
  type HeldAgainstWish,
  type ImportProgress,
  type LogPreview,
  planSource,
  type Review,
  type SkippedLapTold,
  type StoredFinding,
  type StoredPlan,
  traceToWire,
} from '@ochote/contract'
import {
  type Advice,
  type Analysis,
  adviceLimitsOf,
  analyseLog,
  type Cone,
  type Correction,
  cornerName,
  cornerOf,
  countedLaps,
  createPlanner,
  drawCorner,
  guessMapping,
  habitsOf,
  holdAgainst,
  isAtPace,
  isDrivenKind,
  joinLogs,
  type LapsAtPace,
  type Log,
  type LogFile,
  lapUse,
  logOf,
  type OwnThresholds,
  PACE_CEILING,
  type Plan,
  type Praise,
  paces,
  type QuizQuestion,
  type ReferenceWish,
  type RunEvent,
  referenceTold,
  runStateOf,
  selectAdvice,
  selectPraise,
  simulateDrive,
  withLapPaces,
  writeLogCsv,
} from '@ochote/core'
import { type GivenLog, type LogSource, readSource } from './log-source.ts'
import { askFrom, conesFrom, type JudgeInput, judgeFrom, type OfDayInput, type QuizInput } from './quiz.ts'

/**
 * Logs of one run, to be joined in this order and analysed; `events` say which laps count; `otherLog`: the log of the run that it
 * is held against, where it is another one.
 */
export type AnalyseInput = StoredPlan & {
  logs: readonly GivenLog[]
  thresholds?: OwnThresholds
  events?: readonly RunEvent[]
  heldAgainst?: HeldAgainstWish
  otherLog?: GivenLog | null
}
/** Hears how far the work is. */
export type OnProgress = (reading: ImportProgress) => void
/** Laps with their traces, packed as they are kept, and findings. */
export type AnalyseOutput = {
  rows: number
  laps: { lap: number; start_s: number; time_s: number; gap_s: number; trace_gz: Uint8Array }[]
  skipped: SkippedLapTold[]
  findings: StoredFinding[]
  review: Review
  /** Signature of the columns of the last log given. */
  signature: string
  /** The log as it is to be kept, where files were joined. */
  joined?: string
}
/** A run to simulate; laps are those between the out lap and the way back in. */
export type SimulateInput = StoredPlan & {
  seed: number
  habitSeed: number
  skill: number
  laps: number
  rate_hz?: number
  noise_m?: number
  dropOuts?: number
  wild?: boolean
  habits?: boolean
  /** Laps at sighting pace, first and last. */
  slowLaps?: readonly number[]
  /** Paces that hold from a lap on. */
  paceFrom?: readonly { lap: number; pace: number }[]
  corrected?: readonly Correction[]
}
/** A simulated run: its log as a file and as columns, and the laps as they were driven. */
export type SimulateOutput = { csv: string; log: Log; lapTimes_s: number[]; firstLine_s: number }

const planner = createPlanner()
const planOf = (stored: StoredPlan): Plan => planner.plan(planSource(stored))

/** What a log is held against; a run whose log is gone leaves the plan. */
const wishOf = async ({ heldAgainst = { kind: 'plan' }, otherLog }: AnalyseInput, plan: Plan): Promise<ReferenceWish> => {
  if (heldAgainst.kind === 'run' && otherLog) {
    const file = await readSource(otherLog.source, () => {})
    return { kind: 'drive', log: logOf(file, otherLog.mapping ?? undefined), lap: heldAgainst.lap, runId: heldAgainst.runId }
  }
  return heldAgainst.kind === 'plan' || heldAgainst.kind === 'run' ? { kind: 'plan', plan } : heldAgainst
}

/** Reads, matches, splits and judges a log. @throws CoreError for logs that cannot be used */
export const analyse = async (input: AnalyseInput, onProgress: OnProgress = () => {}): Promise<AnalyseOutput> => {
  const plan = planOf(input)
  const logs: Log[] = []
  let signature = ''
  let cutRow: number | undefined
  for (const [k, { source, mapping }] of input.logs.entries()) {
    const file = await readSource(source, (share) => onProgress({ step: 'reading', share: (k + share) / input.logs.length }))
    signature = signatureOf(file)
    if (file.form === 'table') cutRow = file.table.cutRow
    logs.push(logOf(file, mapping))
  }
  const log = joinLogs(logs)
  const { thresholds = {}, events = [] } = input
  const wish = await wishOf(input, plan)
  const { counts } = countedLaps(events)
  const settings = {
    maxPace: PACE_CEILING,
    thresholds,
    counts,
    onProgress: (step: 'matching' | 'judging', share: number) => onProgress({ step, share }),
  }
  const held = holdAgainst(plan, plan.vehicle, log, wish, plan.settings, settings)
  const { reference, why } = held
  const others = wish.kind === 'plan' ? atOtherPaces(input, held.analysis, log, settings) : []
  // Laps meant for other paces explain a drive that differs throughout.
  const instead = others.length > 0 ? null : held.instead
  const analysis = withLapPaces(held.instead && !instead ? judgedBy(plan, log, settings) : held.analysis, others)
  return {
    signature,
    rows: log.time_s.length,
    skipped: analysis.skipped,
    laps: analysis.laps.map((lap, k) => {
      return {
        lap: lap.lap,
        start_s: lap.start_s,
        time_s: lap.time_s,
        gap_s: lap.gap_s,
        trace_gz: gzipSync(JSON.stringify(traceToWire(lap.lap, analysis.traces[k]))),
      }
    }),
    findings: analysis.findings.map(({ cornerName: _, ...finding }) => finding),
    review: {
      passes: analysis.passes,
      lapUse: analysis.laps.map(({ lap }, k) => lapUse(plan.circuit, lap, analysis.traces[k])),
      theoreticalBest: analysis.theoreticalBest,
      undecidableCodes: analysis.undecidableCodes,
      reference: { told: referenceTold(reference), why, instead: instead && referenceTold(instead.reference) },
      thresholds,
      cutRow,
      undecidable: analysis.undecidable.map(({ codes, ...one }) => ({ ...one, codes: codes === 'all' ? ('all' as const) : [...codes] })),
      quality: {
        rate_hz: 1 / analysis.quality.interval_s,
        noise_m: analysis.quality.offsetNoise_m,
        drift_m: analysis.quality.drift_m,
        pedals: analysis.quality.pedals,
        steering: analysis.quality.steering,
        positions: analysis.quality.positions,
        source: analysis.quality.demands.source,
        mounting: analysis.quality.demands.mounting,
      },
    },
    ...(logs.length > 1 ? { joined: writeLogCsv(log) } : {}),
  }
}

/** A log held against a plan. */
const judgedBy = (plan: Plan, log: Log, settings: Parameters<typeof holdAgainst>[5]): Analysis =>
  analyseLog(plan.circuit, plan.corners, log, { kind: 'plan', plan }, { ...settings, ground: plan.ground, width_m: plan.vehicle.width_m })

/** Laps that the run's programme, or what was agreed on the way, meant for another pace than the plan's, judged by the plan at it. */
const atOtherPaces = (
  input: AnalyseInput,
  { laps }: Pick<Analysis, 'laps'>,
  log: Log,
  settings: Parameters<typeof holdAgainst>[5],
): LapsAtPace[] => {
  const { pace } = input.settings
  const { paceOf, kindOf } = runStateOf(input.events ?? [])
  const other = laps.flatMap(({ lap }) =>
    isDrivenKind(kindOf(lap)) && !isAtPace(paceOf(lap, pace), pace) ? [{ lap, pace: paceOf(lap, pace) }] : [],
  )
  return [...new Set(other.map((one) => one.pace))].map((own) => {
    const analysis = judgedBy(planOf({ ...input, settings: { ...input.settings, pace: own } }), log, settings)
    return { laps: new Set(other.filter((one) => one.pace === own).map(({ lap }) => lap)), analysis }
  })
}

/** Values shown of each column of a log that is looked at. */
const SAMPLE = 4

/** Maximum length of a row of names. */
const LONGEST_SIGNATURE = 900

/** Common feature of files from one source: the names of their columns. */
const signatureOf = (file: LogFile): string =>
  file.form === 'table'
    ? file.table.columns
        .map((c) => c.name)
        .join('|')
        .slice(0, LONGEST_SIGNATURE)
    : file.form

/** Columns of a log file, and the channel guessed for each. @throws CoreError for files that cannot be read */
export const previewLog = async (
  { source }: { source: LogSource },
  onProgress: OnProgress = () => {},
): Promise<Omit<LogPreview, 'remembered'>> => {
  const file = await readSource(source, (share) => onProgress({ step: 'reading', share }))
  const { form } = file
  const signature = signatureOf(file)
  if (form !== 'table') return { form, rows: file.log.time_s.length, columns: [], guess: [], signature }
  const { table } = file
  const at = Array.from({ length: SAMPLE }, (_, i) => Math.floor(((i + 1) * table.rows) / (SAMPLE + 1)))
  return {
    form,
    rows: table.rows,
    columns: table.columns.map(({ name, values }) => ({ name, sample: at.map((i) => (Number.isFinite(values[i]) ? values[i] : null)) })),
    guess: guessMapping(table),
    signature,
  }
}

/** Input for a student's sheet. */
export type SheetInput = StoredPlan & { debrief: Pick<Debrief, 'findings' | 'review'>; laps: { lap: number; offset_m: number[] }[] }
/** Praise and advice, with a drawing of each from the student's own lap. */
export type SheetOutput = {
  held: (Praise & { cornerName: string })[]
  items: (Advice & { cornerName: string; drawing: CornerDrawing | null })[]
}

/** Makes the findings of a sheet. */
export const sheet = (input: SheetInput): SheetOutput => {
  const { circuit, corners, line, ...rest } = planOf(input)
  const { findings, review } = input.debrief
  const nameOf = (cornerId: string): string => cornerName(corners, cornerId)
  const passes = (cornerId: string): number => review.passes.filter((p) => p.cornerId === cornerId).length
  const said = selectAdvice(findings, passes, adviceLimitsOf({ circuit, corners, line, ...rest }))
  return {
    held: selectPraise(findings, review.passes).map((praise) => ({ ...praise, cornerName: nameOf(praise.cornerId) })),
    items: said.map((advice) => {
      const corner = cornerOf(corners, advice.cornerId)
      const shown = findings.find((f) => f.cornerId === advice.cornerId && f.code === advice.code && f.root)
      const own = input.laps.find((l) => l.lap === shown?.lap)
      const stretch = corner && shown && { from_m: corner.start_m, to_m: corner.end_m, shown_m: shown.station_m }
      return {
        ...advice,
        cornerName: nameOf(advice.cornerId),
        drawing: stretch ? drawCorner(circuit, stretch, line.offset_m, own?.offset_m ?? null) : null,
      }
    }),
  }
}

/** Questions for a student. */
export const askQuiz = (input: QuizInput): QuizQuestion[] => askFrom(planner, input)

/** Judges a student's answer. @throws CoreError for a question that is not asked any more */
export const judgeQuiz = (input: JudgeInput): ReturnType<typeof judgeFrom> => judgeFrom(planner, input)

/** A plan to follow cars on. */
export const plan = (input: StoredPlan): Plan => planOf(input)

/** Growth of every habit a lap, as the made-up students tire. */
const TIRING = 0.01

/** Drives a run with a made-up student. */
export const simulate = (input: SimulateInput): SimulateOutput => {
  const plan = planOf(input)
  const usual = input.habits === false ? [] : habitsOf(input.habitSeed, plan, input.skill)
  const habits = input.wild ? usual.map((h) => ({ ...h, probability: Math.min(0.95, 1.6 * h.probability), size: 1.3 * h.size })) : usual
  const { log, lapTimes_s, firstLine_s } = simulateDrive(plan, {
    laps: input.laps,
    seed: input.seed,
    noise_m: input.noise_m ?? 0.05,
    habits,
    tiring: TIRING,
    ...(input.rate_hz ? { rate_hz: input.rate_hz } : {}),
    ...(input.dropOuts ? { dropOuts: input.dropOuts } : {}),
    corrected: input.corrected ?? [],
    paceOf: (lap) =>
      input.slowLaps?.includes(lap) ? paces.sighting : (input.paceFrom?.findLast((p) => p.lap <= lap)?.pace ?? plan.settings.pace),
  })
  return { csv: writeLogCsv(log), log, lapTimes_s, firstLine_s }
}

/** The cones that a student meets on a day. */
export const conesMet = (input: OfDayInput): Cone[] => conesFrom(planner, input)
