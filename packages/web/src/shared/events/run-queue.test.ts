import 'fake-indexeddb/auto'
import type { RunEvent } from '@ochote/contract'
import { seededRandom } from '@ochote/core'
import { v7 as uuid } from 'uuid'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { KeptEvent } from './event-queue.ts'
import { runQueue } from './run-queue.ts'

/** A server in memory that keeps each id once, and may fail before or after it stored a batch. */
const fakeServer = () => {
  const server = { stored: [] as RunEvent[], batches: 0, mode: 'up' as 'up' | 'down' | 'dies after storing' }
  vi.stubGlobal('fetch', async (_url: string, init: RequestInit) => {
    server.batches++
    if (server.mode === 'down') throw new TypeError('Failed to fetch')
    const { events } = JSON.parse(String(init.body)) as { events: RunEvent[] }
    for (const event of events) if (!server.stored.some((e) => e.id === event.id)) server.stored.push(event)
    if (server.mode === 'dies after storing') throw new TypeError('Connection reset')
    return new Response(JSON.stringify({ stored: events.map((e) => e.id), refused: [], clockAhead_s: 0 }), { status: 200 })
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
const until = (runId: string, fulfilled: (events: KeptEvent<RunEvent>[]) => boolean): Promise<KeptEvent<RunEvent>[]> =>
  new Promise((resolve) => {
    let stop = (): void => {}
    stop = runQueue.watch(runId, (events) => {
      if (!fulfilled(events)) return
      queueMicrotask(() => stop())
      resolve(events)
    })
  })
const allSent = (count: number) => (events: KeptEvent<RunEvent>[]) => events.length === count && events.every((e) => e.sent === 1)

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
    expect(await until('run-b', (e) => e.length === 3)).toSatisfy((kept: KeptEvent<RunEvent>[]) => kept.every((e) => e.sent === 0))
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
})
