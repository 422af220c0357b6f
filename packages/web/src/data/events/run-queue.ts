import { api, type NewRun, type Run } from '@ochote/contract'
import type { RunEvent } from '@ochote/core'
import { ApiProblem, call } from '../api/api-client.ts'
import { queryClient, runQuery } from '../api/queries.ts'
import { eventQueue, queuedStarts } from './event-queue.ts'

/** Events of runs on this device. A run that was started here goes to the server before what happened in it. */
export const runQueue = eventQueue<RunEvent>(
  'runEvents',
  (e) => e.runId,
  async (events, deviceNow) => {
    const moved = await sendStarts()
    const about = (event: RunEvent): RunEvent => ({ ...event, runId: moved.get(event.runId) ?? event.runId })
    return call(api.addEvents, { body: { events: events.map(about), deviceNow } })
  },
)

/** Runs started here that turned out to be started elsewhere already, and where. */
const movedTo = new Map<string, string>()

/**
 * Sends runs started on this device to the server. One that was already started from the same slot elsewhere goes on as that
 * one, with what was logged here. Returns the ids under which such runs go on.
 * @throws ApiProblem where the server cannot be reached
 */
const sendStarts = async (): Promise<ReadonlyMap<string, string>> => {
  for (const { id, body } of await queuedStarts.toArray()) {
    try {
      queryClient.setQueryData(runQuery(id).queryKey, await call(api.startRun, { body: body as NewRun }))
    } catch (error) {
      const other = error instanceof ApiProblem && error.problem.code === 'run-started-twice' ? error.problem.place : undefined
      if (!other) throw error
      movedTo.set(id, other)
      await runQueue.move(id, (event) => ({ ...event, runId: other }))
    }
    await queuedStarts.delete(id)
    void queryClient.invalidateQueries({ queryKey: ['runs'] })
  }
  return movedTo
}

/** Starts a run on this device first; the server hears of it at once or as soon as it can. Gives the run to go on in. */
export const startRunHere = async (body: NewRun, known: Pick<Run, 'studentName' | 'date'>): Promise<string> => {
  await queuedStarts.put({ id: body.id, body })
  const run: Run = {
    ...body,
    ...known,
    carId: body.carId ?? null,
    instructorId: null,
    endedAt: null,
    simulation: null,
    heldAgainst: { kind: 'plan' },
    hasLog: false,
    submitted: false,
    practice: false,
  }
  queryClient.setQueryData(runQuery(run.id).queryKey, run)
  try {
    return (await sendStarts()).get(run.id) ?? run.id
  } catch (error) {
    // A missing server is no failure: the run goes on here. Anything else is reported.
    if (error instanceof ApiProblem && error.problem.status !== 0 && error.problem.status < 500) {
      await queuedStarts.delete(run.id)
      throw error
    }
    return run.id
  }
}
