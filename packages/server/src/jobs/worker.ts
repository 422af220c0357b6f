import type { MessagePort } from 'node:worker_threads'
import { CoreError } from '@ochote/core'
import { ZodError } from 'zod'
import * as backupTasks from '../backups/tasks.ts'
import { damageOf } from '../db/checked.ts'
import { HttpProblem } from '../http/problems.ts'
import * as circuitFile from './circuit-file.ts'
import * as tasks from './tasks.ts'
import * as vehicleFile from './vehicle-file.ts'

/** An error on its way out of a worker: only plain data survive the crossing. */
export type Crossed<T> =
  | { value: T }
  | { error: { code: CoreError['code']; place: string; data: CoreError['data'] } }
  | { problem: Pick<HttpProblem, 'status' | 'code' | 'message' | 'remedy'> }
  | { invalid: ZodError['issues'] }

const crossing =
  <I, O>(task: (input: I, onProgress?: tasks.OnProgress) => O | Promise<O>) =>
  async ({ input, progress }: { input: I; progress?: MessagePort }): Promise<Crossed<O>> => {
    try {
      return { value: await task(input, progress && ((reading) => progress.postMessage(reading))) }
    } catch (error) {
      if (error instanceof CoreError) return { error: { code: error.code, place: error.place, data: error.data } }
      if (error instanceof HttpProblem) {
        const { status, code, message, remedy } = error
        return { problem: { status, code, message, remedy } }
      }
      if (error instanceof ZodError) return { invalid: JSON.parse(JSON.stringify(error.issues)) as ZodError['issues'] }
      throw error
    }
  }

export const analyse = crossing(tasks.analyse)
export const previewLog = crossing(tasks.previewLog)
export const sheet = crossing(tasks.sheet)
export const plan = crossing(tasks.plan)
export const simulate = crossing(tasks.simulate)
export const askQuiz = crossing(tasks.askQuiz)
export const judgeQuiz = crossing(tasks.judgeQuiz)
export const conesMet = crossing(tasks.conesMet)
export const readVehicleFile = crossing(vehicleFile.readVehicleFile)
export const readCircuitFile = crossing(circuitFile.readCircuitFile)
export const lookAtCircuitFile = crossing(circuitFile.lookAtCircuitFile)
export const reviseCircuit = crossing(circuitFile.reviseCircuit)
export const shareGround = crossing(circuitFile.shareGround)
export const finishBackup = crossing(backupTasks.finishBackup)
export const compareBackup = crossing(backupTasks.compareBackup)
export const restoreBackup = crossing(backupTasks.restoreBackup)
export const checkDatabase = crossing(({ file }: { file: string }) => damageOf(file))
