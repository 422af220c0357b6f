import { api, type Refused, type Run } from '@ochote/contract'
import { CoreError, carOfRun, type RunEvent } from '@ochote/core'
import { acknowledge } from '../db/acknowledge.ts'
import type { DebriefService } from '../debrief/service.ts'
import type { Mount } from '../http/mount.ts'
import { HttpProblem, notFound } from '../http/problems.ts'
import type { LogSource } from '../jobs/log-source.ts'
import type { LiveDay } from '../live/live.ts'
import type { Stores } from '../stores.ts'

/** Runs: start, follow, log, end. */
export const runRoutes = (
  mount: Mount,
  { runs, days }: Pick<Stores, 'runs' | 'days'>,
  live: LiveDay,
  debriefs: DebriefService,
  onFailure: (error: unknown) => void,
): void => {
  const one = async (id: string): Promise<Run> => {
    const run = await runs.byId(id)
    if (!run) throw notFound('run')
    return run
  }

  mount(api.runs, async ({ query }) => runs.list(query))
  mount(api.run, async ({ params }) => one(params.runId))

  mount(api.startRun, async ({ body, account }) => {
    const known = await runs.byId(body.id)
    if (known) return known
    const other = (await runs.open(body.dayId)).find((run) => body.slotId !== null && run.slotId === body.slotId)
    if (other)
      throw new HttpProblem(
        409,
        'run-started-twice',
        `${other.studentName}’s run was already started.`,
        'Go on in that run; what was logged here moves into it.',
        other.id,
      )
    const day = await days.byId(body.dayId)
    await runs.add({ ...body, carId: (day && carOfRun(body, day.plan)?.id) ?? body.carId, instructorId: account?.id ?? null })
    await live.runsChanged()
    return one(body.id)
  })

  mount(api.simulateLogger, async ({ params, body }) => {
    const run = await one(params.runId)
    if (run.endedAt) throw new HttpProblem(409, 'run-ended', 'This run has ended.', 'Start a new run; what was logged is kept.')
    if (!run.simulation) {
      const { delay_s, ...simulation } = body
      const startedAt = new Date(Date.now() + (1000 * delay_s) / simulation.speedFactor).toISOString()
      await runs.setSimulation(run.id, { ...simulation, startedAt })
      await live.runsChanged()
    }
    const started = await one(run.id)
    await live.startLogger(started)
    return started
  })
  mount(api.stopLogger, async ({ params }) => {
    const run = await one(params.runId)
    live.stopLogger(run.id)
    return run
  })

  /** Ends that are under way: an event and a call may ask for the same one. */
  const ending = new Map<string, Promise<void>>()
  /** Ends a run once: keeps its log and lets it go. */
  const end = (run: Run): Promise<void> => {
    if (run.endedAt) return Promise.resolve()
    const known = ending.get(run.id)
    if (known) return known
    const work = async (): Promise<void> => {
      const log = await live.logOf(run)
      await runs.end(run.id, new Date().toISOString())
      if (log) await keepLog(run, log)
      await live.forget(run.id)
      await live.runsChanged()
    }
    const one = work().finally(() => ending.delete(run.id))
    ending.set(run.id, one)
    return one
  }
  mount(api.endRun, async ({ params }) => {
    await end(await one(params.runId))
    return one(params.runId)
  })

  /** A run may end before its first lap is complete: then it has no log, and that is no failure of ending it. */
  const keepLog = async (run: Run, { source, log }: { source: string; log: LogSource }): Promise<void> => {
    try {
      await debriefs.takeLog(run, { source, log: { source: log } })
    } catch (error) {
      if (!(error instanceof CoreError && ['log-no-lap', 'log-gap', 'log-elsewhere', 'file-empty'].includes(error.code))) throw error
    }
  }

  mount(api.carConditions, async ({ params }) => runs.carConditions(params.dayId))

  mount(api.runEvents, async ({ params }) => runs.events((await one(params.runId)).id))

  mount(api.addEvents, async ({ body, account }) => {
    if (!account) throw notFound('account')
    const known = new Map<string, Run | null>()
    for (const { runId } of body.events) if (!known.has(runId)) known.set(runId, await runs.byId(runId))
    const reasonFor = (event: RunEvent): Omit<Refused, 'id'> | null =>
      known.get(event.runId)
        ? null
        : { title: 'This run does not exist any more; its student may have been deleted.', remedy: 'What was logged stays on this device.' }
    return acknowledge(body, reasonFor, async (good, clock_ms) => {
      for (const event of await runs.append(account.id, good, clock_ms)) {
        live.runEvent(event)
        const run = known.get(event.runId)
        // The touch is safe already; the log takes its time.
        if (event.kind === 'ended' && run) void end(run).catch(onFailure)
      }
    })
  })
}
