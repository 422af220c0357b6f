import { mkdtempSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { LiveEvent, LivePosition, Run } from '@ochote/contract'
import { readLog, writeJsonLine } from '@ochote/core'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { storedPlanOf } from '../debrief/service.ts'
import { directJobs } from '../jobs/jobs.ts'
import type { SimulateOutput } from '../jobs/tasks.ts'
import { startDemoServer, type TestServer } from '../test-server.test-data.ts'
import { receiverGateway } from './gateway.ts'
import { fixRecorder } from './recorder.ts'
import { track } from './track.ts'

let server: TestServer
let run: Run
let drive: SimulateOutput
/** Nothing here may fail unseen. */
const unexpected = (error: unknown): never => {
  throw error
}

const jobs = directJobs()
const start_s = Date.UTC(2027, 4, 15, 9) / 1000
const source = () => storedPlanOf(run, server.stores.circuits, server.stores.vehicles)
beforeAll(async () => {
  server = await startDemoServer()
  const day = await server.stores.days.byId('day-2027-05-15')
  if (!day) throw new Error('No day')
  const id = uuid()
  await server.stores.runs.add({
    id,
    dayId: day.id,
    slotId: null,
    studentId: 'odalys-merrow',
    carId: 'school-1',
    instructorId: null,
    settings: day.plan.settings,
    startedAt: new Date(start_s * 1000).toISOString(),
  })
  run = (await server.stores.runs.byId(id)) as Run
  drive = await jobs.simulate({ ...(await source()), seed: 3, habitSeed: 4, skill: 0, laps: 3, wild: true })
}, 120_000)
afterAll(() => server.close())

/** A track fed through a gateway, with everything that it tells. */
const fed = async (folder: string) => {
  const positions: LivePosition[] = []
  const happened: LiveEvent[] = []
  const recorder = fixRecorder(folder)
  const onTrack = track({
    cars: async () => [{ carNumber: '1', dayId: 'day', run, source: await source(), thresholds: {}, counts: () => true }],
    planOf: jobs.plan,
    onFailure: unexpected,
    recorder,
    onPosition: (p) => positions.push(p),
    onReset: () => {},
    onHappened: (e) => happened.push(e),
  })
  await onTrack.refresh()
  let clock = start_s * 1000
  const gateway = receiverGateway([0], onTrack.sink, { now: () => clock })
  gateway.assign(0, '1')
  const feed = (from: number, to: number): void => {
    const { log } = drive
    for (let i = from; i < Math.min(to, log.time_s.length); i++) {
      clock = (start_s + log.time_s[i]) * 1000
      const fix = { time_s: start_s + log.time_s[i], lat_deg: log.lat_deg[i], lon_deg: log.lon_deg[i], ele_m: log.ele_m[i] }
      const pedals = { throttle_pct: log.throttle_pct?.[i], brake_bar: log.brake_bar?.[i] }
      const channels = { speed_mps: log.speed_mps?.[i], ...pedals, steer_deg: log.steer_deg?.[i], gear: log.gear?.[i] }
      gateway.line(0, 'tcp', 'test', writeJsonLine({ ...fix, ...channels }))
    }
  }
  return { positions, happened, recorder, feed, gateway, onTrack }
}

describe('the cars on the road', () => {
  it('are followed lap by lap, with suggestions that agree with the log afterwards, and nothing is logged', async () => {
    const { positions, happened, recorder, feed, gateway } = await fed(mkdtempSync(join(tmpdir(), 'ochote-track-')))
    feed(0, Number.POSITIVE_INFINITY)
    expect(positions.at(-1)).toMatchObject({ carNumber: '1', runId: run.id, lap: 4, fault: null })
    const laps = happened.flatMap((e) => (e.kind === 'lap' && e.lapTime_s ? [e.lapTime_s] : []))
    expect(laps).toEqual(drive.lapTimes_s.map((t) => expect.closeTo(t, 1)))
    const suggested = happened.flatMap((e) => (e.kind === 'passed' ? e.findings.map((f) => `${e.lap} ${e.cornerId} ${f.code}`) : []))
    const { findings } = await jobs.analyse({ ...(await source()), logs: [{ source: { text: drive.csv } }] }, { person: 'a student' })
    const roots = findings.filter((f) => f.root).map((f) => `${f.lap} ${f.cornerId} ${f.code}`)
    expect(roots.length).toBeGreaterThan(3)
    expect(roots.filter((r) => suggested.includes(r)).length).toBeGreaterThanOrEqual(0.8 * roots.length)
    expect(await server.stores.runs.events(run.id)).toEqual([])
    expect(gateway.receivers()[0].rate_hz).toBeCloseTo(10, 0)
    const recorded = readLog(readFileSync((await recorder.recorded(run.id)) ?? '', 'utf8'))
    expect(recorded.time_s.length).toBe(drive.log.time_s.length)
    expect(recorded.brake_bar).toBeDefined()
  })

  it('keep their lap over a restart in the middle, from what was recorded', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'ochote-track-'))
    const before = await fed(folder)
    const half = drive.log.time_s.findIndex((t) => t > drive.firstLine_s + drive.lapTimes_s[0] + 20)
    before.feed(0, half)
    expect(before.positions.at(-1)?.lap).toBe(2)
    await before.recorder.close()
    const after = await fed(folder)
    after.feed(half + 20, half + 40)
    expect(after.positions.at(-1)).toMatchObject({ lap: 2, fault: null })
    await after.recorder.close()
  })

  it('are forgotten where another run begins in the same car', async () => {
    const reset: string[] = []
    let current = run
    const onTrack = track({
      cars: async () => [{ carNumber: '1', dayId: 'day', run: current, source: await source(), thresholds: {}, counts: () => true }],
      planOf: jobs.plan,
      onFailure: unexpected,
      recorder: fixRecorder(mkdtempSync(join(tmpdir(), 'ochote-track-'))),
      onPosition: () => {},
      onReset: (carNumber) => reset.push(carNumber),
      onHappened: () => {},
    })
    await onTrack.refresh()
    await onTrack.refresh()
    expect(reset).toEqual([])
    current = { ...run, id: uuid() }
    await onTrack.refresh()
    expect(reset).toEqual(['1'])
    expect(onTrack.positions()).toEqual([])
  })

  it('that are no cars of the day are named as unknown', async () => {
    const { gateway, onTrack } = await fed(mkdtempSync(join(tmpdir(), 'ochote-track-')))
    gateway.line(0, 'tcp', 'test', writeJsonLine({ time_s: start_s, lat_deg: 0, lon_deg: 0, car: '99' }))
    expect(gateway.receivers()[0].fault).toBe('unknown-car')
    gateway.line(0, 'tcp', 'test', writeJsonLine({ time_s: start_s, lat_deg: 50, lon_deg: 0 }))
    expect(gateway.receivers()[0].fault).toBe('elsewhere')
    expect(onTrack.positions()).toEqual([])
  })
})

describe('the running day', () => {
  it('answers for radio after its delay, with the weather on record, and says that both are simulated', async () => {
    const day = 'day-2027-05-15'
    const devices = (await server.agent.get('/api/simulated-devices')).body
    const rain = { ...devices, radio: { ...devices.radio, delay_s: 0 }, weather: { on: true, rain: 'rain', air_C: 13 } }
    expect((await server.agent.put('/api/simulated-devices').send(rain)).body.weather.rain).toBe('rain')
    expect((await server.agent.put('/api/simulated-devices').send(rain)).body.code).toBe('changed-meanwhile')
    const radio = { id: uuid(), dayId: day, at: new Date().toISOString(), kind: 'radio', to: [run.id], text: 'Next time by the pits' }
    await server.agent.post(`/api/day-events`).send({ events: [radio] })
    await expect
      .poll(async () => (await server.agent.get(`/api/days/${day}/events`)).body.filter((e: { kind: string }) => e.kind === 'radio-answer'))
      .toHaveLength(1)
    const events = (await server.agent.get(`/api/days/${day}/events`)).body
    expect(events).toContainEqual(expect.objectContaining({ kind: 'weather', rain: 'rain', simulated: true }))
    expect(events).toContainEqual(expect.objectContaining({ kind: 'radio-answer', radioId: radio.id, runId: run.id }))
  })
})
