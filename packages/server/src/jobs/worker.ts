import type { MessagePort } from 'node:worker_threads'
import * as backupTasks from '../backups/tasks.ts'
import { damageOf } from '../db/checked.ts'
import * as circuitFile from './circuit-file.ts'
import { type Crossed, crossed } from './crossing.ts'
import * as tasks from './tasks.ts'
import * as vehicleFile from './vehicle-file.ts'

const crossing =
  <I, O>(task: (input: I, onProgress?: tasks.OnProgress) => O | Promise<O>) =>
  ({ input, progress }: { input: I; progress?: MessagePort }): Promise<Crossed<O>> =>
    crossed(() => task(input, progress && ((reading) => progress.postMessage(reading))))

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
