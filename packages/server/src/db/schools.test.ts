import { createHash } from 'node:crypto'
import { cpSync, mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { api, type Endpoint } from '@ochote/contract'
import request from 'supertest'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { loadDemo } from '../demo/load.ts'
import { demoFolder } from '../demo-once.test-data.ts'
import { directJobs } from '../jobs/jobs.ts'
import { moveSchool } from '../school/move.ts'
import { rowsOf, tables } from '../school/tables.ts'
import { startDemoServer, startRunAt, startTestServer, type TestServer } from '../test-server.test-data.ts'
import { connectPostgres } from './postgres.ts'
import { areApart, schoolOf } from './schools.ts'
import { testPostgres } from './test-postgres.test-data.ts'

describe('the school of an address', () => {
  it('is the one that it names, or the usual one', () => {
    expect(schoolOf('postgres://a@b/c')).toBe('school')
    expect(schoolOf('postgres://a@b/c?host=/tmp&school=north-2')).toBe('north-2')
    for (const name of ['North', '*', 'a b', "a'b", '', '-a', 'a-', 'x'.repeat(41)])
      expect(() => schoolOf(`postgres://a@b/c?school=${encodeURIComponent(name)}`), name).toThrow('cannot name a school')
  })
})

/** All that a school holds, table by table, as a hash. */
const heldBy = async ({ opened }: TestServer): Promise<Record<string, string>> => {
  const held: Record<string, string> = {}
  for (const table of tables) {
    const hash = createHash('sha256')
    for await (const row of rowsOf(opened.db, table)) hash.update(JSON.stringify(Object.entries(row).sort()))
    held[table] = hash.digest('hex')
  }
  return held
}

const today = 'day-2027-05-15'
const lead = { name: 'South Lead', password: 'otter kettle marsh' }

describe.runIf(testPostgres)('two schools in one database', () => {
  let north: TestServer
  let south: TestServer
  /** The same secrets in both: what one school gave out is refused by the other because it is not theirs, not because it cannot be read. */
  const beside = (school: string): Promise<TestServer> => {
    const folder = mkdtempSync(join(tmpdir(), 'ochote-beside-'))
    cpSync(north.config.dataDir, folder, { recursive: true })
    const url = new URL(north.config.database ?? '')
    url.searchParams.set('school', school)
    return startTestServer({ demo: true, database: url.href }, folder)
  }
  beforeAll(async () => {
    north = await startDemoServer()
    south = await beside('south')
    expect((await south.agent.post('/api/accounts/first').send(lead)).status).toBe(200)
  }, 120_000)
  afterAll(async () => {
    await south.close()
    await north.close()
  })

  /** What north has of everything, as parts of addresses and bodies. */
  const thingsOfNorth = async () => {
    const ask = async (path: string) => (await north.agent.get(path)).body
    const runs = (await ask('/api/runs')) as { id: string; dayId: string; studentId: string; hasLog: boolean; settings: object }[]
    const run = runs.find((one) => one.hasLog) ?? runs[0]
    const [other] = ((await ask('/api/students')) as { id: string }[]).filter((one) => one.id !== run.studentId)
    const venueId = uuid()
    await north.agent.put(`/api/venues/${venueId}`).send({ name: 'North Venue', version: 0 })
    const questionId = uuid()
    const [circuit] = (await ask('/api/circuits')) as { id: string; name: string; version: number; listedVersion?: number }[]
    await north.agent
      .put(`/api/questions/${questionId}`)
      .send({ id: questionId, circuitId: circuit.id, cornerId: null, text: 'North Question', answer: '', at: new Date().toISOString() })
    const deviceId = uuid()
    const devices = (await north.agent.post(`/api/days/${today}/devices`).send({ id: deviceId, volunteer: 'North Corner' })).body
    const token = (text: string) => /[\w-]{20,}/.exec(text)?.[0] ?? ''
    const links = await north.agent.post(`/api/days/${run.dayId}/links/${run.studentId}`)
    const sheet = await north.agent.post(`/api/runs/${run.id}/sheet-link`)
    const open = await startRunAt(north, { dayId: today, studentId: 'odalys-merrow', carId: 'school-2' })
    return {
      run,
      open,
      circuit,
      day: await ask(`/api/days/${run.dayId}`),
      student: await ask('/api/students').then((all: { id: string }[]) => all.find((one) => one.id === run.studentId)),
      account: ((await ask('/api/accounts')) as { id: string }[])[0],
      code: (devices as { id: string; code: string }[]).find((one) => one.id === deviceId)?.code ?? '',
      settings: await ask('/api/school-settings'),
      car: ((await ask('/api/cars')) as { id: string }[])[0],
      vehicle: ((await ask('/api/vehicles')) as { id: string }[])[0],
      names: {
        runId: run.id,
        dayId: run.dayId,
        studentId: run.studentId,
        circuitId: circuit.id,
        venueId,
        questionId,
        deviceId,
        otherId: other.id,
        pictureId: uuid(),
        importId: uuid(),
        lap: '1',
        port: '1',
        name: 'none.sqlite',
        token: token(JSON.stringify(links.body)),
      } as Record<string, string>,
      sheetToken: token(JSON.stringify(sheet.body)),
    }
  }
  type Things = Awaited<ReturnType<typeof thingsOfNorth>>

  /** Bodies with which north would be answered, where a call takes one. */
  const bodiesFor = ({ run, open, circuit, day, student, account, code, car, vehicle, names }: Things): Record<string, object> => {
    const at = new Date().toISOString()
    const without = ({ id: _, ...rest }: Record<string, unknown>): object => rest
    return {
      changeDay: { version: day.version, plan: day.plan },
      changeStudent: without({ ...student, version: 1 }),
      archiveStudent: { archived: true },
      mergeStudents: { otherId: names.otherId },
      tellOfStudent: { id: uuid(), studentId: run.studentId, at, kind: 'level-set', level: 'steady', why: '' },
      addEvents: { events: [{ id: uuid(), runId: open.id, at, kind: 'observation', cornerId: 'T1', code: 'coast', lap: 1 }] },
      addDayEvents: { events: [{ id: uuid(), dayId: today, at, kind: 'radio', to: [], text: 'from elsewhere' }] },
      judgeAgain: run.settings,
      addPicture: { id: uuid(), jpeg: Buffer.from([0xff, 0xd8, 0xff, 0xe0, 0, 0]).toString('base64') },
      nameCircuit: { name: 'Renamed', venueId: null, version: circuit.listedVersion ?? 1 },
      archiveCircuit: { archived: true },
      putVenue: { name: 'Taken over', version: 1 },
      putCar: without({ ...car, version: 1 }),
      putVehicle: vehicle,
      putQuestion: { id: names.questionId, circuitId: circuit.id, cornerId: null, text: 'Taken over', answer: '', at },
      changeAccount: without({ ...account, version: 1, archived: false }),
      startRun: {
        id: uuid(),
        slotId: null,
        dayId: today,
        studentId: 'odalys-merrow',
        carId: 'school-1',
        settings: day.plan.settings,
        startedAt: at,
      },
      pair: { id: uuid(), volunteer: 'Corner 1' },
      simulateLogger: { seed: 3, laps: 2, sighting: 0, coolDown: 0, speedFactor: 60, habits: 'none' },
      // The last one: whoever calls it is a device of that day afterwards.
      pairDevice: { code },
    }
  }
  const addressFor = (e: Endpoint, { names, sheetToken, account }: Things): string =>
    e.path.replace(/:(\w+)/g, (_, name: string) => {
      if (name === 'token' && e.path.includes('/sheets/')) return sheetToken
      if (name === 'accountId') return account.id
      return names[name] ?? 'none'
    })

  /** Calls that would end the identity that is tried, answer for as long as somebody listens, or replace everything. */
  const notCalled = new Set([
    'signOut',
    'live',
    'exportSchool',
    'importSchool',
    'makeBackup',
    'endOwnSession',
    'signInDemo',
    'firstAccount',
  ])
  const endpoints = (Object.values(api) as Endpoint[]).filter((e) => !notCalled.has(e.id))
  const call = async (agent: TestServer['agent'], e: Endpoint, things: Things, bodies: Record<string, object>) => {
    const asked = agent[e.method](addressFor(e, things)).ok(() => true)
    return e.method === 'get'
      ? asked
      : e.upload
        ? asked.set('Content-Type', 'application/octet-stream').send('x')
        : asked.send(bodies[e.id] ?? {})
  }

  it('neither show nor change anything of each other, by any call, with the other’s ids, links and codes', async () => {
    const things = await thingsOfNorth()
    const bodies = bodiesFor(things)
    const before = await heldBy(north)
    const people = ((await north.agent.get('/api/students')).body as { name: string }[]).map((one) => one.name)
    const theirs = [...people, ...((await north.agent.get('/api/circuits')).body as { name: string }[]).map((one) => one.name)]
    expect(theirs.length).toBeGreaterThan(12)
    const wrong: string[] = []
    for (const e of endpoints) {
      const { status, text = '' } = await call(south.agent, e, things, bodies)
      if (status >= 500) wrong.push(`${e.id}: ${status} ${text.slice(0, 200)}`)
      // What was sent with a call may come back; what was not may not.
      const sent = JSON.stringify(bodies[e.id] ?? {})
      const shown = theirs.filter((name) => text.includes(name) && !sent.includes(name))
      if (shown.length > 0) wrong.push(`${e.id} shows ${shown.join(', ')}`)
    }
    expect(wrong).toEqual([])
    expect(await heldBy(north)).toEqual(before)

    // The same calls are no empty ones: the school itself is answered.
    const answered: string[] = []
    for (const e of endpoints) if (e.method === 'get' && (await call(north.agent, e, things, bodies)).status === 200) answered.push(e.id)
    expect(answered.length).toBeGreaterThan(35)
    const changed: string[] = []
    for (const id of Object.keys(bodies)) {
      const e = endpoints.find((one) => one.id === id)
      if (e && e.id !== 'mergeStudents' && (await call(north.agent, e, things, bodies)).status < 300) changed.push(id)
    }
    expect(changed.length).toBeGreaterThan(13)
  }, 120_000)

  it('do not let somebody in who signed in at the other one', async () => {
    const answer = await north.agent.get('/api/session/demo').ok(() => true)
    expect(answer.status).toBeGreaterThan(0)
    const signedIn = await request(north.application.app).post('/api/session/demo').set('Sec-Fetch-Site', 'same-origin')
    const [cookie] = signedIn.get('Set-Cookie') ?? []
    const atHome = await request(north.application.app).get('/api/students').set('Cookie', cookie)
    const elsewhere = await request(south.application.app).get('/api/students').set('Cookie', cookie)
    expect([atHome.status, elsewhere.status]).toEqual([200, 401])
  })

  it('may have the same ids, and each keeps its own', async () => {
    const west = await beside('west')
    await loadDemo(west.stores, directJobs(), demoFolder, () => {})
    const before = await heldBy(north)
    const student = await west.stores.students.byId('odalys-merrow')
    await west.agent.post('/api/session/demo')
    const { id, ...rest } = (await west.agent.get('/api/students')).body.find((one: { id: string }) => one.id === student?.id)
    expect((await west.agent.put(`/api/students/${id}`).send({ ...rest, name: 'Odalys West' })).status).toBe(200)
    expect((await west.stores.students.byId(id))?.name).toBe('Odalys West')
    expect(await heldBy(north)).toEqual(before)
    // What moves into one of them takes nothing from the others, and what is counted goes on in each.
    await moveSchool(west.opened.db, south.opened.db, { again: true })
    expect((await south.stores.students.byId(id))?.name).toBe('Odalys West')
    expect(await heldBy(north)).toEqual(before)
    for (const school of [north, south, west]) {
      const event = { id: uuid(), dayId: today, at: new Date().toISOString(), kind: 'radio' as const, to: [], text: 'on' }
      expect((await school.stores.dayEvents.append(null, [event])).fresh).toHaveLength(1)
    }
    await west.close()
  }, 120_000)

  it('are kept apart by the database itself: nothing is seen by a connection that names none, or written for another one', async () => {
    expect(await areApart(north.opened.db)).toBe(true)
    const { db } = south.opened
    await expect(db('students').insert({ id: 'x', name: 'x', school: 'school' })).rejects.toThrow(/row-level security/)
    expect(await db('students').where({ school: 'school' }).update({ name: 'x' })).toBe(0)
    const nobody = connectPostgres(north.config.database ?? '')
    const seen = await nobody.transaction(async (trx) => {
      await trx.raw("select set_config('ochote.school', '', true)")
      return trx('students').count({ n: '*' })
    })
    expect(seen).toEqual([{ n: 0 }])
    await nobody.destroy()
  })
})
