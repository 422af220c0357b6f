import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { testPostgres } from '../db/test-postgres.test-data.ts'
import { startDemoServer, type TestServer } from '../test-server.test-data.ts'
import { storageProblemOf, storageWatch } from './storage.ts'

describe('what a failed write says of the disk', () => {
  it.each([
    [{ code: 'ENOSPC' }, 'disk-full'],
    [{ code: 'SQLITE_FULL' }, 'disk-full'],
    [{ code: 'SQLITE_IOERR_WRITE' }, 'disk-full'],
    [{ code: 'SQLITE_READONLY_DBMOVED' }, 'disk-read-only'],
    [{ code: 'EROFS' }, 'disk-read-only'],
    [{ code: 'SQLITE_CONSTRAINT_UNIQUE' }, null],
    [{ code: 'ENOENT' }, null],
    [new Error('something else'), null],
    [null, null],
  ])('%o means %s', (error, problem) => {
    expect(storageProblemOf(error)).toBe(problem)
  })

  it('holds until something can be written again', async () => {
    const told: (string | null)[] = []
    const watch = storageWatch(mkdtempSync(join(tmpdir(), 'ochote-storage-')), {
      onChange: (state) => told.push(state.problem),
    })
    expect(watch.failed({ code: 'ENOSPC' })).toBe('disk-full')
    expect(watch.failed(new Error('a fault'))).toBeNull()
    expect(watch.state().problem).toBe('disk-full')
    const { problem, free_bytes } = await watch.check()
    expect(problem).toBeNull()
    expect(free_bytes).toBeGreaterThan(0)
    expect(told[0]).toBe('disk-full')
    expect(told.at(-1)).toBeNull()
    watch.close()
  })
})

describe('a server whose disk is full', () => {
  let server: TestServer
  beforeAll(async () => {
    server = await startDemoServer()
  }, 120_000)
  afterAll(() => server.close())

  /** The database may not grow any more: what a full disk does to it. */
  const full = async (yes: boolean): Promise<void> => {
    const [{ page_count }] = (await server.opened.db.raw('PRAGMA page_count')) as { page_count: number }[]
    await server.opened.db.raw(`PRAGMA max_page_count = ${yes ? page_count : 1_000_000}`)
  }
  const message = (text: string) => ({
    id: uuid(),
    dayId: 'day-2027-05-15',
    at: new Date().toISOString(),
    kind: 'radio' as const,
    to: [],
    text,
  })
  const send = (events: object[]) => server.agent.post('/api/day-events').send({ events })

  it.skipIf(testPostgres)('says so in words, keeps what it had, and goes on when there is room', async () => {
    const kept = await server.stores.dayEvents.of('day-2027-05-15')
    await full(true)
    const acknowledged: string[] = []
    let answer = await send([message('first')])
    for (let k = 0; k < 40 && answer.status === 200; k++) {
      acknowledged.push(...(answer.body as { stored: string[] }).stored)
      answer = await send(Array.from({ length: 100 }, () => message('x'.repeat(160))))
    }
    expect(answer.status).toBe(507)
    expect(answer.body).toMatchObject({ code: 'disk-full', title: expect.stringContaining('disk is full') })
    expect((await server.agent.get('/api/state')).body.storage.problem).toBe('disk-full')
    // Reading goes on.
    expect((await server.agent.get('/api/students')).status).toBe(200)
    await full(false)
    await server.application.storage.check()
    expect((await server.agent.get('/api/state')).body.storage.problem).toBeNull()
    const after = message('there is room again')
    answer = await send([after])
    expect([answer.status, (answer.body as { stored: string[] }).stored]).toEqual([200, [after.id]])
    // What was acknowledged is there, and nothing of the batch that was refused.
    const ids = (await server.stores.dayEvents.of('day-2027-05-15')).map((event) => event.id)
    expect(ids).toEqual([...kept.map((event) => event.id), ...acknowledged, after.id])
  })
})
