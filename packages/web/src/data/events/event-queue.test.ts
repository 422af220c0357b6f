import 'fake-indexeddb/auto'
import Dexie from 'dexie'
import { afterAll, describe, expect, it } from 'vitest'

type Row = { id: string; runId: string; at: string; sent: 0 | 1; doc: { id: string; runId: string; at: string } }

const row = (id: string, sent: 0 | 1): Row => ({ id, runId: 'run', at: id, sent, doc: { id, runId: 'run', at: id } })

afterAll(() => Dexie.delete('ochote'))

describe('events kept by an earlier release', () => {
  it('are taken over with what still waits, and sent once', async () => {
    const old = new Dexie('ochote')
    old.version(1).stores({ events: 'id, runId, sent' })
    await old.table('events').bulkPut([row('1', 1), row('2', 0), row('3', 0)])
    old.close()
    // Opened only now, so that the newer release finds the older one's database.
    const { eventQueue } = await import('./event-queue.ts')
    const sent: string[] = []
    const queue = eventQueue<Row['doc']>(
      'runEvents',
      (e) => e.runId,
      async (events) => {
        sent.push(...events.map((e) => e.id))
        return { stored: events.map((e) => e.id), refused: [], clockAhead_s: 0 }
      },
    )
    await queue.sendWaiting()
    expect(sent).toEqual(['2', '3'])
    await queue.sendWaiting()
    expect(sent).toEqual(['2', '3'])
    const kept = await new Promise<{ id: string; sent: number }[]>((resolve) => {
      const stop = queue.watch('run', (events) => {
        if (events.length < 3) return
        queueMicrotask(() => stop())
        resolve(events)
      })
    })
    expect(kept.map((e) => [e.id, e.sent])).toEqual([
      ['1', 1],
      ['2', 1],
      ['3', 1],
    ])
  })

  it('keeps runs and days apart', async () => {
    const { eventQueue } = await import('./event-queue.ts')
    const never = async (): Promise<never> => Promise.reject(new Error('no network'))
    const days = eventQueue<{ id: string; dayId: string; at: string }>('dayEvents', (e) => e.dayId, never)
    await days.log({ id: 'd1', dayId: 'day', at: '1' })
    const kept = await new Promise<{ id: string; sent: number }[]>((resolve) => {
      const stop = days.watch('day', (events) => {
        if (events.length === 0) return
        queueMicrotask(() => stop())
        resolve(events)
      })
    })
    expect(kept.map((e) => [e.id, e.sent])).toEqual([['d1', 0]])
  })
})
