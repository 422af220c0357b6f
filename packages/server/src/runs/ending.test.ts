import { appendFile, mkdir, readdir, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { Run } from '@ochote/contract'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { testPostgres } from '../db/test-postgres.test-data.ts'
import { storedPlanOf } from '../debrief/service.ts'
import { directJobs } from '../jobs/jobs.ts'
import { fixRecorder } from '../live/recorder.ts'
import { startDemoServer, startTestServer, type TestServer } from '../test-server.test-data.ts'

const today = 'day-2027-05-15'
let server: TestServer
/** A driven log of the demo's circuit, as a recording holds it. */
let csv: string

const jobs = directJobs()

beforeAll(async () => {
  server = await startDemoServer()
  const day = await server.stores.days.byId(today)
  if (!day) throw new Error('No day')
  const source = await storedPlanOf({ settings: day.plan.settings }, server.stores.circuits, server.stores.vehicles)
  ;({ csv } = await jobs.simulate({ ...source, seed: 4, habitSeed: 5, skill: 0.2, laps: 5, rate_hz: 10 }))
}, 120_000)
afterAll(() => server.close())

const startRun = async (studentId: string): Promise<string> => {
  const day = (await server.agent.get(`/api/days/${today}`)).body
  const id = uuid()
  const body = { id, dayId: today, slotId: null, studentId, settings: day.plan.settings, startedAt: new Date().toISOString() }
  expect((await server.agent.post('/api/runs').send(body)).status).toBe(200)
  return id
}
const recordings = (): string => join(server.config.dataDir, 'recordings')
const record = async (runId: string): Promise<void> => {
  await mkdir(recordings(), { recursive: true })
  await writeFile(join(recordings(), `${runId}.csv`), csv)
}
/** A second server over the same school, as after a kill of the first: what it left is dealt with. */
const restarted = async <T>(look: (other: TestServer) => Promise<T>): Promise<T> => {
  // Where several may serve one school, the next one takes over once the first is gone.
  if (testPostgres) await server.close()
  const other = await startTestServer({ demo: true }, server.config.dataDir)
  await vi.waitFor(() => expect(other.application.live.isOwner()).toBe(true), { timeout: 60_000 })
  await other.application.resumed()
  if (testPostgres) {
    server = other
    await server.agent.post('/api/session/demo')
    return look(server)
  }
  return look(other).finally(() => other.close())
}

describe('a server that was killed', () => {
  it('goes on with the log of a run that was ended', async () => {
    const id = await startRun('imke-valderan')
    await record(id)
    // The kill came right after the end was stored.
    await server.stores.runs.end(id, new Date().toISOString())
    const run = await restarted((other) => other.stores.runs.byId(id))
    expect(run).toMatchObject({ hasLog: true })
    expect(await readdir(recordings())).not.toContain(`${id}.csv`)
    expect((await server.stores.runs.withLogDue()).map((one) => one.id)).not.toContain(id)
    expect((await server.stores.debriefs.byRun(id))?.laps.length).toBeGreaterThan(0)
  })

  it('ends a run that somebody said to end', async () => {
    const id = await startRun('imke-valderan')
    await record(id)
    // The kill came between the acknowledged touch and its being carried out.
    await server.stores.runs.append(await leadId(), [{ id: uuid(), runId: id, at: new Date().toISOString(), kind: 'ended' }])
    const run = await restarted((other) => other.stores.runs.byId(id))
    expect(run?.endedAt).not.toBeNull()
    expect(run?.hasLog).toBe(true)
  })

  it('reads a recording that nobody waits for, and drops one of a run that is gone', async () => {
    const id = await startRun('odalys-merrow')
    await server.stores.runs.end(id, new Date().toISOString())
    await server.stores.runs.logSettled(id)
    await record(id)
    await record('of-somebody-erased')
    const run = await restarted((other) => other.stores.runs.byId(id))
    expect(run?.hasLog).toBe(true)
    expect(await readdir(recordings())).toEqual([])
  })

  it('leaves a run alone that goes on', async () => {
    const id = await startRun('odalys-merrow')
    await record(id)
    const run = await restarted((other) => other.stores.runs.byId(id))
    expect(run).toMatchObject({ endedAt: null, hasLog: false })
    expect(await readdir(recordings())).toContain(`${id}.csv`)
    await server.agent.post(`/api/runs/${id}/end`)
    expect(((await server.agent.get(`/api/runs/${id}`)).body as Run).hasLog).toBe(true)
  })
})

describe('whoever asks for the end of a run', () => {
  it('waits for its log, also where somebody else has ended it a moment before', async () => {
    const id = await startRun('imke-valderan')
    await record(id)
    // The touch is answered at once, its log is read behind it; the page asks for the end right after.
    const event = { id: uuid(), runId: id, at: new Date().toISOString(), kind: 'ended' }
    expect((await server.agent.post('/api/events').send({ events: [event] })).body.stored).toEqual([event.id])
    expect((await server.agent.post(`/api/runs/${id}/end`)).body).toMatchObject({ hasLog: true })
    expect((await server.agent.get(`/api/runs/${id}/debrief`)).status).toBe(200)
  })
})

const leadId = async (): Promise<string> => (await server.stores.accounts.lead())?.id ?? ''

describe('files of one run that are added at once', () => {
  it('are all in its log, joined one after the other', async () => {
    const id = await startRun('imke-valderan')
    await server.agent.post(`/api/runs/${id}/end`)
    const rows = csv.trimEnd().split('\n')
    const [head, ...data] = rows
    const part = (from: number, to: number): string => `${[head, ...data.slice(from, to)].join('\n')}\n`
    const third = Math.floor(data.length / 3)
    const send = (text: string) =>
      server.agent.put(`/api/runs/${id}/log?add=true`).set('Content-Type', 'application/octet-stream').send(text)
    expect((await send(part(0, third))).status).toBe(200)
    const answers = await Promise.all([send(part(third, 2 * third)), send(part(2 * third, data.length))])
    expect(answers.map((answer) => answer.status)).toEqual([200, 200])
    expect((await server.stores.debriefs.byRun(id))?.rows).toBe(data.length)
  }, 120_000)
})

describe('a recording on a disk that takes nothing', () => {
  const fix = (time_s: number) => ({ time_s, lat_deg: 47.1, lon_deg: -21.4 })

  it('keeps its lines in memory, says so, and has each once when there is room again', async () => {
    const folder = join(server.config.dataDir, `recorder-${uuid()}`)
    const failures: unknown[] = []
    let full = false
    const recorder = fixRecorder(folder, {
      onFailure: (error) => failures.push(error),
      append: async (file, text) => {
        // A full disk takes a part of what it is given.
        await appendFile(file, full ? text.slice(0, text.length / 2) : text)
        if (full) throw Object.assign(new Error('no space left'), { code: 'ENOSPC' })
      },
    })
    for (let k = 0; k < 10; k++) recorder.take('run', fix(k), k)
    await recorder.recorded('run')
    full = true
    for (let k = 10; k < 20; k++) recorder.take('run', fix(k), k)
    await recorder.recorded('run')
    expect(failures).toHaveLength(1)
    expect(recorder.held()).toEqual({ lines: 10, dropped: 0 })
    full = false
    await recorder.recorded('run')
    expect(recorder.held()).toEqual({ lines: 0, dropped: 0 })
    expect([...((await recorder.past('run'))?.time_s ?? [])]).toEqual(Array.from({ length: 20 }, (_, k) => k))
    await recorder.close()
  })

  it('holds a quarter of an hour, and counts what finds no room', async () => {
    const recorder = fixRecorder(join(server.config.dataDir, 'unused'), { append: () => Promise.reject(new Error('full')) })
    for (let k = 0; k < 23_000; k++) recorder.take('run', fix(k), k)
    expect(recorder.held()).toEqual({ lines: 22_500, dropped: 500 })
    await recorder.close()
  })
})
