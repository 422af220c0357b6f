import { api, type Refused, type Run } from '@ochote/contract'
import { carOfRun, changesCounting, type RunEvent } from '@ochote/core'
import { heardFrom, serverNow } from '../clock/clock.ts'
import { acknowledge } from '../db/acknowledge.ts'
import type { JudgeAnew } from '../debrief/judge-anew.ts'
import { isOnDay } from '../http/gate.ts'
import type { Identity } from '../http/identity.ts'
import type { Mount } from '../http/mount.ts'
import { HttpProblem, notFound } from '../http/problems.ts'
import type { LiveDay } from '../live/live.ts'
import type { Stores } from '../stores.ts'
import type { RunEnding } from './ending.ts'
import type { RunStore } from './store.ts'

/** Whether simulated devices may drive, and whether what they drive is practice and counts in no record. */
export type SimulatedDevices = () => Promise<{ allowed: boolean; practice: boolean }>

/** Services that the routes of runs need. */
type RunServices = {
  live: LiveDay
  ending: RunEnding
  judging: JudgeAnew
  onFailure: (error: unknown) => void
  simulated: SimulatedDevices
}
type RunWork = RunServices & Pick<Stores, 'runs' | 'days' | 'students'>

/** Runs: start, follow, log, end. */
export const runRoutes = (
  mount: Mount,
  { runs, days, students }: Pick<Stores, 'runs' | 'days' | 'students'>,
  services: RunServices,
): void => {
  const work = { runs, days, students, ...services }
  mount(api.runs, async ({ query, identity }) => runs.list(identity.dayId === null ? query : { ...query, dayId: identity.dayId }))
  mount(api.run, async ({ params }) => existing(runs, params.runId))
  mount(api.carConditions, async () => runs.carConditions())
  mount(api.runEvents, async ({ params }) => runs.events((await existing(runs, params.runId)).id))
  mount(api.endRun, async ({ params }) => {
    await services.ending.end(await existing(runs, params.runId))
    return existing(runs, params.runId)
  })
  mountStart(mount, work)
  mountLoggers(mount, work)
  mountEvents(mount, work)
}

/** @throws HttpProblem 404 where there is no such run */
const existing = async (runs: RunStore, id: string): Promise<Run> => {
  const run = await runs.byId(id)
  if (!run) throw notFound('run')
  return run
}

const mountStart = (mount: Mount, { runs, days, students, live }: RunWork): void => {
  mount(api.startRun, async ({ body, account }) => {
    const before = await runs.byId(body.id)
    if (before) return before
    const other = (await runs.open(body.dayId)).find((run) => run.id !== body.id && body.slotId !== null && run.slotId === body.slotId)
    if (other)
      throw new HttpProblem(
        409,
        'run-started-twice',
        `${other.studentName}’s run was already started.`,
        'Go on in that run; what was logged here moves into it.',
        other.id,
      )
    const day = await days.byId(body.dayId)
    if (!day) throw notFound('day')
    if (!(await students.byId(body.studentId))) throw notFound('student')
    if (account?.role !== 'lead' && account && !isOnDay(account, day))
      throw new HttpProblem(
        403,
        'not-yours',
        'You are not on the list of this day.',
        'Let the lead put you on it; then you may start runs.',
      )
    const { practice } = day.plan
    // Whoever starts a run on a screen need not be the one who is in the car.
    const slot = day.plan.slots.find((one) => one.id === body.slotId)
    const instructorId = slot ? (slot.instructorId ?? null) : (account?.id ?? null)
    await runs.add({ ...body, practice, carId: carOfRun(body, day.plan)?.id ?? body.carId, instructorId })
    await live.runsChanged()
    return existing(runs, body.id)
  })
}

const mountLoggers = (mount: Mount, { runs, live, simulated }: RunWork): void => {
  mount(api.simulateLogger, async ({ params, body }) => {
    const run = await existing(runs, params.runId)
    if (run.endedAt) throw new HttpProblem(409, 'run-ended', 'This run has ended.', 'Start a new run; what was logged is kept.')
    const { allowed, practice } = await simulated()
    if (!allowed)
      throw new HttpProblem(
        409,
        'practice-off',
        'Simulated devices are switched off in this school.',
        'A run goes without positions too: send it out as it is. For practice the lead can switch them on in the settings of the school.',
      )
    if (!run.simulation) {
      const { delay_s, ...simulation } = body
      const startedAt = new Date(serverNow() + (1000 * delay_s) / simulation.speedFactor).toISOString()
      await runs.setSimulation(run.id, { ...simulation, startedAt }, practice || run.practice)
      await live.runsChanged()
    }
    const started = await existing(runs, run.id)
    await live.startLogger(started)
    return started
  })
  mount(api.stopLogger, async ({ params }) => {
    const run = await existing(runs, params.runId)
    live.stopLogger(run.id)
    return run
  })
}

/** Why nothing can be logged in a run, if so. */
const refusalOf = (run: Run | null, { dayId }: Identity): Omit<Refused, 'id'> | null => {
  if (!run)
    return {
      title: 'This run does not exist any more; its student may have been deleted.',
      remedy: 'What was logged stays on this device.',
    }
  if (dayId !== null && run.dayId !== dayId)
    return {
      title: 'This device is signed in for another day.',
      remedy: 'What was logged stays on this device; let the desk pair it anew.',
    }
  return null
}

const mountEvents = (mount: Mount, { runs, live, judging, ending, onFailure }: RunWork): void => {
  mount(api.addEvents, async ({ body, account, identity }) => {
    if (!account) throw notFound('account')
    heardFrom(identity.key, body.deviceNow)
    const runOf = new Map<string, Run | null>()
    for (const { runId } of body.events) if (!runOf.has(runId)) runOf.set(runId, await runs.byId(runId))
    const reasonFor = (event: RunEvent): Omit<Refused, 'id'> | null => refusalOf(runOf.get(event.runId) ?? null, identity)
    return acknowledge(body, reasonFor, async (good, clock_ms) => {
      const { fresh, clashing } = await runs.append(account.id, good, clock_ms)
      for (const event of fresh) {
        live.runEvent(event)
        const run = runOf.get(event.runId)
        // The touch is safe already; the log takes its time.
        if (event.kind === 'ended' && run) void ending.end(run).catch(onFailure)
        if (run?.hasLog && changesCounting(event)) void judging.one(run.id)
      }
      return clashing
    })
  })
}
