import type { Run } from '@ochote/contract'
import { CoreError } from '@ochote/core'
import { serverTime } from '../clock/clock.ts'
import type { DebriefService } from '../debrief/service.ts'
import type { LogSource } from '../jobs/log-source.ts'
import type { LiveDay } from '../live/live.ts'
import type { RunStore } from './store.ts'

/** What ending a run needs. */
type EndingWork = { runs: RunStore; live: LiveDay; debriefs: DebriefService; onFailure: (error: unknown) => void }

/** Problems of a log that ended before its first lap was complete: the run has no log then, and ending it has not failed. */
const noLapYet: ReadonlySet<string> = new Set(['log-no-lap', 'log-gap', 'log-elsewhere', 'file-empty'])

const storeLog = async (debriefs: DebriefService, run: Run, { source, log }: { source: string; log: LogSource }): Promise<void> => {
  try {
    await debriefs.takeLog(run, { source, log: { source: log } })
  } catch (error) {
    if (!(error instanceof CoreError && noLapYet.has(error.code))) throw error
  }
}

/**
 * Ends runs, each once however many ask for it at the same time. First the run is ended and its log marked as due, then the log is
 * read and stored, then the recording goes: a server that is killed in between goes on at its next start.
 */
export const runEnding = ({ runs, live, debriefs, onFailure }: EndingWork) => {
  const underWay = new Map<string, Promise<void>>()
  const keepLog = async (run: Run): Promise<void> => {
    const log = await live.logOf(run)
    if (log) await storeLog(debriefs, run, log)
    await runs.logSettled(run.id)
    await live.forget(run.id)
  }
  const finish = async (run: Run): Promise<void> => {
    const endedAt = run.endedAt ?? serverTime()
    if (!run.endedAt) await runs.end(run.id, endedAt)
    // Its log is read by the process that has what was received; it hears that a run has ended.
    if (!live.isOwner()) return live.runsChanged()
    try {
      await keepLog({ ...run, endedAt })
    } finally {
      await live.runsChanged()
    }
  }
  const once = (run: Run): Promise<void> => {
    const before = underWay.get(run.id)
    if (before) return before
    const ending = finish(run).finally(() => underWay.delete(run.id))
    underWay.set(run.id, ending)
    return ending
  }

  /** A recording that no run waits for: read where its run has no log, dropped where it has one or is gone. */
  const adopt = async (runId: string): Promise<void> => {
    const run = await runs.byId(runId)
    if (run && !run.endedAt) return
    if (run && !run.hasLog) await once(run)
    else await live.forget(runId)
  }

  const due = async (): Promise<void> => {
    const left = [...(await runs.saidToEnd()), ...(await runs.withLogDue())]
    for (const run of left) await once(run).catch(onFailure)
  }

  return {
    /** Reads the logs of runs that have ended, or that somebody ended, and are due. */
    due,
    /** Ends a run and keeps its log; for one whose log is being read it waits for that, and does nothing for one that has it. */
    end: (run: Run): Promise<void> => underWay.get(run.id) ?? (run.endedAt ? Promise.resolve() : once(run)),
    /** Resolves when no run is being ended. */
    settled: async (): Promise<void> => {
      await Promise.allSettled(underWay.values())
    },
    /**
     * Goes on with what a server that was killed left: runs that somebody ended, logs that are due, recordings without a run that
     * waits for them. What fails keeps its recording, and is tried again at the next start.
     */
    resume: async (): Promise<void> => {
      await due()
      for (const runId of await live.recordings()) await adopt(runId).catch(onFailure)
    },
  }
}
export type RunEnding = ReturnType<typeof runEnding>
