import { connect } from 'node:net'
import type { Receiver, Run } from '@ochote/contract'
import { type ReceivedFix, writeJsonLine, writeNmea } from '@ochote/core'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { storedPlanOf } from '../debrief/service.ts'
import { directJobs } from '../jobs/jobs.ts'
import type { SimulateOutput } from '../jobs/tasks.ts'
import { startDemoServer, startRunAt, type TestServer } from '../test-server.test-data.ts'

/** Sixteen ports from here on, other ones in each process that tests. */
const FIRST_PORT = 10_000 + 16 * (process.pid % 1_300)
const today = 'day-2027-05-15'
const jobs = directJobs()
let server: TestServer
beforeAll(async () => {
  server = await startDemoServer({ receiverPort: FIRST_PORT })
}, 120_000)
afterAll(() => server.close())

const startRun = (studentId: string, carId: string): Promise<Run> => startRunAt(server, { dayId: today, studentId, carId })
const receivers = async (): Promise<Receiver[]> => (await server.agent.get('/api/receivers')).body
const portOf = async (carNumber: string): Promise<number> => (await receivers()).find((r) => r.carNumber === carNumber)?.port ?? 0
const driveOf = async (run: Run, laps: number): Promise<SimulateOutput> =>
  jobs.simulate({ ...(await storedPlanOf(run, server.stores.circuits, server.stores.vehicles)), seed: 5, habitSeed: 6, skill: 0, laps })

const fixAt = ({ log }: SimulateOutput, i: number, start_s: number): ReceivedFix => ({
  time_s: start_s + log.time_s[i],
  lat_deg: log.lat_deg[i],
  lon_deg: log.lon_deg[i],
  ele_m: log.ele_m[i],
  speed_mps: log.speed_mps?.[i],
})
/** Sends lines to a port and waits until all have gone out. */
const send = (port: number, lines: readonly string[]): Promise<void> =>
  new Promise((resolve, reject) => {
    const socket = connect(port, '127.0.0.1', () => socket.end(`${lines.join('\r\n')}\r\n`, () => resolve()))
    socket.on('error', reject)
  })

describe('the running day', () => {
  it('gives each car of the day a port of its own, and lets people say otherwise', async () => {
    await vi.waitFor(async () =>
      expect((await receivers()).slice(0, 3).map((r) => [r.port, r.carNumber])).toEqual([
        [FIRST_PORT, '1'],
        [FIRST_PORT + 1, '2'],
        [FIRST_PORT + 2, '3'],
      ]),
    )
    await server.agent.put(`/api/receivers/${FIRST_PORT + 15}`).send({ carNumber: '14', before: null })
    expect(await portOf('14')).toBe(FIRST_PORT + 15)
    expect((await receivers()).filter((r) => r.carNumber === '14')).toHaveLength(1)
    // Somebody who saw the port empty is told that it is not.
    const late = await server.agent.put(`/api/receivers/${FIRST_PORT + 15}`).send({ carNumber: '2', before: null })
    expect([late.status, late.body.code]).toEqual([409, 'changed-meanwhile'])
    expect((await server.agent.put('/api/receivers/1').send({ carNumber: '14', before: null })).status).toBe(404)
  })

  it('makes a debrief of what a real receiver sent, with the laps that were driven', async () => {
    const run = await startRun('odalys-merrow', 'school-2')
    const drive = await driveOf(run, 2)
    const start_s = Date.now() / 1000
    const port = await portOf('2')
    const count = drive.log.time_s.length
    // In blocks, each with a greeting of its own: a clock faster than life is learnt anew with each.
    for (let from = 0, block = 0; from < count; from += 900, block++) {
      const fixes = Array.from({ length: Math.min(900, count - from) }, (_, k) => fixAt(drive, from + k, start_s))
      await send(port, [JSON.stringify({ hello: 'logger', factor: 50 + (block % 2), car: '2' }), ...fixes.map(writeJsonLine)])
      await vi.waitFor(async () => expect((await receivers()).find((r) => r.port === port)?.fixes).toBe(Math.min(count, from + 900)), {
        timeout: 60_000,
      })
    }
    expect((await server.agent.post(`/api/runs/${run.id}/end`)).body).toMatchObject({ hasLog: true })
    const debrief = (await server.agent.get(`/api/runs/${run.id}/debrief`)).body
    expect(debrief.source).toBe('receiver')
    expect(debrief.laps).toHaveLength(2)
    for (const [k, lap] of debrief.laps.entries()) expect(Math.abs(lap.time_s - drive.lapTimes_s[k])).toBeLessThan(0.02)
  })

  it('follows the cars of every day of its date', async () => {
    const day = (await server.agent.get(`/api/days/${today}`)).body
    const beside = uuid()
    const cars = [{ ...day.plan.cars[0], id: 'elsewhere-81', number: '81' }]
    const plan = { ...day.plan, title: 'The other venue', cars, slots: [] }
    expect((await server.agent.post('/api/days').send({ id: beside, plan })).status).toBeLessThan(300)
    await vi.waitFor(async () => expect(await portOf('81')).toBeGreaterThan(0))
    expect(await portOf('1')).toBe(FIRST_PORT)
    await send(await portOf('81'), writeNmea({ time_s: Date.now() / 1000, lat_deg: 12, lon_deg: 13, speed_mps: 20 }))
    // A car that no day has is told as unknown; this one is known, its place is not.
    await vi.waitFor(async () => expect((await receivers()).find((r) => r.carNumber === '81')).toMatchObject({ fixes: 1 }))
    expect((await receivers()).find((r) => r.carNumber === '81')?.fault).not.toBe('unknown-car')
    expect((await server.agent.delete(`/api/days/${beside}`)).status).toBe(200)
  })

  it('takes NMEA for a car and names what is wrong with its place', async () => {
    await startRun('bram-holliskay', 'school-3')
    const port = await portOf('3')
    const elsewhere = { time_s: Date.now() / 1000, lat_deg: 12, lon_deg: 13, speed_mps: 20 }
    await send(port, writeNmea(elsewhere))
    await vi.waitFor(async () => expect((await receivers()).find((r) => r.port === port)?.fault).toBe('elsewhere'))
    expect((await receivers()).find((r) => r.port === port)).toMatchObject({ via: 'tcp', simulated: false, checksumErrors: 0 })
  })

  it('ends a run without positions without a log, and that is no failure', async () => {
    const run = await startRun('yuna-tressider', 'school-4')
    expect((await server.agent.post(`/api/runs/${run.id}/end`)).body).toMatchObject({ hasLog: false })
  })

  it('has a simulated student of the car drive by what was said: slower laps first and last, none after a cool-down named by hand', async () => {
    const run = await startRun('caspian-adeyoke', 'school-5')
    const body = { seed: 3, laps: 2, sighting: 1, coolDown: 1, speedFactor: 60, habits: 'none' }
    const started = (await server.agent.post(`/api/runs/${run.id}/simulated-logger`).send(body)).body
    expect(started.simulation).toMatchObject({ sighting: 1, coolDown: 1, habits: 'none', form: 'json-tcp' })
    await vi.waitFor(
      async () => expect((await receivers()).find((r) => r.carNumber === '5')).toMatchObject({ simulated: true, factor: 60 }),
      {
        timeout: 10_000,
      },
    )
    expect((await server.agent.post(`/api/runs/${run.id}/simulated-logger`).send(body)).body.simulation).toEqual(started.simulation)
    await server.agent.delete(`/api/runs/${run.id}/simulated-logger`)
    const events = [{ id: uuid(), runId: run.id, at: new Date().toISOString(), kind: 'lap-kind', lap: 3, lapKind: 'in' }]
    expect((await server.agent.post('/api/events').send({ events })).body.stored).toHaveLength(1)
    expect((await server.agent.get(`/api/runs/${run.id}/events`)).body).toEqual(events)
  })
})
