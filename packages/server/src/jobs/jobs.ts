import { MessageChannel } from 'node:worker_threads'
import type { CircuitPreview, StoredPlan } from '@ochote/contract'
import { CoreError, type Plan, type QuizQuestion } from '@ochote/core'
import { Piscina } from 'piscina'
import type { CircuitFileInput, CircuitRevisionInput, ReadCircuitFile, ShareGroundInput } from './circuit-file.ts'
import * as circuitFile from './circuit-file.ts'
import type { LogSource } from './log-source.ts'
import type { JudgeInput, QuizInput } from './quiz.ts'
import * as tasks from './tasks.ts'
import type * as worker from './worker.ts'

/** Heavy computation, away from the thread that answers. */
export type Jobs = {
  analyse: (input: tasks.AnalyseInput, onProgress?: tasks.OnProgress) => Promise<tasks.AnalyseOutput>
  previewLog: (input: { source: LogSource }, onProgress?: tasks.OnProgress) => ReturnType<typeof tasks.previewLog>
  sheet: (input: tasks.SheetInput) => Promise<tasks.SheetOutput>
  plan: (input: StoredPlan) => Promise<Plan>
  readCircuitFile: (input: CircuitFileInput) => Promise<ReadCircuitFile>
  lookAtCircuitFile: (input: CircuitFileInput) => Promise<CircuitPreview>
  reviseCircuit: (input: CircuitRevisionInput) => Promise<ReadCircuitFile>
  shareGround: (input: ShareGroundInput) => Promise<ReturnType<typeof circuitFile.shareGround>>
  simulate: (input: tasks.SimulateInput) => Promise<tasks.SimulateOutput>
  askQuiz: (input: QuizInput) => Promise<QuizQuestion[]>
  judgeQuiz: (input: JudgeInput) => Promise<ReturnType<typeof tasks.judgeQuiz>>
  close: () => Promise<void>
}

/** The name under which the worker exports a job. */
type JobName = Exclude<keyof Jobs, 'close'> & keyof typeof worker

/** Jobs in worker threads; `workerFile` is the built worker. */
export const threadJobs = (workerFile: string): Jobs => {
  const pool = new Piscina({ filename: workerFile, minThreads: 1, maxThreads: 2, idleTimeout: 60_000 })
  const runTelling = (name: JobName, input: unknown, onProgress: tasks.OnProgress): Promise<unknown> => {
    const { port1, port2 } = new MessageChannel()
    port1.on('message', onProgress)
    return pool.run({ input, progress: port2 }, { name, transferList: [port2] }).finally(() => port1.close())
  }
  const run = async <O>(name: JobName, input: unknown, onProgress?: tasks.OnProgress): Promise<O> => {
    const crossed = (await (onProgress ? runTelling(name, input, onProgress) : pool.run({ input }, { name }))) as worker.Crossed<O>
    if ('error' in crossed) throw new CoreError(crossed.error.code, crossed.error.place, crossed.error.data)
    return crossed.value
  }
  return {
    analyse: (input, onProgress) => run('analyse', input, onProgress),
    previewLog: (input, onProgress) => run('previewLog', input, onProgress),
    sheet: (input) => run('sheet', input),
    plan: (input) => run('plan', input),
    readCircuitFile: (input) => run('readCircuitFile', input),
    lookAtCircuitFile: (input) => run('lookAtCircuitFile', input),
    reviseCircuit: (input) => run('reviseCircuit', input),
    shareGround: (input) => run('shareGround', input),
    simulate: (input) => run('simulate', input),
    askQuiz: (input) => run('askQuiz', input),
    judgeQuiz: (input) => run('judgeQuiz', input),
    close: () => pool.close({ force: true }),
  }
}

/** The same jobs on the calling thread, for tests. */
export const directJobs = (): Jobs => ({
  analyse: tasks.analyse,
  previewLog: tasks.previewLog,
  sheet: async (input) => tasks.sheet(input),
  plan: async (input) => tasks.plan(input),
  readCircuitFile: circuitFile.readCircuitFile,
  lookAtCircuitFile: circuitFile.lookAtCircuitFile,
  reviseCircuit: async (input) => circuitFile.reviseCircuit(input),
  shareGround: async (input) => circuitFile.shareGround(input),
  simulate: async (input) => tasks.simulate(input),
  askQuiz: async (input) => tasks.askQuiz(input),
  judgeQuiz: async (input) => tasks.judgeQuiz(input),
  close: async () => {},
})
