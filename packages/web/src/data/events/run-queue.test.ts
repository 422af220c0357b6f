import 'fake-indexeddb/auto'
import { type RunEvent, seededRandom } from '@ochote/core'
import { v7 as uuid } from 'uuid'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { QueuedEvent } from './event-queue.ts'
import { runQueue, startRunHere } from './run-queue.ts'

/** A server in memory that keeps each id once, and may fail before or after it stored a batch. */
const fakeServer = () => {
  const server = {
    stored: [] as RunEvent[],
    runs: [] as string[],
    startedElsewhere: null as string | null,
    batches: 0,
    mode: 'up' as 'up' | 'down' | 'dies after storing',
  }
  vi.stubGlobal('fetch', async (url: string, init: RequestInit) => {
    server.batches++
    if (server.mode === 'down') throw new TypeError('Failed to fetch')
    if (url === '/api/runs') {
      const body = JSON.parse(String(init.body)) as { id: string }
      if (server.startedElsewhere) {
        const problem = { type: 'x', title: 'x', status: 409, code: 'run-started-twice', place: server.startedElsewhere }
        return new Response(JSON.stringify(problem), { status: 409 })
      }
      server.runs.push(body.id)
      return new Response(JSON.stringify(body), { status: 200 })
    }
    const { events: all } = JSON.parse(String(init.body)) as { events: RunEvent[] }
    const refused = all.filter((e) => e.runId === 'gone').map(({ id }) => ({ id, title: 'Gone', remedy: 'Stays here' }))
    const events = all.filter((e) => e.runId !== 'gone')
    for (const event of events) if (!server.stored.some((e) => e.id === event.id)) server.stored.push(event)
    if (server.mode === 'dies after storing') throw new TypeError('Connection reset')
    return new Response(JSON.stringify({ stored: events.map((e) => e.id), refused, clockAhead_s: 0 }), { status: 200 })
  })
  return server
}

let server: ReturnType<typeof fakeServer>
beforeEach(() => {
  server = fakeServer()
})
afterEach(() => vi.unstubAllGlobals())

const observation = (runId: string): RunEvent => ({
  id: uuid(),
  runId,
  at: new Date().toISOString(),
  kind: 'observation',
  cornerId: 'T1',
  code: 'apex-missed',
  lap: 1,
})

/** Waits until a run's events on this device fulfil a condition. */
const until = (runId: string, fulfilled: (events: QueuedEvent<RunEvent>[]) => boolean): Promise<QueuedEvent<RunEvent>[]> =>
  new Promise((resolve) => {
    let stop = (): void => {}
    stop = runQueue.watch(runId, (events) => {
      if (!fulfilled(events)) return
      queueMicrotask(() => stop())
      resolve(events)
    })
  })
const allSent = (count: number) => (events: QueuedEvent<RunEvent>[]) => events.length === count && events.every((e) => e.sent === 1)

describe('events on this device', () => {
  it('are there at once and marked as sent when the server has them', async () => {
    const event = observation('run-a')
    await runQueue.log(event)
    const kept = await until('run-a', allSent(1))
    expect(kept[0].doc).toEqual(event)
    expect(server.stored).toEqual([event])
  })

  it('wait while the server is down, and go out in order when it is back', async () => {
    server.mode = 'down'
    const events = [observation('run-b'), observation('run-b'), observation('run-b')]
    for (const event of events) await runQueue.log(event)
    expect(await until('run-b', (e) => e.length === 3)).toSatisfy((kept: QueuedEvent<RunEvent>[]) => kept.every((e) => e.sent === 0))
    server.mode = 'up'
    // A try that is still failing ends by itself; ask until one goes through.
    await vi.waitFor(async () => {
      await runQueue.sendWaiting()
      expect(server.stored).toHaveLength(3)
    })
    await until('run-b', allSent(3))
    expect(server.stored.map((e) => e.id)).toEqual(events.map((e) => e.id))
  })

  it('are not doubled when the answer got lost after they were stored', async () => {
    server.mode = 'dies after storing'
    const event = observation('run-c')
    await runQueue.log(event)
    await vi.waitFor(() => expect(server.stored).toHaveLength(1))
    server.mode = 'up'
    await vi.waitFor(async () => {
      await runQueue.sendWaiting()
      expect((await until('run-c', (e) => e.length === 1))[0].sent).toBe(1)
    })
    expect(server.stored).toEqual([event])
  })

  it('of other devices are taken over as sent, and not sent again', async () => {
    await runQueue.adopt([observation('run-d'), observation('run-d')])
    await until('run-d', allSent(2))
    await runQueue.sendWaiting()
    expect(server.stored).toEqual([])
  })

  it('all arrive exactly once through a hundred random failures (seed 41)', async () => {
    const random = seededRandom(41)
    const sent: string[] = []
    for (let i = 0; i < 100; i++) {
      const draw = random.uniform()
      server.mode = draw < 0.35 ? 'down' : draw < 0.6 ? 'dies after storing' : 'up'
      const event = observation('run-e')
      sent.push(event.id)
      await runQueue.log(event)
      if (random.uniform() < 0.5) await runQueue.sendWaiting()
    }
    server.mode = 'up'
    await vi.waitFor(
      async () => {
        await runQueue.sendWaiting()
        expect(server.stored).toHaveLength(100)
      },
      { timeout: 20_000 },
    )
    await until('run-e', allSent(100))
    expect(server.stored.map((e) => e.id).sort()).toEqual([...sent].sort())
  })

  it('that can never be stored stay here, marked, and hold up nobody', async () => {
    const [lost, good] = [observation('gone'), observation('run-f')]
    await runQueue.log(lost)
    await runQueue.log(good)
    await until('run-f', allSent(1))
    const [kept] = await until('gone', (e) => e.length === 1 && e[0].sent === 2)
    expect(kept.doc).toEqual(lost)
    const batches = server.batches
    await runQueue.sendWaiting()
    expect(server.batches).toBe(batches)
  })
})

describe('runs started on this device', () => {
  const body = (id: string) => ({
    id,
    dayId: 'day',
    slotId: 's1',
    studentId: 'imke',
    carId: null,
    settings: {} as never,
    startedAt: new Date().toISOString(),
  })
  const known = { studentName: 'Imke Valderan', date: '2027-05-15' }

  it('go on without the server, which hears of them before what happened in them', async () => {
    server.mode = 'down'
    const id = uuid()
    expect(await startRunHere(body(id), known)).toBe(id)
    await runQueue.log(observation(id))
    expect(server.runs).toEqual([])
    server.mode = 'up'
    await vi.waitFor(async () => {
      await runQueue.sendWaiting()
      expect(server.stored).toHaveLength(1)
    })
    expect(server.runs).toEqual([id])
    await runQueue.sendWaiting()
    expect(server.runs).toEqual([id])
  })

  it('that were started elsewhere already go on as those, with what was logged here', async () => {
    server.mode = 'down'
    const id = uuid()
    await startRunHere(body(id), known)
    const event = observation(id)
    await runQueue.log(event)
    server.mode = 'up'
    server.startedElsewhere = 'the-other-run'
    await vi.waitFor(async () => {
      await runQueue.sendWaiting()
      expect(server.stored).toHaveLength(1)
    })
    expect(server.stored[0]).toEqual({ ...event, runId: 'the-other-run' })
    server.startedElsewhere = null
    const again = uuid()
    expect(await startRunHere(body(again), known)).toBe(again)
    expect(server.runs).toEqual([again])
  })
})
