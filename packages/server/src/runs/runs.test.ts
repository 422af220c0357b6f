import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { type Day, type Run, type StudentRecord, simulationSchema } from '@ochote/contract'
import { readJsonLine } from '@ochote/core'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { storedPlanOf } from '../debrief/service.ts'
import { loadDemo } from '../demo/load.ts'
import { demoFolder } from '../demo-once.test-data.ts'
import { directJobs } from '../jobs/jobs.ts'
import { simulatedLogger } from '../live/simulated-logger.ts'
import { startDemoServer, type TestServer } from '../test-server.test-data.ts'

let server: TestServer
beforeAll(async () => {
  server = await startDemoServer()
}, 120_000)
afterAll(() => server.close())

const today = 'day-2027-05-15'
const startRun = async (studentId = 'imke-valderan') => {
  const day = (await server.agent.get(`/api/days/${today}`)).body
  const id = uuid()
  const body = { id, dayId: today, slotId: null, studentId, settings: day.plan.settings, startedAt: new Date().toISOString() }
  return { id, body, answer: await server.agent.post('/api/runs').send(body) }
}
const observation = (runId: string, cornerId = 'T1') => ({
  id: uuid(),
  runId,
  at: new Date().toISOString(),
  kind: 'observation' as const,
  cornerId,
  code: 'turn-in-early' as const,
  lap: 1,
})

describe('the demo scenario', () => {
  it('has its people, cars, days and past runs, and loads only once', async () => {
    expect((await server.agent.get('/api/students')).body).toHaveLength(12)
    expect((await server.agent.get('/api/accounts')).body).toHaveLength(4)
    expect((await server.agent.get('/api/circuits')).body.map((c: { corners: number }) => c.corners)).toEqual([11, 5])
    expect((await server.agent.get('/api/days')).body.map((d: { id: string }) => d.id)[0]).toBe(today)
    expect((await server.agent.get('/api/runs')).body).toHaveLength(30)
    await loadDemo(server.stores, directJobs(), demoFolder, () => {})
    expect((await server.agent.get('/api/runs')).body).toHaveLength(30)
  })

  it('has a record in which logs and seat agree on some corners, and skill grows', async () => {
    const { body } = await server.agent.get('/api/students/odalys-merrow/record')
    expect(body.runs).toHaveLength(5)
    const { seen } = body as StudentRecord
    const inLog = (run: number) => seen.filter((s) => s.run === run && s.by !== 'hand').length
    expect(inLog(1)).toBeGreaterThan(inLog(5))
    expect(seen.filter((s) => s.by === 'both').length).toBeGreaterThan(5)
    expect(body.runs.every((r: { bestLap_s: number }) => r.bestLap_s > 100)).toBe(true)
  })
})

describe('a run of the run list', () => {
  it('has the instructor of its line, whoever starts it', async () => {
    const day = (await server.agent.get(`/api/days/${today}`)).body as Day
    const slot = day.plan.slots.find((s) => s.kind === 'run' && s.instructorId && s.instructorId !== day.plan.instructorIds[0])
    const body = {
      id: uuid(),
      dayId: today,
      slotId: slot?.id,
      studentId: slot?.studentId,
      settings: day.plan.settings,
      startedAt: new Date().toISOString(),
    }
    const run = (await server.agent.post('/api/runs').send(body)).body as Run
    expect(run.instructorId).toBe(slot?.instructorId)
    expect(run.carId).toBe(slot?.carId)
    await server.agent.post(`/api/runs/${run.id}/end`)
  })
})

describe('days', () => {
  it('take a change made from their newest version and refuse one made from an older', async () => {
    const day = (await server.agent.get(`/api/days/${today}`)).body
    const change = { version: day.version, plan: { ...day.plan, weather: 'drizzle' } }
    const written = await server.agent.put(`/api/days/${today}`).send(change)
    expect(written.body).toMatchObject({ version: day.version + 1, plan: { weather: 'drizzle' } })
    const late = await server.agent.put(`/api/days/${today}`).send({ ...change, plan: { ...day.plan, weather: 'sun' } })
    expect(late.status).toBe(409)
    expect(late.body.code).toBe('changed-meanwhile')
    expect((await server.agent.get(`/api/days/${today}`)).body.plan.weather).toBe('drizzle')
  })
})

describe('runs', () => {
  it('start once, however often they are sent', async () => {
    const { id, body, answer } = await startRun()
    expect(answer.body).toMatchObject({ id, studentName: 'Imke Valderan', endedAt: null, simulation: null, hasLog: false })
    await server.agent.post('/api/runs').send(body)
    const runs = (await server.agent.get('/api/runs?studentId=imke-valderan')).body
    expect(runs.filter((r: { id: string }) => r.id === id)).toHaveLength(1)
  })

  it('keep each event once, in order, and let an undo take it back', async () => {
    const { id } = await startRun()
    const events = [observation(id), observation(id, 'T2')]
    expect((await server.agent.post('/api/events').send({ events })).body.stored).toEqual(events.map((e) => e.id))
    const undo = { id: uuid(), runId: id, at: new Date().toISOString(), kind: 'undo', undoes: events[1].id }
    await server.agent.post('/api/events').send({ events: [...events, undo] })
    const stored = (await server.agent.get(`/api/runs/${id}/events`)).body
    expect(stored.map((e: { id: string }) => e.id)).toEqual([...events.map((e) => e.id), undo.id])
    const { seen } = (await server.agent.get('/api/students/imke-valderan/record')).body
    const here = seen.filter((s: { runId: string }) => s.runId === id)
    expect(here).toHaveLength(1)
    expect(here[0]).toMatchObject({ cornerId: 'T1', code: 'turn-in-early', by: 'hand' })
  })

  it('refuse events of a run that does not exist, and store the others of the batch', async () => {
    const { id } = await startRun()
    const [good, lost] = [observation(id), observation('nothing')]
    const { body } = await server.agent.post('/api/events').send({ events: [lost, good] })
    expect(body.stored).toEqual([good.id])
    expect(body.refused).toEqual([expect.objectContaining({ id: lost.id, title: expect.stringContaining('does not exist any more') })])
    expect((await server.agent.get(`/api/runs/${id}/events`)).body.map((e: { id: string }) => e.id)).toEqual([good.id])
  })

  it('are corrected where a device’s clock is wrong, and say so', async () => {
    const { id } = await startRun()
    const ahead_ms = 90_000
    const event = { ...observation(id), at: new Date(Date.now() + ahead_ms).toISOString() }
    const deviceNow = new Date(Date.now() + ahead_ms).toISOString()
    const { body } = await server.agent.post('/api/events').send({ events: [event], deviceNow })
    expect(Math.abs(body.clockAhead_s - 90)).toBeLessThan(2)
    const [stored] = (await server.agent.get(`/api/runs/${id}/events`)).body
    expect(Math.abs(Date.parse(stored.at) - Date.now())).toBeLessThan(2000)
    const history = (await server.agent.get(`/api/days/${today}/history`)).body
    const row = history.find((h: { id: string }) => h.id === event.id)
    expect(row).toMatchObject({ by: 'Marit Oakhanger', undone: false, studentName: 'Imke Valderan' })
    expect(Math.abs(row.clockAhead_s - 90)).toBeLessThan(2)
  })

  it('are not started twice from one slot; the answer names the run to go on in', async () => {
    const { body } = await startRun('rashid-okonwe')
    await server.agent.post(`/api/runs/${body.id}/end`)
    const { plan } = (await server.agent.get(`/api/days/${body.dayId}`)).body as Day
    const planned = plan.slots.find((s) => s.kind === 'run' && s.studentId === 'rashid-okonwe')
    const slot = { ...body, id: uuid(), slotId: planned?.id }
    const first = await server.agent.post('/api/runs').send(slot)
    expect(first.body.carId).toBe(planned?.carId)
    const second = await server.agent.post('/api/runs').send({ ...slot, id: uuid() })
    expect(second.status).toBe(409)
    expect(second.body).toMatchObject({ code: 'run-started-twice', place: slot.id })
    await server.agent.post('/api/events').send({ events: [{ id: uuid(), runId: slot.id, at: new Date().toISOString(), kind: 'ended' }] })
    // The touch is safe at once; the run ends a little later, when its log is read.
    await expect.poll(async () => (await server.agent.get(`/api/runs/${slot.id}`)).body.endedAt).not.toBeNull()
    expect((await server.agent.post('/api/runs').send({ ...slot, id: uuid() })).status).toBe(200)
  })

  it('of a student deleted meanwhile are refused with a word, others go in', async () => {
    const { id: gone } = await startRun('hal-brackenbury')
    const { id: stays } = await startRun('pia-lindqvaern')
    await server.stores.students.erase('hal-brackenbury', [])
    const { body } = await server.agent.post('/api/events').send({ events: [observation(gone), observation(stays)] })
    expect(body.stored).toHaveLength(1)
    expect(body.refused[0].title).toContain('deleted')
    const drill = {
      id: uuid(),
      dayId: today,
      at: new Date().toISOString(),
      kind: 'drill',
      studentId: 'hal-brackenbury',
      drill: 'braking-box',
      surface: 'dry',
      result: 'in-box',
    }
    const day = (await server.agent.post(`/api/day-events`).send({ events: [drill] })).body
    expect(day).toMatchObject({ stored: [], refused: [{ id: drill.id, title: 'This student has been deleted.' }] })
  })

  it('end without a lap and without a log, even at once; a second end changes nothing', async () => {
    const { id } = await startRun()
    await server.agent.post(`/api/runs/${id}/simulated-logger`).send({ seed: 1, laps: 2, speedFactor: 1 })
    const ended = (await server.agent.post(`/api/runs/${id}/end`)).body
    expect(ended.hasLog).toBe(false)
    expect(ended.endedAt).not.toBeNull()
    expect((await server.agent.post(`/api/runs/${id}/end`)).body.endedAt).toBe(ended.endedAt)
    expect((await server.agent.get(`/api/runs/${id}/debrief`)).body.code).toBe('no-log')
    expect((await server.agent.post(`/api/runs/${id}/simulated-logger`).send({ seed: 1, laps: 2, speedFactor: 1 })).body.code).toBe(
      'run-ended',
    )
  })
})

describe('the simulated logger', () => {
  /** A logger whose lines are kept, by a clock that a test sets. */
  const withClock = async (studentId: string, clock: { now: number }) => {
    const { id } = await startRun(studentId)
    await server.stores.runs.setSimulation(
      id,
      simulationSchema.parse({ seed: 7, laps: 2, speedFactor: 1, rate_hz: 10, startedAt: new Date(clock.now).toISOString() }),
      false,
    )
    const run = await server.stores.runs.byId(id)
    if (!run) throw new Error('No run')
    const lines: string[] = []
    const logger = simulatedLogger({
      jobs: directJobs(),
      sourceOf: (r) => storedPlanOf(r, server.stores.circuits, server.stores.vehicles),
      eventsOf: server.stores.runs.events,
      onFailure: (error) => {
        throw error
      },
      gripNow: () => 1,
      wayOf: () => ({ send: (line) => lines.push(line), close: () => lines.push('closed') }),
      now: () => clock.now,
    })
    return { run, logger, lines }
  }

  it('sends by the clock what its card holds, greets and says farewell', async () => {
    vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval'] })
    const clock = { now: Date.now() }
    const { run, logger, lines } = await withClock('bram-holliskay', clock)
    await logger.start(run, '2')
    expect(JSON.parse(lines[0])).toEqual({ hello: 'simulated logger', factor: 1, car: '2' })
    clock.now += 60_000
    vi.advanceTimersByTime(40)
    expect(lines).toHaveLength(602)
    expect(readJsonLine(lines[601])).toMatchObject({ kind: 'fix', fix: { car: '2' } })
    const card = (await logger.card(run))?.trimEnd().split('\n') ?? []
    expect(card).toHaveLength(602)
    const last = readJsonLine(lines[601])
    if (last.kind !== 'fix') throw new Error('no fix')
    expect(card.at(-1)?.split(',').slice(1, 3).map(Number)).toEqual([last.fix.lat_deg, last.fix.lon_deg])
    clock.now += 3_600_000
    vi.advanceTimersByTime(40)
    expect(lines.slice(-2)).toEqual([JSON.stringify({ bye: 'simulated logger' }), 'closed'])
    vi.useRealTimers()
  })

  it('drives on as before after a restart, and does not send the past again', async () => {
    vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval'] })
    const clock = { now: Date.now() }
    const { run, logger, lines } = await withClock('yuna-tressider', clock)
    await logger.start(run, '3')
    clock.now += 30_000
    vi.advanceTimersByTime(40)
    const before = await logger.card(run)
    logger.stop(run.id)
    const count = lines.length
    await logger.start(run, '3')
    clock.now += 1000
    vi.advanceTimersByTime(40)
    expect(lines.length - count).toBeLessThan(20)
    expect((await logger.card(run))?.startsWith(before ?? 'nothing')).toBe(true)
    logger.close()
    vi.useRealTimers()
  })
})

describe('logs of a run', () => {
  const past = async () => (await server.agent.get('/api/runs?studentId=odalys-merrow')).body[0]

  it('give laps, findings and traces', async () => {
    const run = await past()
    const debrief = (await server.agent.get(`/api/runs/${run.id}/debrief`)).body
    expect(debrief.laps).toHaveLength(4)
    const trace = (await server.agent.get(`/api/runs/${run.id}/laps/1`)).body
    expect(trace.speed_mps).toHaveLength(1683)
    expect(Math.abs(trace.lapTime_s - debrief.laps[0].time_s)).toBeLessThan(1e-9)
    expect((await server.agent.get(`/api/runs/${run.id}/laps/9`)).status).toBe(404)
  })

  it('are replaced by an uploaded file, and kept when the file is no use', async () => {
    const run = await past()
    const before = (await server.agent.get(`/api/runs/${run.id}/debrief`)).body
    const upload = (text: string) => server.agent.put(`/api/runs/${run.id}/log`).set('Content-Type', 'application/octet-stream').send(text)
    expect((await upload('')).body.code).toBe('file-empty')
    expect((await upload(readFileSync(join(demoFolder, 'ostrel-mere-short.csv'), 'utf8'))).body).toMatchObject({
      code: 'columns-missing',
      place: 'row 1',
    })
    expect((await server.agent.get(`/api/runs/${run.id}/debrief`)).body).toEqual(before)
    const source = await storedPlanOf(run, server.stores.circuits, server.stores.vehicles)
    const other = await directJobs().simulate({ ...source, seed: 2, habitSeed: 1, skill: 0, laps: 2 })
    const taken = await upload(other.csv)
    expect(taken.body.laps).toHaveLength(2)
    expect(taken.body.source).toBe('uploaded file')
    expect((await upload(other.csv.replaceAll(',47.', ',40.'))).body.code).toBe('log-elsewhere')
    expect((await server.agent.get(`/api/runs/${run.id}/debrief`)).body.laps).toHaveLength(2)
  })
})

describe('cars', () => {
  it('carry their last word to whoever takes them next', async () => {
    const { id } = await startRun('pia-lindqvaern')
    const car = (brakes: string, at: string) => ({
      id: uuid(),
      runId: id,
      at,
      kind: 'car' as const,
      carId: 'school-3',
      brakes,
      tyres: 'good',
      other: 'good',
    })
    const sent = await server.agent
      .post('/api/events')
      .send({ events: [car('good', '2027-05-15T09:00:00Z'), car('watch', '2027-05-15T09:30:00Z')] })
    expect(sent.status).toBe(200)
    const cars = (await server.agent.get(`/api/days/${today}/cars`)).body
    expect(cars).toEqual([{ carId: 'school-3', runId: id, at: '2027-05-15T09:30:00Z', brakes: 'watch', tyres: 'good', other: 'good' }])
    const check = { id: uuid(), runId: id, at: '2027-05-15T08:55:00Z', kind: 'checked', open: ['Belts and helmet'] }
    expect((await server.agent.post('/api/events').send({ events: [check] })).status).toBe(200)
    const events = (await server.agent.get(`/api/runs/${id}/events`)).body as { kind: string }[]
    expect(events.filter((e) => e.kind === 'checked')).toHaveLength(1)
    expect((await server.agent.post('/api/events').send({ events: [car('fine', '2027-05-15T10:00:00Z')] })).status).toBe(400)
  })
})
