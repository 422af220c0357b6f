import { parseLogFile, planSource, type StoredFinding, type StoredPlan, type WireTrace } from '@ochote/contract'
import {
  analyseLog,
  type Correction,
  createPlanner,
  habitsOf,
  type Log,
  type Plan,
  paces,
  type QuizQuestion,
  simulateDrive,
  writeLogCsv,
} from '@ochote/core'
import { askFrom, type JudgeInput, judgeFrom, type QuizInput } from './quiz.ts'

/** A log to analyse against the plan of its run. */
export type AnalyseInput = StoredPlan & { csv: string }
/** Laps with their traces, and findings. */
export type AnalyseOutput = {
  rows: number
  laps: { lap: number; start_s: number; time_s: number; trace: WireTrace }[]
  skipped: { start_s: number; gap_s: number; after_s: number }[]
  findings: StoredFinding[]
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

const rounded = (column: Float64Array, digits: number): number[] => {
  const scale = 10 ** digits
  return Array.from(column, (v) => Math.round(v * scale) / scale)
}

/** Reads, matches, splits and judges a log. @throws CoreError for logs that cannot be used */
export const analyse = (input: AnalyseInput): AnalyseOutput => {
  const plan = planOf(input)
  const log = parseLogFile(input.csv)
  const analysis = analyseLog(plan.circuit, plan.corners, log, { kind: 'plan', plan })
  return {
    rows: log.time_s.length,
    skipped: analysis.skipped,
    laps: analysis.laps.map((lap, k) => {
      const trace = analysis.traces[k]
      return {
        lap: lap.lap,
        start_s: lap.start_s,
        time_s: lap.time_s,
        trace: {
          lap: lap.lap,
          lapTime_s: lap.time_s,
          time_s: rounded(trace.time_s, 3),
          speed_mps: rounded(trace.speed_mps, 2),
          offset_m: rounded(trace.offset_m, 2),
          brake: rounded(trace.brake, 3),
          throttle: rounded(trace.throttle, 3),
        },
      }
    }),
    findings: analysis.findings.map(({ cornerName: _, ...finding }) => finding),
  }
}

/** Asks a student. */
export const askQuiz = (input: QuizInput): QuizQuestion[] => askFrom(planOf(input), input)

/** Judges a student's answer. @throws CoreError for a question that is not asked any more */
export const judgeQuiz = (input: JudgeInput): ReturnType<typeof judgeFrom> => judgeFrom(planOf(input), input)

/** A plan, for whoever follows cars on it. */
export const plan = (input: StoredPlan): Plan => planOf(input)

/** Growth of every habit a lap, as the made-up students tire. */
const TIRING = 0.01

/** Drives a run with a made-up student. */
export const simulate = (input: SimulateInput): SimulateOutput => {
  const plan = planOf(input)
  const own = input.habits === false ? [] : habitsOf(input.habitSeed, plan, input.skill)
  const habits = input.wild ? own.map((h) => ({ ...h, probability: Math.min(0.95, 1.6 * h.probability), size: 1.3 * h.size })) : own
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
