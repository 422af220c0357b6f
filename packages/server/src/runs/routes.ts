import { api, type Run } from '@ochote/contract'
import { CoreError } from '@ochote/core'
import type { DebriefService } from '../debrief/service.ts'
import type { Mount } from '../http/mount.ts'
import { HttpProblem, notFound } from '../http/problems.ts'
import type { SimulatedLogger } from '../live/simulated-logger.ts'
import { streamFixes } from '../live/stream.ts'
import type { RunStore } from './store.ts'

/** Runs: start, follow, log, end. */
export const runRoutes = (mount: Mount, runs: RunStore, logger: SimulatedLogger, debriefs: DebriefService): void => {
  const one = async (id: string): Promise<Run> => {
    const run = await runs.byId(id)
    if (!run) throw notFound('run')
    return run
  }

  mount(api.runs, async ({ query }) => runs.list(query))
  mount(api.run, async ({ params }) => one(params.runId))

  mount(api.startRun, async ({ body, account }) => {
    await runs.add({ ...body, instructorId: account?.id ?? null })
    return one(body.id)
  })

  mount(api.simulateLogger, async ({ params, body }) => {
    const run = await one(params.runId)
    if (run.endedAt) throw new HttpProblem(409, 'run-ended', 'This run has ended.', 'Start a new run; what was logged is kept.')
    if (!run.simulation) await runs.setSimulation(run.id, { ...body, startedAt: new Date().toISOString() })
    return one(run.id)
  })

  mount(api.endRun, async ({ params }) => {
    const run = await one(params.runId)
    const csv = run.endedAt ? null : await logger.recorded(run)
    await runs.end(run.id, new Date().toISOString())
    if (csv) await keepLog(run, csv)
    logger.forget(run.id)
    return one(run.id)
  })

  /** A run may end before its first lap is complete: then it has no log, and that is no failure of ending it. */
  const keepLog = async (run: Run, csv: string): Promise<void> => {
    try {
      await debriefs.takeLog(run, 'simulated logger', csv)
    } catch (error) {
      if (!(error instanceof CoreError && error.code === 'log-no-lap')) throw error
    }
  }

  mount(api.carConditions, async ({ params }) => runs.carConditions(params.dayId))

  mount(api.runEvents, async ({ params }) => runs.events((await one(params.runId)).id))

  mount(api.addEvents, async ({ body, account }) => {
    if (!account) throw notFound('account')
    for (const runId of new Set(body.events.map((e) => e.runId))) await one(runId)
    await runs.append(account.id, body.events)
    return { stored: body.events.map((e) => e.id) }
  })

  mount(api.fixes, async ({ params, res }) => {
    const run = await one(params.runId)
    streamFixes(res, () => logger.latest(run))
    return undefined
  })
}
