import {
  type Day,
  type DayBoard,
  dayPlanSchema,
  type Portal,
  type Quiz,
  type RecallTask,
  type Run,
  type Sheet,
  type StoredSchoolSettings,
  type StudentRecord,
} from '@ochote/contract'
import { settingsOfStudent } from '@ochote/core'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { testPostgres } from '../db/test-postgres.test-data.ts'
import { directJobs } from '../jobs/jobs.ts'
import { brokenReferences, startDemoServer, type TestServer } from '../test-server.test-data.ts'

let server: TestServer
beforeAll(async () => {
  server = await startDemoServer()
}, 120_000)
afterAll(() => server.close())

const today = 'day-2027-05-15'
const giveLink = async (studentId: string): Promise<string> =>
  (await server.agent.post(`/api/days/${today}/links/${studentId}`)).body.token as string

describe('a student’s link', () => {
  it('is the same while it is valid, long enough not to be guessed, and dead once withdrawn', async () => {
    const token = await giveLink('pia-lindqvaern')
    expect(token.length).toBeGreaterThanOrEqual(32)
    expect(await giveLink('pia-lindqvaern')).toBe(token)
    expect((await server.agent.get(`/api/portal/${token}`)).status).toBe(200)
    const left = await server.agent.delete(`/api/days/${today}/links/pia-lindqvaern`)
    expect(left.body).toEqual([])
    const gone = await server.agent.get(`/api/portal/${token}`)
    expect(gone.status).toBe(404)
    expect(gone.body).toMatchObject({ code: 'link-withdrawn', remedy: expect.stringContaining('new one') })
    expect(await giveLink('pia-lindqvaern')).not.toBe(token)
  })

  it('shows the student’s own things without signing in, and nobody else’s', async () => {
    const token = await giveLink('imke-valderan')
    const stranger = await startStranger()
    const { body } = await stranger.get(`/api/portal/${token}`)
    const portal = body as Portal
    expect(portal.student.name).toBe('Imke Valderan')
    expect(portal.corners).toHaveLength(11)
    expect(portal.parts.pits.length).toBeGreaterThan(2)
    expect(Object.keys(portal.acknowledged)).toContain('flags')
    expect(JSON.stringify(body)).not.toContain('Rashid')
    expect((await stranger.get('/api/students')).status).toBe(401)
    expect((await stranger.get(`/api/portal/${'x'.repeat(32)}`)).status).toBe(404)
  })

  it('shows the student’s own times with car and instructor, and gives them as a calendar file of nobody else', async () => {
    const token = await giveLink('imke-valderan')
    const { plan } = (await server.agent.get(`/api/days/${today}`)).body as Day
    const own = plan.slots.filter((s) => s.studentId === 'imke-valderan' && s.kind === 'run')
    const { times } = (await server.agent.get(`/api/portal/${token}`)).body as Portal
    expect(times.filter((t) => t.kind === 'run').map((t) => t.start)).toEqual(own.map((s) => s.start).sort())
    expect(times.some((t) => t.kind === 'briefing')).toBe(true)
    expect(times.find((t) => t.kind === 'run')).toMatchObject({
      car: expect.stringMatching(/^\d+$/),
      instructor: expect.stringMatching(/ /),
    })
    const file = await (await startStranger()).get(`/api/portal/${token}/day.ics`)
    expect(file.headers['content-type']).toContain('text/calendar')
    expect(file.text.match(/BEGIN:VEVENT/g)).toHaveLength(times.length)
    expect(file.text).not.toContain('Rashid')
    const whole = await server.agent.get(`/api/days/${today}/day.ics`)
    expect(whole.text.match(/BEGIN:VEVENT/g)).toHaveLength(plan.slots.length)
    // An instructor's own: each exercise once, with all who are in it, and nobody else's.
    const { body: accounts } = await server.agent.get('/api/accounts')
    const [{ id: instructorId, name }] = accounts as { id: string; name: string }[]
    const mine = await server.agent.get(`/api/days/${today}/day.ics?instructorId=${instructorId}`)
    const events = mine.text.split('BEGIN:VEVENT').slice(1)
    const planned = plan.planning.sessions.filter((s) => s.instructorId === instructorId)
    expect(events).toHaveLength(planned.length + plan.slots.filter((s) => s.kind === 'break').length)
    for (const event of events.filter((e) => e.includes('Ride-along'))) expect(event).toContain(name)
    expect((await (await startStranger()).get(`/api/days/${today}/day.ics`)).status).toBe(401)
  })

  it('of a board shows the paddock the day by first names, until it is withdrawn', async () => {
    const stranger = await startStranger()
    const board = { token: `${'b'.repeat(40)}`, names: 'first' as 'first' | 'whole' }
    const put = async (next: typeof board | null): Promise<void> => {
      const { version, plan } = (await server.agent.get(`/api/days/${today}`)).body as Day
      expect((await server.agent.put(`/api/days/${today}`).send({ version, plan: { ...plan, board: next } })).status).toBe(200)
    }
    expect((await stranger.get(`/api/board/${board.token}`)).status).toBe(404)
    await put(board)
    // What the plan holds opens nothing: the link follows from it and the server's own key.
    expect((await stranger.get(`/api/board/${board.token}`)).status).toBe(404)
    const { token } = (await server.agent.get(`/api/days/${today}/board`)).body as { token: string }
    const { body } = await stranger.get(`/api/board/${token}`)
    const { plan } = (await server.agent.get(`/api/days/${today}`)).body as Day
    expect((body as DayBoard).lines).toHaveLength(plan.slots.length)
    expect(JSON.stringify(body)).toContain('Imke')
    expect(JSON.stringify(body)).not.toContain('Valderan')
    await put({ ...board, names: 'whole' })
    expect(JSON.stringify((await stranger.get(`/api/board/${token}`)).body)).toContain('Imke Valderan')
    await put(null)
    expect((await stranger.get(`/api/board/${token}`)).body).toMatchObject({ code: 'link-withdrawn' })
  })

  it('carries the school’s own cautions, and so does the sheet of a drive', async () => {
    const { version } = (await server.agent.get('/api/school-settings')).body as StoredSchoolSettings
    const { schoolSettings } = (await server.agent.get('/api/school-settings')).body as StoredSchoolSettings
    const cautions = ['No helmet, no run.']
    await server.agent.put('/api/school-settings').send({ version, schoolSettings: { ...schoolSettings, cautions } })
    const token = await giveLink('imke-valderan')
    expect(((await server.agent.get(`/api/portal/${token}`)).body as Portal).cautions).toEqual(cautions)
    const [{ id }] = ((await server.agent.get('/api/runs')).body as Run[]).filter((r) => r.hasLog)
    expect(((await server.agent.get(`/api/runs/${id}/sheet`)).body as Sheet).cautions).toEqual(cautions)
  })

  it('takes acknowledgements once, with their time, and a profile that can be emptied again', async () => {
    const token = await giveLink('tomas-wrenfield')
    const id = uuid()
    for (const _ of [1, 2]) await server.agent.post(`/api/portal/${token}/acknowledge`).send({ id, part: 'safety' })
    const events = (await server.agent.get(`/api/days/${today}/events`)).body as { id: string }[]
    expect(events.filter((e) => e.id === id)).toHaveLength(1)
    const radio = await server.agent.post(`/api/portal/${token}/acknowledge`).send({ id: uuid(), part: 'radio' })
    expect(radio.body.radioHeard).toMatch(/^20\d\d-/)
    const profile = { experience: 'None', car: '', goals: '', worries: ['T6'], language: 'de' }
    const told = await server.agent.put(`/api/portal/${token}/profile`).send({ profile, talk: 'quiet', units: 'metric' })
    expect(told.body.student).toMatchObject({ talk: 'quiet', profile: { experience: 'None', language: 'de' } })
    const empty = { experience: '', car: '', goals: '', worries: [], language: null }
    await server.agent.put(`/api/portal/${token}/profile`).send({ profile: empty, talk: 'guided', units: 'metric' })
    expect((await server.stores.students.byId('tomas-wrenfield'))?.profile).toEqual(empty)
  })
})

const startStranger = async () => {
  const { default: request } = await import('supertest')
  const { createApp } = await import('../app.ts')
  const { pino } = await import('pino')
  return request.agent(createApp(server.opened, server.config, directJobs(), pino({ level: 'silent' })).app)
}

describe('the recall quiz by a link', () => {
  it('asks without answers, judges each, keeps it, and brings back what was missed', async () => {
    const token = await giveLink('yuna-tressider')
    const quiz = (await server.agent.get(`/api/portal/${token}/quiz`)).body as Quiz
    expect(quiz.questions).toHaveLength(6)
    expect(JSON.stringify(quiz)).not.toMatch(/"key"|"right"/)
    // No question has ten choices: the first is missed for certain, the others are answered with the first one.
    for (const [k, { id: questionId }] of quiz.questions.entries()) {
      const told = await server.agent
        .post(`/api/portal/${token}/quiz`)
        .send({ id: uuid(), seed: quiz.seed, questionId, answer: { form: 'choose', choice: k === 0 ? 9 : 0 } })
      expect(told.status).toBe(200)
      if (k === 0) expect(told.body.right).toBe(false)
      else if (told.body.right) expect(told.body.choice).toBe(0)
    }
    const { answered } = (await server.agent.get(`/api/portal/${token}`)).body as Portal
    expect(answered.asked).toBe(6)
    const next = (await server.agent.get(`/api/portal/${token}/quiz`)).body as Quiz
    expect(next.questions[0].id).toBe(quiz.questions[0].id)
  })

  it('refuses a question that is not asked, with nothing kept', async () => {
    const token = await giveLink('yuna-tressider')
    const before = ((await server.agent.get(`/api/days/${today}/events`)).body as unknown[]).length
    const { seed } = (await server.agent.get(`/api/portal/${token}/quiz`)).body as Quiz
    const answer = { id: uuid(), seed, questionId: 'gear T99', answer: { form: 'choose', choice: 0 } }
    const refused = await server.agent.post(`/api/portal/${token}/quiz`).send(answer)
    expect(refused.status).toBe(422)
    expect(refused.body.code).toBe('question-unknown')
    expect(((await server.agent.get(`/api/days/${today}/events`)).body as unknown[]).length).toBe(before)
  })

  it('counts a question once in a round, however often and under whatever id its answer is sent', async () => {
    const token = await giveLink('rashid-okonwe')
    const quiz = (await server.agent.get(`/api/portal/${token}/quiz`)).body as Quiz
    const send = (seed: number) =>
      server.agent
        .post(`/api/portal/${token}/quiz`)
        .send({ id: uuid(), seed, questionId: quiz.questions[0].id, answer: { form: 'choose', choice: 0 } })
    const asked = async (): Promise<number> => ((await server.agent.get(`/api/portal/${token}`)).body as Portal).answered.asked
    const before = await asked()
    const answers = [await send(quiz.seed), await send(quiz.seed), await send(quiz.seed)]
    expect(answers.map((answer) => answer.status)).toEqual([200, 200, 200])
    expect(await asked()).toBe(before + 1)
    expect((await send(quiz.seed + 1)).body.code).toBe('round-over')
    expect(await asked()).toBe(before + 1)
  })
})

describe('the kit', () => {
  it('is a versioned document: a write from an older version is refused', async () => {
    const { version, schoolSettings } = (await server.agent.get('/api/school-settings')).body
    expect(schoolSettings.stock.pink).toBe(9)
    const first = await server.agent
      .put('/api/school-settings')
      .send({ version, schoolSettings: { ...schoolSettings, stock: { pink: 4 } } })
    expect(first.body).toMatchObject({ version: version + 1, schoolSettings: { stock: { pink: 4 } } })
    const late = await server.agent.put('/api/school-settings').send({ version, schoolSettings })
    expect(late.status).toBe(409)
    expect((await server.agent.get('/api/school-settings')).body.schoolSettings.stock).toEqual({ pink: 4 })
  })
})

describe('a link', () => {
  it('ends by itself, says when, and can be given anew; a copy of the database opens none', async () => {
    const token = await giveLink('imke-valderan')
    const [link] = (await server.stores.links.of(today)).filter((one) => one.studentId === 'imke-valderan')
    expect(link.token).toBe(token)
    expect(Date.parse(link.expiresAt) - Date.parse('2027-05-15')).toBeGreaterThan(30 * 86_400_000)
    expect(JSON.stringify(await server.opened.db('student_links'))).not.toContain(token)
    expect((await server.agent.get(`/api/portal/${token}`)).status).toBe(200)
    expect((await server.stores.links.of(today)).find((one) => one.studentId === 'imke-valderan')?.usedAt).not.toBeNull()
    await server.opened.db('student_links').where({ student_id: 'imke-valderan' }).update({ expires_at: '2020-01-01T00:00:00.000Z' })
    expect((await server.agent.get(`/api/portal/${token}`)).body.code).toBe('link-withdrawn')
    expect((await server.stores.links.of(today)).find((one) => one.studentId === 'imke-valderan')?.token).toBeNull()
    const anew = await giveLink('imke-valderan')
    expect(anew).not.toBe(token)
    expect((await server.agent.get(`/api/portal/${anew}`)).status).toBe(200)
  })

  it('that opens nothing takes no file, and is not tried for ever', async () => {
    const stranger = await startStranger()
    const send = () =>
      stranger
        .put(`/api/portal/${'x'.repeat(32)}/log?id=${uuid()}&name=a.csv&date=2027-05-15`)
        .set('Sec-Fetch-Site', 'same-origin')
        .set('Content-Type', 'application/octet-stream')
        .send(Buffer.alloc(300_000))
    expect((await send()).status).toBe(404)
    const { existsSync, readdirSync } = await import('node:fs')
    const uploads = `${server.config.dataDir}/uploads`
    expect(existsSync(uploads) ? readdirSync(uploads) : []).toEqual([])
    const codes: string[] = []
    for (let k = 0; k < 31; k++) codes.push((await stranger.get(`/api/portal/${'y'.repeat(32)}`)).body.code)
    expect(codes.at(-1)).toBe('too-many-tries')
  })
})

describe('questions at a circuit', () => {
  it('are kept with their corner, answered later, and taken away', async () => {
    const question = { id: uuid(), circuitId: 'ostrel-mere', cornerId: 'T4', text: 'Which gear?', answer: '', at: new Date().toISOString() }
    const put = (change: object) => server.agent.put(`/api/questions/${question.id}`).send({ ...question, ...change })
    expect((await put({})).status).toBe(200)
    // Written from an older version it is refused, and what is there stays.
    expect((await put({ answer: 'Second.' })).body.code).toBe('changed-meanwhile')
    await put({ answer: 'Third.', version: 1 })
    const all = (await server.agent.get('/api/circuits/ostrel-mere/questions')).body as { id: string; answer: string }[]
    expect(all.find((q) => q.id === question.id)?.answer).toBe('Third.')
    expect((await put({ circuitId: 'nowhere' })).status).toBe(404)
    expect((await put({ id: uuid() })).body.remedy).toContain('own address')
    expect((await server.agent.delete(`/api/questions/${question.id}`)).body).toEqual({ removed: true })
  })
})

describe('events of a day', () => {
  const report = (id: string) => ({
    id,
    dayId: today,
    at: new Date().toISOString(),
    kind: 'cone-report',
    coneId: 'T1-apex',
    state: 'laid',
    error_m: 0.2,
  })

  it('are appended once each; answers of students come by their links alone', async () => {
    const id = uuid()
    const event = report(id)
    for (const _ of [1, 2]) {
      const sent = await server.agent.post('/api/day-events').send({ events: [event] })
      expect(sent.body.stored).toEqual([id])
    }
    // The same id with other content is another event, which is named and not stored.
    const other = { ...event, at: new Date(Date.parse(event.at) + 1000).toISOString() }
    const clash = await server.agent.post('/api/day-events').send({ events: [other, event] })
    expect(clash.body).toMatchObject({ stored: [id], refused: [{ id, title: expect.stringContaining('other content') }] })
    const events = (await server.agent.get(`/api/days/${today}/events`)).body as { id: string }[]
    expect(events.filter((e) => e.id === id)).toHaveLength(1)
    const forged = {
      id: uuid(),
      dayId: today,
      at: new Date().toISOString(),
      kind: 'quiz-answer',
      studentId: 'hal-brackenbury',
      questionId: 'x',
      cornerId: null,
      right: true,
    }
    expect((await server.agent.post('/api/day-events').send({ events: [forged] })).status).toBe(400)
    const gone = { ...report(uuid()), dayId: 'gone' }
    const { body } = await server.agent.post('/api/day-events').send({ events: [gone, report(uuid())] })
    expect(body).toMatchObject({ stored: [expect.any(String)], refused: [{ id: gone.id, title: 'This day does not exist any more.' }] })
  })
})

describe('erasing a student', () => {
  it('takes runs, logs, answers, link and the place in every day, and nobody else’s', async () => {
    await giveLink('odalys-merrow')
    expect(((await server.agent.get('/api/runs?studentId=odalys-merrow')).body as unknown[]).length).toBe(5)
    const others = ((await server.agent.get('/api/runs')).body as unknown[]).length - 5
    const left = await server.agent.delete('/api/students/odalys-merrow')
    expect(left.body).toHaveLength(11)
    expect((await server.agent.get('/api/runs')).body).toHaveLength(others)
    const { plan } = (await server.agent.get(`/api/days/${today}`)).body
    expect(JSON.stringify(dayPlanSchema.parse(plan))).not.toContain('odalys-merrow')
    const rest = await Promise.all(
      ['day_events', 'student_links', 'runs'].map((table) =>
        server.opened.db(table).where({ student_id: 'odalys-merrow' }).count({ n: '*' }),
      ),
    )
    expect(rest.map(([{ n }]) => n)).toEqual([0, 0, 0])
    expect(await brokenReferences(server.opened)).toEqual([])
    expect((await server.agent.get('/api/students/odalys-merrow/record')).status).toBe(404)
  })
})

describe('the queries behind', () => {
  it.skipIf(testPostgres)('use an index for the events of a day and for a link', async () => {
    const planOf = async (sql: string): Promise<string> =>
      ((await server.opened.db.raw(`EXPLAIN QUERY PLAN ${sql}`)) as { detail: string }[]).map((r) => r.detail).join(' ')
    expect(await planOf("select doc from day_events where day_id = 'x' order by seq")).toContain('USING INDEX')
    expect(await planOf("select * from student_links where token_hash = 'x'")).toContain('USING INDEX')
    expect(await planOf("select * from questions where circuit_id = 'x'")).toContain('USING INDEX')
  })
})

describe('the lap driven from memory by a link', () => {
  const round = (late_s: number) => ({
    id: uuid(),
    at: new Date(Date.now() - 3_600_000).toISOString(),
    mode: 'fading' as const,
    marks: [{ cornerId: 'T3', action: 'brake' as const, off_s: late_s, off_m: late_s * 40 }],
    lap_s: null,
  })

  it('gives all that it takes, the student’s own settings and the cones of the day, and nobody’s name', async () => {
    const token = await giveLink('yuna-tressider')
    const { body } = await server.agent.get(`/api/portal/${token}/recall`)
    const task = body as RecallTask
    const { plan } = (await server.agent.get(`/api/days/${today}`)).body as Day
    expect(task.settings).toEqual(settingsOfStudent('yuna-tressider', plan))
    expect(task.circuit.id).toBe(plan.settings.circuitId)
    expect(task.vehicle.id).toBe(task.settings.vehicleId)
    expect(new Set(task.cones.map((c) => c.cornerId)).size).toBeGreaterThan(8)
    expect(task.rounds).toEqual([])
    expect(JSON.stringify(body)).not.toMatch(/Rashid|Tressider/)
  })

  it('keeps rounds once each, by the server’s time, tells them before the run and in the record', async () => {
    const token = await giveLink('yuna-tressider')
    const [first, second] = [round(0.6), round(0.1)]
    const send = (events: object[], ahead_ms = 0) =>
      server.agent.post(`/api/portal/${token}/recall`).send({ events, deviceNow: new Date(Date.now() + ahead_ms).toISOString() })
    expect((await send([first])).body).toMatchObject({ stored: [first.id], refused: [] })
    expect((await send([first, second])).body.stored).toEqual([first.id, second.id])
    const other = await send([{ ...second, mode: 'none' }])
    expect(other.body.refused).toMatchObject([{ id: second.id, title: expect.stringContaining('other content') }])
    const { rounds } = (await server.agent.get(`/api/portal/${token}/recall`)).body as RecallTask
    expect(rounds.map((r) => r.marks[0].off_s)).toEqual([0.6, 0.1])
    const record = (await server.agent.get('/api/students/yuna-tressider/record')).body as StudentRecord
    expect(record.recall.map((r) => [r.mode, r.circuitId])).toEqual([
      ['fading', 'ostrel-mere'],
      ['fading', 'ostrel-mere'],
    ])
    // A phone whose clock is two hours ahead: the moment is told by the server's.
    const ahead = round(0.2)
    await send([{ ...ahead, at: new Date(Date.now() + 7_200_000).toISOString() }], 7_200_000)
    const last = ((await server.agent.get(`/api/portal/${token}/recall`)).body as RecallTask).rounds.at(-1)
    expect(Math.abs(Date.parse(last?.at ?? '') - Date.now())).toBeLessThan(60_000)
  })

  it('is refused from elsewhere, empty, or absurd', async () => {
    const token = await giveLink('yuna-tressider')
    const event = { ...round(0), dayId: today, studentId: 'yuna-tressider', kind: 'recalled' }
    expect((await server.agent.post('/api/day-events').send({ events: [event] })).status).toBe(400)
    const post = (path: string, events: object[]) => server.agent.post(path).send({ events })
    expect((await post(`/api/portal/${token}/recall`, [])).status).toBe(400)
    expect((await post(`/api/portal/${token}/recall`, [{ ...round(0), marks: [] }])).status).toBe(400)
    expect((await post(`/api/portal/${token}/recall`, [round(1e9)])).status).toBe(400)
    expect((await post(`/api/portal/${'x'.repeat(32)}/recall`, [round(0)])).status).toBe(404)
  })
})
