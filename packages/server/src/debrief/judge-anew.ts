import type { JudgingAnew } from '@ochote/contract'
import type { Stores } from '../stores.ts'
import type { DebriefService } from './service.ts'
import { JUDGED_FORM } from './store.ts'

/** Judges logs anew in the background: all of earlier forms of the rules once, and single ones whose laps count differently now. */
export const judgeAnew = (
  { runs, debriefs }: Pick<Stores, 'runs' | 'debriefs'>,
  service: DebriefService,
  onFailure: (error: unknown) => void,
) => {
  const wanted = new Set<string>()
  let progress: JudgingAnew = { done: 0, total: 0, failed: 0 }
  let working: Promise<void> | null = null
  let closed = false

  const judge = async (runId: string): Promise<void> => {
    const run = await runs.byId(runId)
    if (run?.hasLog) await service.judgeAgain(runId)
  }
  // One log after the other: pages that people wait for come first.
  const work = async (): Promise<void> => {
    for (let next = [...wanted][0]; next !== undefined && !closed; next = [...wanted][0]) {
      wanted.delete(next)
      let failed = 0
      await judge(next).catch((error: unknown) => {
        failed = 1
        onFailure(error)
      })
      progress = { done: progress.done + 1, total: progress.done + 1 + wanted.size, failed: progress.failed + failed }
    }
  }
  const begin = (): Promise<void> => {
    if (working) return working
    working = work().finally(() => {
      working = null
    })
    return working
  }
  const want = (runIds: readonly string[]): Promise<void> => {
    if (!working) progress = { done: 0, total: 0, failed: 0 }
    for (const id of runIds) wanted.add(id)
    progress = { ...progress, total: progress.done + wanted.size }
    return begin()
  }
  return {
    /** The log of a run whose laps count differently now. */
    one: (runId: string): Promise<void> => want([runId]),
    /** Logs that were judged by earlier rules; resolves when all have been judged. A log that cannot be judged keeps what it has and is tried again at the next start. */
    all: async (): Promise<void> => want(await debriefs.judgedBefore(JUDGED_FORM)),
    progress: (): JudgingAnew => progress,
    /** Resolves when nothing is being judged. */
    settled: async (): Promise<void> => {
      await working
    },
    /** Stops after the log in hand. */
    close: async (): Promise<void> => {
      closed = true
      await working
    },
  }
}
export type JudgeAnew = ReturnType<typeof judgeAnew>
