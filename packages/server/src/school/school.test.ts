import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { buildCircuit, makePlan, makeVenue, readCircuit, simulateDrive, writeLogCsv } from '@ochote/core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { demoFolder } from '../demo-once.test-data.ts'
import { startDemoServer, startTestServer, type TestServer } from '../test-server.test-data.ts'

const idOf = (k: number): string => `019aaaaa-0000-7000-8000-${String(k).padStart(12, '0')}`
const text = (file: string): string => readFileSync(join(demoFolder, file), 'utf8')

describe('the people of a school', () => {
  let server: TestServer
  beforeAll(async () => {
    server = await startDemoServer()
  })
  afterAll(() => server.close())
  const student = (k: number, name: string) => ({ id: idOf(k), name, level: 'first-day', talk: 'guided', units: 'metric' })

  it('are added together, each once however often the list is sent', async () => {
    const before = (await server.agent.get('/api/students')).body.length
    const students = Array.from({ length: 40 }, (_, k) => student(k, `Student Number ${k}`))
    for (let k = 0; k < 2; k++) expect((await server.agent.post('/api/students/several').send({ students })).body).toHaveLength(before + 40)
    expect((await server.agent.post('/api/students/several').send({ students: [{ ...student(99, ' ') }] })).status).toBe(400)
  })

  it('are changed by one at a time: the later one is refused', async () => {
    await server.agent.post('/api/students').send(student(100, 'Imke Twice'))
    const { id: _, ...body } = student(100, 'Imke Twice')
    const put = (version: number, level: string) => server.agent.put(`/api/students/${idOf(100)}`).send({ ...body, level, version })
    expect((await put(1, 'steady')).body).toMatchObject({ version: 2, level: 'steady' })
    expect((await put(1, 'building')).body.code).toBe('changed-meanwhile')
  })

  it('are put away and taken back', async () => {
    const away = (archived: boolean) => server.agent.put(`/api/students/${idOf(100)}/archived`).send({ archived })
    expect((await away(true)).body.archivedAt).not.toBeNull()
    expect((await away(false)).body.archivedAt).toBeNull()
  })

  it('entered twice become one, with drives, answers and days of both', async () => {
    const [driven] = (await server.agent.get('/api/students/lines')).body.filter((l: { runs: number }) => l.runs > 0)
    const other = driven.studentId
    const record = async (id: string) => (await server.agent.get(`/api/students/${id}/record`)).body
    const before = await record(other)
    const day = await server.stores.days.byId((await server.stores.runs.list({ studentId: other }))[0].dayId)
    await server.agent.post('/api/students').send(student(101, 'The same person'))
    const merged = await server.agent.post(`/api/students/${idOf(101)}/merge`).send({ otherId: other })
    expect(merged.status).toBe(200)
    expect(merged.body.some((s: { id: string }) => s.id === other)).toBe(false)
    const after = await record(idOf(101))
    expect(after.runs.length).toBe(before.runs.length)
    expect(after.seen.length).toBe(before.seen.length)
    expect(after.decisions.length).toBe(before.decisions.length)
    expect((await server.agent.get(`/api/students/${other}/record`)).status).toBe(404)
    const plan = (await server.stores.days.byId(day?.id ?? ''))?.plan
    expect(plan?.studentIds).not.toContain(other)
    expect((await server.agent.post(`/api/students/${idOf(101)}/merge`).send({ otherId: idOf(101) })).status).toBe(404)
  })

  it('have accounts that can be changed and closed, and never none of a lead', async () => {
    const account = { id: idOf(200), name: 'Dunstan Twice', password: 'gravel and water', role: 'instructor' }
    for (let k = 0; k < 2; k++) expect((await server.agent.post('/api/accounts').send(account)).body.id).toBe(idOf(200))
    const teaching = { levels: ['steady'], vehicleIds: [], languages: ['de'] }
    const put = (change: object) =>
      server.agent
        .put(`/api/accounts/${idOf(200)}`)
        .send({ version: 1, name: account.name, role: 'instructor', teaching, archived: false, ...change })
    expect((await put({})).body).toMatchObject({ version: 2, teaching })
    expect((await put({})).body.code).toBe('changed-meanwhile')
    const signIn = (password: string) => server.agent.post('/api/session').send({ name: account.name, password })
    await put({ version: 2, password: 'another password' })
    expect((await signIn('gravel and water')).body.code).toBe('sign-in-failed')
    expect((await signIn('another password')).status).toBe(200)
    await server.agent.post('/api/session/demo')
    expect((await put({ version: 3, archived: true })).body.canSignIn).toBe(false)
    expect((await signIn('another password')).body.code).toBe('sign-in-failed')
    const lead = (await server.agent.get('/api/accounts')).body.find((a: { role: string }) => a.role === 'lead')
    const demoted = await server.agent
      .put(`/api/accounts/${lead.id}`)
      .send({ version: lead.version, name: lead.name, role: 'instructor', teaching: lead.teaching, archived: false })
    expect(demoted.body.code).toBe('last-lead')
  })
})

describe('the cars of a school', () => {
  let server: TestServer
  beforeAll(async () => {
    server = await startDemoServer()
  })
  afterAll(() => server.close())

  it('are added, changed over the version that was seen, and removed while never driven', async () => {
    const vehicleId = (await server.agent.get('/api/vehicles')).body[0].id
    const put = (change: object) => server.agent.put('/api/cars/own').send({ number: '41', vehicleId, version: 0, ...change })
    for (let k = 0; k < 2; k++) expect((await put({})).body).toMatchObject({ id: 'own', version: 1, gearbox: 'manual', condition: null })
    expect((await put({ version: 1, gearbox: 'paddles' })).body).toMatchObject({ version: 2, gearbox: 'paddles' })
    expect((await put({ version: 1, gearbox: 'automatic' })).body.code).toBe('changed-meanwhile')
    expect((await put({ version: 2, number: ' ' })).status).toBe(400)
    expect((await server.agent.delete('/api/cars/own')).status).toBe(200)
    expect((await server.agent.delete('/api/cars/own')).status).toBe(404)
  })

  it('tell how they came back, on whatever day', async () => {
    const [run] = await server.stores.runs.list({})
    const vehicleId = run.settings.vehicleId
    await server.agent.put('/api/cars/told').send({ number: '42', vehicleId, version: 0 })
    const event = {
      id: idOf(300),
      runId: run.id,
      at: '2027-05-15T10:00:00.000Z',
      kind: 'car',
      carId: 'told',
      brakes: 'stop',
      tyres: 'good',
      other: 'good',
    }
    expect((await server.agent.post('/api/events').send({ events: [event] })).body.stored).toEqual([event.id])
    const car = (await server.agent.get('/api/cars')).body.find((c: { id: string }) => c.id === 'told')
    expect(car.condition).toMatchObject({ brakes: 'stop', runId: run.id })
    const [said] = (await server.agent.get('/api/cars/told/history')).body
    expect(said).toMatchObject({ studentName: run.studentName, date: run.date, brakes: 'stop' })
    const other = (await server.agent.get('/api/days')).body.find((d: { id: string }) => d.id !== run.dayId)
    const known = (await server.agent.get(`/api/days/${other.id}/cars`)).body
    expect(known).toContainEqual(expect.objectContaining({ carId: 'told', brakes: 'stop' }))
  })
})

describe('the days of a school', () => {
  let server: TestServer
  beforeAll(async () => {
    server = await startDemoServer()
  })
  afterAll(() => server.close())

  it('are made once, listed with what is in them, and removed while nothing was driven', async () => {
    const { id: _, ...plan } = JSON.parse(text('scenario.json')).day
    const day = { id: idOf(400), plan: { ...plan, title: 'Another day', date: '2027-06-01' } }
    for (let k = 0; k < 2; k++) expect((await server.agent.post('/api/days').send(day)).body.id).toBe(day.id)
    const listed = (await server.agent.get('/api/days')).body.filter((d: { id: string }) => d.id === day.id)
    expect(listed).toEqual([
      expect.objectContaining({
        title: 'Another day',
        students: plan.studentIds.length,
        cars: plan.cars.length,
        driven: 0,
        template: false,
      }),
    ])
    expect((await server.agent.post('/api/days').send({ id: idOf(401), plan: { ...day.plan, title: '  ' } })).status).toBe(400)
    await server.agent.post(`/api/days/${day.id}/links/${plan.studentIds[0]}`)
    expect((await server.agent.delete(`/api/days/${day.id}`)).status).toBe(200)
    expect((await server.agent.get(`/api/days/${day.id}`)).status).toBe(404)
    const [run] = await server.stores.runs.list({})
    expect((await server.agent.delete(`/api/days/${run.dayId}`)).body.code).toBe('in-use')
  })
})

describe('simulated devices in a school of its own', () => {
  let server: TestServer
  beforeAll(async () => {
    server = await startTestServer()
    await server.agent.post('/api/accounts/first').send({ name: 'Marit Oakhanger', password: 'reeds and water' })
  })
  afterAll(() => server.close())

  it('are off, and what they drive as practice is in no record, group, sheet or list of references', async () => {
    const send = (path: string, body: string) => server.agent.post(path).set('Content-Type', 'application/octet-stream').send(body)
    const circuit = (await send('/api/circuits?name=Mere', text('ostrel-mere-short.csv'))).body
    const [vehicle] = (await send('/api/vehicles', text('vehicles.json'))).body
    const { id: _, ...plan } = JSON.parse(text('scenario.json')).day
    const student = { id: idOf(500), name: 'Imke Valderan', level: 'first-day', talk: 'guided', units: 'metric' }
    await server.agent.post('/api/students').send(student)
    const settings = { ...plan.settings, circuitId: circuit.id, vehicleId: vehicle.id }
    const cars = [{ id: 'c', number: '1', vehicleId: vehicle.id, owner: '' }]
    await server.agent
      .post('/api/days')
      .send({ id: idOf(501), plan: { ...plan, settings, cars, studentIds: [student.id], instructorIds: [], slots: [] } })
    const run = {
      id: idOf(502),
      dayId: idOf(501),
      slotId: null,
      studentId: student.id,
      carId: 'c',
      settings,
      startedAt: new Date().toISOString(),
    }
    await server.agent.post('/api/runs').send(run)
    const simulate = () => server.agent.post(`/api/runs/${run.id}/simulated-logger`).send({ seed: 3, laps: 2, speedFactor: 60 })
    expect((await simulate()).body.code).toBe('practice-off')
    const devices = (await server.agent.get('/api/simulated-devices')).body
    expect([devices.radio.on, devices.beam.on, devices.weather.on]).toEqual([false, false, false])
    const on = { ...devices, beam: { on: true } }
    expect((await server.agent.put('/api/simulated-devices').send(on)).body.code).toBe('practice-off')
    const school = (await server.agent.get('/api/school-settings')).body
    await server.agent.put('/api/school-settings').send({ ...school, schoolSettings: { ...school.schoolSettings, practice: true } })
    expect((await server.agent.get('/api/session')).body.simulated).toBe(true)
    expect((await simulate()).body.practice).toBe(true)
    await server.agent.post(`/api/runs/${run.id}/end`)
    // A log added by hand makes it no drive of the student's either.
    const laps = simulateDrive(
      makePlan(makeVenue(buildCircuit(readCircuit(text('ostrel-mere-short.csv'), 'x'))), vehicle, { ...settings, pace: 0.6 }),
      { laps: 2, seed: 4 },
    )
    const put = server.agent.put(`/api/runs/${run.id}/log`).set('Content-Type', 'application/octet-stream')
    expect((await put.send(writeLogCsv(laps.log))).status).toBe(200)
    expect((await server.agent.get(`/api/students/${student.id}/record`)).body.runs).toEqual([])
    const group = (await server.agent.get(`/api/days/${idOf(501)}/group`)).body
    expect([group.drove, group.runs, group.seen]).toEqual([[], [], []])
    expect((await server.agent.post(`/api/runs/${run.id}/sheet-link`)).body.code).toBe('practice-off')
    expect((await server.agent.get('/api/students/lines')).body).toEqual([])
    await server.agent.post('/api/runs').send({ ...run, id: idOf(503) })
    expect((await server.agent.get(`/api/runs/${idOf(503)}/references`)).body).toEqual([])
  })
})
