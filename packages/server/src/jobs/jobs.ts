import { availableParallelism } from 'node:os'
import { MessageChannel } from 'node:worker_threads'
import type { CircuitPreview, StoredPlan, TableChange } from '@ochote/contract'
import type { Cone, Plan, QuizQuestion, Vehicle } from '@ochote/core'
import { Piscina } from 'piscina'
import type { RestoreInput } from '../backups/tasks.ts'
import * as backupTasks from '../backups/tasks.ts'
import { damageOf } from '../db/checked.ts'
import { HttpProblem } from '../http/problems.ts'
import type { CircuitFileInput, CircuitRevisionInput, ReadCircuitFile, ShareGroundInput } from './circuit-file.ts'
import * as circuitFile from './circuit-file.ts'
import { type Crossed, opened } from './crossing.ts'
import { fairQueue } from './fair-queue.ts'
import type { LogSource } from './log-source.ts'
import type { JudgeInput, OfDayInput, QuizInput } from './quiz.ts'
import * as tasks from './tasks.ts'
import { readVehicleFile } from './vehicle-file.ts'
import type * as worker from './worker.ts'

/** Who a job is done for, so that people take turns, and whoever hears how far it is. */
export type JobFor = { person: string; onProgress?: tasks.OnProgress | undefined }

/** Heavy computation, away from the thread that answers. Files are read in turns by person; all else goes past them. */
export type Jobs = {
  analyse: (input: tasks.AnalyseInput, whose: JobFor) => Promise<tasks.AnalyseOutput>
  previewLog: (input: { source: LogSource }, whose: JobFor) => ReturnType<typeof tasks.previewLog>
  sheet: (input: tasks.SheetInput) => Promise<tasks.SheetOutput>
  plan: (input: StoredPlan) => Promise<Plan>
  readCircuitFile: (input: CircuitFileInput, whose: JobFor) => Promise<ReadCircuitFile>
  lookAtCircuitFile: (input: CircuitFileInput, whose: JobFor) => Promise<CircuitPreview>
  readVehicleFile: (input: { path: string }, whose: JobFor) => Promise<Vehicle[]>
  reviseCircuit: (input: CircuitRevisionInput) => Promise<ReadCircuitFile>
  shareGround: (input: ShareGroundInput) => Promise<ReturnType<typeof circuitFile.shareGround>>
  simulate: (input: tasks.SimulateInput) => Promise<tasks.SimulateOutput>
  askQuiz: (input: QuizInput) => Promise<QuizQuestion[]>
  judgeQuiz: (input: JudgeInput) => Promise<ReturnType<typeof tasks.judgeQuiz>>
  conesMet: (input: OfDayInput) => Promise<Cone[]>
  finishBackup: (input: { file: string; recordings: string }) => Promise<void>
  compareBackup: (input: RestoreInput) => Promise<TableChange[]>
  restoreBackup: (input: RestoreInput) => Promise<TableChange[]>
  /** Reads a database whole; what is wrong with it, or null. */
  checkDatabase: (input: { file: string }) => Promise<string | null>
  close: () => Promise<void>
}

/** The name under which the worker exports a job. */
type JobName = Exclude<keyof Jobs, 'close'> & keyof typeof worker

/** Time after which a job is stopped (s): a file that takes longer is no log or survey that anybody has. */
export const LIMIT_S = { file: 300, other: 60, database: 3600 }

/** Memory of one worker thread (MB): the largest log with all its channels takes less than half of it. */
const MEMORY_MB = 1536

/** A job that was stopped because it took too long, or too much memory. */
export const stopped = (): HttpProblem =>
  new HttpProblem(
    422,
    'took-too-long',
    'This took too long, or too much memory, and was stopped.',
    'If it was a file, send a shorter one, or another form of it; nothing was stored.',
  )

const wasStopped = (error: unknown): boolean =>
  (error as { name?: unknown }).name === 'AbortError' || (error as { code?: unknown }).code === 'ERR_WORKER_OUT_OF_MEMORY'

/** Threads of a process that compute: those that read files leave one to whoever waits at a screen. */
const threadsHere = (): number => Math.max(2, availableParallelism())
/** Files that a process reads at a time. */
export const fileLanes = (): number => threadsHere() - 1

/** Options of the threads; for tests. */
type ThreadOptions = { threads?: number; limit_s?: typeof LIMIT_S; memory_MB?: number }

/** How far threads that read files stand behind those that somebody waits for at a screen (niceness). */
const BEHIND = 10

/**
 * Jobs in worker threads; `workerFile` is the built worker. Files have threads of their own, which give way: whoever answers a quiz or
 * opens a plan finds one free, and a processor too.
 */
export const threadJobs = (
  workerFile: string,
  { threads = threadsHere(), limit_s = LIMIT_S, memory_MB = MEMORY_MB }: ThreadOptions = {},
): Jobs => {
  const poolOf = (niceIncrement: number) =>
    new Piscina({
      filename: workerFile,
      minThreads: 1,
      maxThreads: threads - 1,
      idleTimeout: 60_000,
      niceIncrement,
      resourceLimits: { maxOldGenerationSizeMb: memory_MB },
    })
  const pools = { prompt: poolOf(0), patient: poolOf(BEHIND) }
  const files = fairQueue(threads - 1)
  type Pool = keyof typeof pools
  const runTelling = (pool: Pool, name: JobName, input: unknown, onProgress: tasks.OnProgress, signal: AbortSignal): Promise<unknown> => {
    const { port1, port2 } = new MessageChannel()
    port1.on('message', onProgress)
    return pools[pool].run({ input, progress: port2 }, { name, transferList: [port2], signal }).finally(() => port1.close())
  }
  const run = async <O>(pool: Pool, name: JobName, input: unknown, within_s: number, onProgress?: tasks.OnProgress): Promise<O> => {
    const signal = AbortSignal.timeout(1000 * within_s)
    const running = onProgress ? runTelling(pool, name, input, onProgress, signal) : pools[pool].run({ input }, { name, signal })
    return opened(
      (await running.catch((error: unknown) => {
        throw wasStopped(error) ? stopped() : error
      })) as Crossed<O>,
    )
  }
  const file = <O>(name: JobName, input: unknown, { person, onProgress }: JobFor): Promise<O> =>
    files.run(person, () => run<O>('patient', name, input, limit_s.file, onProgress))
  const database = <O>(name: JobName, input: unknown): Promise<O> => run<O>('patient', name, input, limit_s.database)
  const other = <O>(name: JobName, input: unknown): Promise<O> => run<O>('prompt', name, input, limit_s.other)
  return {
    analyse: (input, whose) => file('analyse', input, whose),
    previewLog: (input, whose) => file('previewLog', input, whose),
    readCircuitFile: (input, whose) => file('readCircuitFile', input, whose),
    lookAtCircuitFile: (input, whose) => file('lookAtCircuitFile', input, whose),
    readVehicleFile: (input, whose) => file('readVehicleFile', input, whose),
    sheet: (input) => other('sheet', input),
    plan: (input) => other('plan', input),
    reviseCircuit: (input) => other('reviseCircuit', input),
    shareGround: (input) => other('shareGround', input),
    simulate: (input) => other('simulate', input),
    askQuiz: (input) => other('askQuiz', input),
    judgeQuiz: (input) => other('judgeQuiz', input),
    conesMet: (input) => other('conesMet', input),
    finishBackup: (input) => database('finishBackup', input),
    compareBackup: (input) => database('compareBackup', input),
    restoreBackup: (input) => database('restoreBackup', input),
    checkDatabase: (input) => database('checkDatabase', input),
    close: async () => {
      await Promise.all(Object.values(pools).map((pool) => pool.close({ force: true })))
    },
  }
}

/** The same jobs on the calling thread, for tests. */
export const directJobs = (): Jobs => ({
  analyse: (input, { onProgress }) => tasks.analyse(input, onProgress),
  previewLog: (input, { onProgress }) => tasks.previewLog(input, onProgress),
  readVehicleFile,
  sheet: async (input) => tasks.sheet(input),
  plan: async (input) => tasks.plan(input),
  readCircuitFile: (input) => circuitFile.readCircuitFile(input),
  lookAtCircuitFile: (input) => circuitFile.lookAtCircuitFile(input),
  reviseCircuit: async (input) => circuitFile.reviseCircuit(input),
  shareGround: async (input) => circuitFile.shareGround(input),
  simulate: async (input) => tasks.simulate(input),
  askQuiz: async (input) => tasks.askQuiz(input),
  judgeQuiz: async (input) => tasks.judgeQuiz(input),
  conesMet: async (input) => tasks.conesMet(input),
  finishBackup: async (input) => backupTasks.finishBackup(input),
  compareBackup: backupTasks.compareBackup,
  restoreBackup: backupTasks.restoreBackup,
  checkDatabase: async ({ file }) => damageOf(file),
  close: async () => {},
})
