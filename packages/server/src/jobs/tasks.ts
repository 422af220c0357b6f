import { parseLogFile, planSource, type StoredFinding, type StoredPlan, type WireTrace } from '@ochote/contract'
import { analyseLog, createPlanner, habitsOf, matchLog, type Plan, type QuizQuestion, simulateDrive, writeLogCsv } from '@ochote/core'
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
/** A run to simulate. */
export type SimulateInput = StoredPlan & { seed: number; habitSeed: number; skill: number; laps: number }
/** A simulated run: its log as a file, and its places on the circuit for the screens. */
export type SimulateOutput = {
  csv: string
  time_s: Float64Array
  travel_m: Float64Array
  offset_m: Float64Array
  speed_mps: Float64Array
  length_m: number
}

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

/** Drives a run with a made-up student. */
export const simulate = (input: SimulateInput): SimulateOutput => {
  const plan = planOf(input)
  const { log } = simulateDrive(plan, {
    laps: input.laps,
    seed: input.seed,
    noise_m: 0.05,
    habits: habitsOf(input.habitSeed, plan, input.skill),
  })
  const matched = matchLog(plan.circuit, log)
  return {
    csv: writeLogCsv(log),
    time_s: log.time_s,
    travel_m: matched.travel_m,
    offset_m: matched.offset_m,
    speed_mps: log.speed_mps ?? new Float64Array(log.time_s.length),
    length_m: plan.circuit.length_m,
  }
}
