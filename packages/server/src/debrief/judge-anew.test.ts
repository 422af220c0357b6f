import { randomUUID } from 'node:crypto'
import type { Debrief, Run, Sheet, StudentRecord } from '@ochote/contract'
import { countedLaps, type RunEvent, type Surface, withCountedLaps } from '@ochote/core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { directJobs } from '../jobs/jobs.ts'
import { startDemoServer, type TestServer } from '../test-server.test-data.ts'
import { storedPlanOf } from './service.ts'

let server: TestServer
const jobs = directJobs()
beforeAll(async () => {
  server = await startDemoServer()
}, 120_000)
afterAll(() => server.close())

const get = async <T>(path: string): Promise<T> => (await server.agent.get(path)).body as T
/** Tells events of a run and waits until what they ask for has been judged. */
const tell = async (runId: string, ...told: Record<string, unknown>[]): Promise<void> => {
  const events = told.map((one) => ({ id: randomUUID(), runId, at: new Date().toISOString(), ...one }))
  expect((await server.agent.post('/api/events').send({ events })).body.refused).toEqual([])
  await server.judging.settled()
}
const counted = async (runId: string): Promise<Debrief> =>
  withCountedLaps(await get<Debrief>(`/api/runs/${runId}/debrief`), await get<RunEvent[]>(`/api/runs/${runId}/events`))

/** A run of a student without mistakes: one sighting lap, two coached ones, one to cool down. */
const cleanRun = async (surface: Surface): Promise<Run> => {
  const [{ id: dayId }] = await get<{ id: string }[]>('/api/days')
  const day = await get<{ id: string; plan: { settings: Run['settings'] } }>(`/api/days/${dayId}`)
  const id = randomUUID()
  const settings = { ...day.plan.settings, surface }
  const common = { dayId: day.id, slotId: null, studentId: 'bram-holliskay', startedAt: new Date().toISOString() }
  const run = (await server.agent.post('/api/runs').send({ id, ...common, settings })).body as Run
  await tell(id, { kind: 'sent-out', program: { sighting: 1, coached: 2, coolDown: 1 } })
  const stored = await storedPlanOf(run, server.stores.circuits, server.stores.vehicles)
  const drive = { seed: 8, habitSeed: 1, skill: 1, laps: 4, habits: false, slowLaps: [1, 4], rate_hz: 10 }
  const { csv } = await jobs.simulate({ ...stored, ...drive })
  const answer = await server.agent.put(`/api/runs/${id}/log`).set('Content-Type', 'application/octet-stream').send(csv)
  expect(answer.status).toBe(200)
  return run
}

describe('a student without mistakes on a sighting lap, two coached laps and a cool-down lap', () => {
  it.each(['dry', 'wet'] as const)('is told nothing but praise: %s', async (surface) => {
    const run = await cleanRun(surface)
    const whole = await get<Debrief>(`/api/runs/${run.id}/debrief`)
    expect(whole.laps.map((l) => l.lap)).toEqual([1, 2, 3, 4])
    // The slow laps would be full of mistakes if they were judged.
    expect(whole.findings.filter((f) => f.root && (f.lap === 1 || f.lap === 4)).length).toBeGreaterThan(5)
    const { laps, findings, review } = await counted(run.id)
    expect(laps.map((l) => l.lap)).toEqual([2, 3])
    expect(findings).toEqual([])
    expect([...new Set(review.passes.map((p) => p.lap))]).toEqual([2, 3])
    expect(review.theoreticalBest?.pieces.every((p) => p.lap === 2 || p.lap === 3)).toBe(true)
    const sheet = await get<Sheet>(`/api/runs/${run.id}/sheet`)
    expect(sheet.items).toEqual([])
    expect(sheet.held.length).toBeGreaterThan(0)
    expect(sheet.laps).toBe(2)
    expect(sheet.best_s).toBe(Math.min(...laps.map((l) => l.time_s)))
    const record = await get<StudentRecord>('/api/students/bram-holliskay/record')
    expect(record.seen.filter((s) => s.runId === run.id)).toEqual([])
    expect(record.runs.find((r) => r.id === run.id)).toMatchObject({ laps: 2, bestLap_s: sheet.best_s })
  })
})

describe('a lap set aside', () => {
  it('leaves everything at once, the theoretical best too, and comes back by an undo', async () => {
    const run = await cleanRun('dry')
    await tell(run.id, { kind: 'lap-kind', lap: 1, lapKind: 'coached', only: true })
    expect((await counted(run.id)).laps.map((l) => l.lap)).toEqual([1, 2, 3])
    const before = await get<Sheet>(`/api/runs/${run.id}/sheet`)
    expect(before.items.length).toBeGreaterThan(0)
    const id = randomUUID()
    await tell(run.id, { id, kind: 'set-aside', lap: 1, reason: 'traffic' })
    expect((await get<Sheet>(`/api/runs/${run.id}/sheet`)).items).toEqual([])
    const { review } = await get<Debrief>(`/api/runs/${run.id}/debrief`)
    expect(review.theoreticalBest?.pieces.map((p) => p.lap)).not.toContain(1)
    await tell(run.id, { kind: 'undo', undoes: id })
    expect(await get<Sheet>(`/api/runs/${run.id}/sheet`)).toEqual(before)
    const events = await get<RunEvent[]>(`/api/runs/${run.id}/events`)
    expect(countedLaps(events).of(1)).toEqual({ kind: 'coached', aside: null, counts: true })
  })
})

describe('logs judged by earlier rules', () => {
  it('are judged anew once, in the background, and a log that cannot be is told and keeps what it has', async () => {
    const { opened, judging } = server
    const [first, second] = (await opened.db('logs').orderBy('run_id').select('run_id')) as { run_id: string }[]
    const right = await get<Debrief>(`/api/runs/${first.run_id}/debrief`)
    await opened.db('findings').whereIn('run_id', [first.run_id, second.run_id]).delete()
    await opened.db('logs').whereIn('run_id', [first.run_id, second.run_id]).update({ judged_form: 0 })
    await opened
      .db('logs')
      .where({ run_id: second.run_id })
      .update({ csv_gz: Buffer.from('damaged') })
    await judging.all()
    expect(await get('/api/judging-anew')).toEqual({ done: 2, total: 2, failed: 1 })
    expect((await get<Debrief>(`/api/runs/${first.run_id}/debrief`)).findings).toEqual(right.findings)
    expect((await get<Debrief>(`/api/runs/${second.run_id}/debrief`)).laps.length).toBeGreaterThan(0)
    await judging.all()
    expect(await get('/api/judging-anew')).toEqual({ done: 1, total: 1, failed: 1 })
  })
})
