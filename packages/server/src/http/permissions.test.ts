import { api, type Endpoint, mayAs, permissionOf, type Role } from '@ochote/contract'
import request from 'supertest'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { hashPassword } from '../accounts/password.ts'
import { startDemoServer, type TestServer } from '../test-server.test-data.ts'

type Agent = ReturnType<typeof request.agent>

const password = 'otter kettle marsh'
let server: TestServer
/** Instructors on the demo's day and on none, a volunteer of that day, the lead, and somebody who is not signed in. */
let agents: Record<'nobody' | 'volunteer' | 'instructor' | 'outsider' | 'lead', Agent>

const today = 'day-2027-05-15'

const agent = (): Agent => {
  const made = request.agent(server.application.app)
  made.set('Sec-Fetch-Site', 'same-origin')
  return made
}

const signedIn = async (name: string): Promise<Agent> => {
  const made = agent()
  expect((await made.post('/api/session').send({ name, password })).status).toBe(200)
  return made
}

const pairedVolunteer = async (dayId: string): Promise<Agent> => {
  const id = uuid()
  const { body } = await server.agent.post(`/api/days/${dayId}/devices`).send({ id, volunteer: 'Corner 3' })
  const made = agent()
  const { code } = (body as { id: string; code: string }[]).find((one) => one.id === id) ?? { code: '' }
  const answer = await made.post('/api/session/paired').send({ code: code.toLowerCase() })
  expect(answer.body).toMatchObject({ dayId, account: { role: 'volunteer', name: 'Corner 3' } })
  return made
}

beforeAll(async () => {
  server = await startDemoServer()
  const { accounts, days } = server.stores
  const day = await days.byId(today)
  if (!day) throw new Error('No day')
  const onDay = day.plan.instructorIds.slice(0, 2)
  const all = await accounts.all()
  const passwordHash = await hashPassword(password)
  const teaching = all.find((one) => one.role === 'instructor' && onDay.includes(one.id))
  if (!teaching) throw new Error('No instructor')
  await accounts.setPassword(teaching.id, passwordHash)
  await accounts.add({ id: 'outsider', name: 'Outsider', role: 'instructor', passwordHash })
  agents = {
    nobody: agent(),
    volunteer: await pairedVolunteer(today),
    instructor: await signedIn(teaching.name),
    outsider: await signedIn('Outsider'),
    lead: server.agent,
  }
}, 120_000)
afterAll(() => server.close())

/** An address of an endpoint, in which every part names something that does not exist. */
const addressOf = (e: Endpoint): string => {
  const uuids = new Set(['questionId', 'pictureId', 'importId'])
  return e.path.replace(/:(\w+)/g, (_, name: string) => {
    if (name === 'port' || name === 'lap') return '1'
    if (name === 'token') return 'x'.repeat(32)
    if (name === 'name') return 'none.sqlite'
    return uuids.has(name) ? uuid() : 'none'
  })
}

/** Status and code of a call without a body. */
const callAs = async (who: keyof typeof agents, e: Endpoint, address = addressOf(e)): Promise<{ status: number; code: string }> => {
  const call = agents[who][e.method](address).ok(() => true)
  const answer = await (e.method === 'get'
    ? call
    : e.upload
      ? call.set('Content-Type', 'application/octet-stream').send('x')
      : call.send({}))
  return { status: answer.status, code: (answer.body as { code?: string } | null)?.code ?? '' }
}

/** Calls that would end the identity that is tried, answer for as long as somebody listens, or replace everything. */
const notCalled = new Set(['signOut', 'live', 'exportSchool', 'importSchool', 'makeBackup', 'endOwnSession', 'signInDemo'])
const endpoints = (Object.values(api) as Endpoint[]).filter((e) => !notCalled.has(e.id))

const roleOf = { volunteer: 'volunteer', instructor: 'instructor', outsider: 'instructor', lead: 'lead' } as const satisfies Record<
  string,
  Role
>

describe('who may what', () => {
  it('has a rule for every call', () => {
    for (const e of Object.values(api) as Endpoint[]) expect(permissionOf(e), e.id).toBeDefined()
  })

  it.each(['nobody', 'volunteer', 'instructor', 'outsider', 'lead'] as const)(
    'lets %s call what the table says, and nothing else',
    async (identity) => {
      const wrong: string[] = []
      for (const e of endpoints) {
        const { who } = permissionOf(e)
        const { status, code } = await callAs(identity, e)
        const role = identity === 'nobody' ? null : roleOf[identity]
        const may = who === 'anyone' || who === 'link' || (role !== null && mayAs(role, who))
        // Who may call such things at all may still not call this very one.
        const beyond = code === 'not-yours' && may && permissionOf(e).within !== undefined
        const refused = !beyond && ['not-signed-in', 'lead-only', 'not-yours'].includes(code)
        // A volunteer is bound to one day: what names another one is refused for that.
        const bound = identity === 'volunteer' && /:(dayId|runId)/.test(e.path)
        if (!bound && refused === may) wrong.push(`${e.id}: ${status} ${code}`)
        if (status >= 500) wrong.push(`${e.id}: ${status} ${code}`)
      }
      expect(wrong).toEqual([])
    },
    120_000,
  )

  it('binds an instructor to their own days, runs and students', async () => {
    const [first] = (await server.agent.get('/api/runs')).body as { id: string; dayId: string; studentId: string }[]
    const day = (await server.agent.get(`/api/days/${today}`)).body as { version: number; plan: object }
    const change = { version: day.version, plan: day.plan }
    expect((await agents.outsider.put(`/api/days/${today}`).send(change)).body.code).toBe('not-yours')
    expect((await agents.instructor.put(`/api/days/${today}`).send(change)).status).toBe(200)
    expect((await agents.outsider.put(`/api/students/${first.studentId}/archived`).send({ archived: true })).body.code).toBe('not-yours')
    expect((await agents.outsider.post(`/api/runs/${first.id}/sheet-link`)).body.code).toBe('not-yours')
    expect((await agents.outsider.put(`/api/runs/${first.id}/log`).send('x')).body.code).toBe('not-yours')
    // What they only look at they may: a school shares its records.
    expect((await agents.outsider.get(`/api/students/${first.studentId}/record`)).status).toBe(200)
    expect((await agents.outsider.get(`/api/days/${today}/links`)).body.code).toBe('not-yours')
  })

  it('binds a volunteer to one day, and shows names of students and nothing more', async () => {
    const runs = (await server.agent.get('/api/runs')).body as { id: string; dayId: string }[]
    const other = runs.find((run) => run.dayId !== today)
    expect((await agents.volunteer.get(`/api/days/${today}`)).status).toBe(200)
    expect((await agents.volunteer.get(`/api/days/${other?.dayId}`)).body.code).toBe('not-yours')
    expect((await agents.volunteer.get(`/api/runs/${other?.id}`)).body.code).toBe('not-yours')
    const ids = ((await agents.volunteer.get('/api/days')).body as { id: string }[]).map((day) => day.id)
    expect(ids).toEqual([today])
    const listed = (await agents.volunteer.get('/api/runs')).body as { dayId: string }[]
    expect(listed.every((run) => run.dayId === today)).toBe(true)
    const students = (await agents.volunteer.get('/api/students')).body as { name: string; profile: { worries: string[]; goals: string } }[]
    expect(students.length).toBeGreaterThan(5)
    for (const { profile } of students) expect([profile.worries, profile.goals]).toEqual([[], ''])
    const event = { id: uuid(), runId: other?.id, at: new Date().toISOString(), kind: 'observation', cornerId: 'T1', code: 'coast', lap: 1 }
    const sent = await agents.volunteer.post('/api/events').send({ events: [event] })
    expect(sent.body).toMatchObject({ stored: [], refused: [{ id: event.id }] })
  })

  it('signs a paired device out once it is withdrawn, and takes each code once', async () => {
    const id = uuid()
    const made = (await server.agent.post(`/api/days/${today}/devices`).send({ id, volunteer: 'Corner 5' })).body as {
      id: string
      code: string
    }[]
    const code = made.find((one) => one.id === id)?.code ?? ''
    const device = agent()
    expect((await device.post('/api/session/paired').send({ code })).status).toBe(200)
    expect((await agent().post('/api/session/paired').send({ code })).body.code).toBe('code-wrong')
    expect((await device.get('/api/students')).status).toBe(200)
    await server.agent.delete(`/api/days/${today}/devices/${id}`)
    expect((await device.get('/api/students')).status).toBe(401)
  })
})

describe('what nobody could mean', () => {
  it('is refused in words: broken addresses, lists nested without end, ids that are not there', async () => {
    expect((await server.agent.get('/api/students/%E0%A4%A/record')).body).toMatchObject({ status: 400, code: 'invalid' })
    expect((await server.agent.get(`/api/students/${'x'.repeat(500)}/record`)).status).toBe(400)
    expect((await server.agent.get('/api/students/nobody/record')).status).toBe(404)
    expect((await server.agent.get('/api/runs/none/laps/9e99')).status).toBe(400)
    const nested = await server.agent.post('/api/events').set('Content-Type', 'application/json').send('['.repeat(200_000))
    expect(nested.body).toMatchObject({ status: 400, code: 'invalid' })
    const deep = await server.agent
      .post('/api/events')
      .set('Content-Type', 'application/json')
      .send(`{"events":${'['.repeat(50_000)}${']'.repeat(50_000)}}`)
    expect(deep.status).toBe(400)
  })
})

describe('the trail', () => {
  it('says who saw, changed and took out what, is read by leads, and shows where it was tampered with', async () => {
    await agents.outsider.get('/api/students/imke-valderan/record')
    await server.agent.get('/api/students/imke-valderan/export')
    const about = 'student:imke-valderan'
    const { body } = await server.agent.get(`/api/trail?about=${about}`)
    expect(body.whole).toBe(true)
    expect((body.lines as { by: string; what: string; call: string }[]).map(({ by, what, call }) => [by, what, call])).toContainEqual([
      'Outsider',
      'seen',
      'record',
    ])
    expect((body.lines as { what: string }[])[0]).toMatchObject({ what: 'exported', call: 'exportStudent', about })
    expect((await agents.outsider.get('/api/trail')).body.code).toBe('lead-only')
    const { seq } = (body.lines as { seq: number }[])[1] ?? { seq: 1 }
    await server.opened.db('trail').where({ seq }).update({ by: 'Nobody' })
    expect((await server.agent.get('/api/trail')).body).toMatchObject({ whole: false, brokenAt: seq })
  })
})
