import type { Debrief, Group, HeldAgainstWish, Portal, PortalRun, ReferenceLap, Run, Sheet, StudentRecord } from '@ochote/contract'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { testPostgres } from '../db/test-postgres.test-data.ts'
import { brokenReferences, startDemoServer, type TestServer } from '../test-server.test-data.ts'

let server: TestServer
const id = 'odalys-merrow'
const other = 'emil-quillan'
beforeAll(async () => {
  server = await startDemoServer()
}, 120_000)
afterAll(() => server.close())

const record = async (student = id): Promise<StudentRecord> =>
  (await server.agent.get(`/api/students/${student}/record`)).body as StudentRecord
const tell = (decisions: Record<string, unknown>, student = id) =>
  server.agent.post(`/api/students/${student}/events`).send({ id: uuid(), studentId: student, at: new Date().toISOString(), ...decisions })
const runsOf = async (student: string): Promise<Run[]> => (await server.agent.get(`/api/runs?studentId=${student}`)).body as Run[]
const log = (run: Run, event: Record<string, unknown>) =>
  server.agent.post('/api/events').send({ events: [{ id: uuid(), runId: run.id, at: new Date().toISOString(), ...event }] })

describe('the group of a day', () => {
  it('has where each turned in, as the record of each has it, and a lap to show only of those who agreed', async () => {
    const [newest] = await runsOf(other)
    const group = async (): Promise<Group> => (await server.agent.get(`/api/days/${newest.dayId}/group`)).body as Group
    const before = await group()
    const own = before.passes.filter((p) => p.studentId === other)
    const { passes, runs } = await record(other)
    const ofDay = passes.filter((p) => p.runId === newest.id)
    expect(own.map((p) => [p.cornerId, p.turnIn_m])).toEqual(ofDay.map((p) => [p.cornerId, p.off?.turnIn_m ?? null]))
    expect(own.some((p) => p.turnIn_m !== null && p.turnIn_m !== 0)).toBe(true)
    expect(before.runs.find((r) => r.runId === newest.id)).toMatchObject({ studentId: other, sharedLap: null })
    await tell({ kind: 'laps-shared', agreed: true }, other)
    const shared = (await group()).runs.find((r) => r.runId === newest.id)
    const debrief = (await server.agent.get(`/api/runs/${newest.id}/debrief`)).body as Debrief
    const best = debrief.laps.find((l) => l.lap === shared?.sharedLap)
    expect(best?.time_s).toBe(Math.min(...debrief.laps.map((l) => l.time_s)))
    expect(best?.time_s).toBe(runs.find((r) => r.id === newest.id)?.bestLap_s)
    await tell({ kind: 'laps-shared', agreed: false }, other)
    expect((await group()).runs.every((r) => r.studentId !== other || r.sharedLap === null)).toBe(true)
  })

  it('counts hands by corner, the newest count standing, as events of the day', async () => {
    const [newest] = await runsOf(id)
    const hands = (count: number) => ({
      id: uuid(),
      dayId: newest.dayId,
      at: new Date().toISOString(),
      kind: 'hands',
      cornerId: 'T3',
      hands: count,
    })
    const { body } = await server.agent.post('/api/day-events').send({ events: [hands(1), hands(4)] })
    expect(body.refused).toEqual([])
    const events = (await server.agent.get(`/api/days/${newest.dayId}/events`)).body as { kind: string; hands?: number }[]
    expect(events.filter((e) => e.kind === 'hands').map((e) => e.hands)).toEqual([1, 4])
    expect((await server.agent.post('/api/day-events').send({ events: [hands(-1)] })).status).toBe(400)
  })
})

describe('a student’s record', () => {
  it('knows every pass of every run, with how far its marks lay from the plan’s', async () => {
    const { passes, runs } = await record()
    expect(runs.map((r) => r.laps)).toEqual([4, 4, 4, 4, 4])
    expect(passes.filter((p) => p.watched !== 'seat')).toHaveLength(5 * 4 * 11)
    const offs = passes.flatMap((p) => (p.off?.turnIn_m == null ? [] : [Math.abs(p.off.turnIn_m)])).sort((a, b) => a - b)
    expect(offs.length).toBeGreaterThan(150)
    expect(offs[Math.floor(offs.length / 2)]).toBeLessThan(6)
  })

  it('is one event where seat and log agree, and every one from the seat is a correction that was said', async () => {
    const { seen, said } = await record()
    const keys = seen.map((s) => `${s.run} ${s.lap} ${s.cornerId} ${s.code}`)
    expect(new Set(keys).size).toBe(keys.length)
    expect(said.filter((s) => s.lap !== null).length).toBe(seen.filter((s) => s.by !== 'log').length)
  })

  it('has attempts on the pad with what was said of them, without those that were taken back, and its sheet has those of the day', async () => {
    const days = (await server.agent.get('/api/days')).body as { id: string; date: string; template: boolean }[]
    const [run] = await runsOf(id)
    const day = days.find((d) => d.id === run.dayId)
    const common = () => ({ id: uuid(), dayId: day?.id, at: new Date().toISOString() })
    const attempt = (result: string) => ({ ...common(), kind: 'drill', studentId: id, drill: 'slalom', surface: 'dry', result })
    const [hit, missed, slip] = [attempt('clean'), attempt('cone'), attempt('off-line')]
    const said = { ...common(), kind: 'drill-said', studentId: id, drillId: missed.id, sentence: 'Look one cone further' }
    const undo = { ...common(), kind: 'undo', undoes: slip.id }
    const { body } = await server.agent.post('/api/day-events').send({ events: [hit, missed, slip, said, undo] })
    expect(body.stored).toHaveLength(5)
    const date = day?.date
    expect((await record()).pad).toEqual([
      { date, drill: 'slalom', result: 'clean', said: null },
      { date, drill: 'slalom', result: 'cone', said: 'Look one cone further' },
    ])
    expect((await record(other)).pad).toEqual([])
    const sheet = (await server.agent.get(`/api/runs/${run.id}/sheet`)).body as Sheet
    expect(sheet.pad).toEqual([{ drill: 'slalom', attempts: 2, onTarget: 1, said: 'Look one cone further' }])
  })

  it('keeps a correction in the words of the debrief, and leaves out laps that an instructor drove', async () => {
    const [newest] = await runsOf(id)
    await log(newest, { kind: 'said', cornerId: 'T1', code: 'brake-late', words: 'Breathe, then brake.' })
    const before = await record()
    expect(before.said.at(-1)).toMatchObject({ run: 5, lap: null, words: 'Breathe, then brake.' })
    await log(newest, { kind: 'lap-driver', lap: 2, driver: 'instructor' })
    const after = await record()
    expect(before.passes.length - after.passes.length).toBe(11)
    expect(after.passes.some((p) => p.run === 5 && p.lap === 2)).toBe(false)
    expect(after.seen.some((s) => s.run === 5 && s.lap === 2)).toBe(false)
  })

  it('holds what people decided, in order and by whom; a level that was set is the student’s', async () => {
    await tell({ kind: 'skill-confirmed', skill: 'turn-in', shows: 'Boathouse 10 of 10' })
    await tell({ kind: 'focus-set', focus: { cornerId: 'T4', code: 'eyes-near' }, note: 'She asked for it' })
    const answer = await tell({ kind: 'level-set', level: 'steady', why: 'shown' })
    expect(answer.status).toBe(200)
    const { decisions, student } = await record()
    expect(decisions.map((t) => [t.by, t.event.kind])).toEqual([
      ['Marit Oakhanger', 'skill-confirmed'],
      ['Marit Oakhanger', 'focus-set'],
      ['Marit Oakhanger', 'level-set'],
    ])
    expect(student.level).toBe('steady')
    expect((await tell({ kind: 'skill-confirmed', skill: 'flying', shows: '' })).status).toBe(400)
    expect((await tell({ kind: 'hand-over', text: 'x' }, 'nobody')).status).toBe(404)
  })

  it('goes out whole as one file, logs too', async () => {
    const answer = await server.agent.get(`/api/students/${id}/export`)
    expect(answer.headers['content-disposition']).toContain('odalys-merrow.json')
    const whole = answer.body as { record: StudentRecord; runs: { id: string; log: string; debrief: Debrief }[] }
    expect(whole.record.student.name).toBe('Odalys Merrow')
    expect(whole.runs).toHaveLength(5)
    for (const run of whole.runs) expect(run.log.split('\n').length).toBeGreaterThan(1000)
    // Decisions, answers and acknowledgements, links without what opens them, and where days name the student.
    const { beside } = answer.body as { beside: Record<'dayEvents' | 'decisions' | 'links' | 'days', object[]> }
    expect(beside.decisions.length).toBeGreaterThan(1)
    expect(beside.days.length).toBeGreaterThan(0)
    const counted = await server.opened.db('day_events').where({ student_id: id }).count({ n: '*' })
    expect(beside.dayEvents).toHaveLength(Number(counted[0].n))
    expect(JSON.stringify(beside.links)).not.toMatch(/token|hash/)
  })
})

describe('laps to look at beside one’s own', () => {
  it('are own ones, instructors’, and of others only once they agreed', async () => {
    const [newest] = await runsOf(id)
    const read = async (): Promise<ReferenceLap[]> => (await server.agent.get(`/api/runs/${newest.id}/references`)).body as ReferenceLap[]
    const before = await read()
    expect(new Set(before.map((r) => r.kind))).toEqual(new Set(['own']))
    await tell({ kind: 'laps-shared', agreed: true }, other)
    const [shared] = await runsOf(other)
    await log(shared, { kind: 'lap-driver', lap: 1, driver: 'instructor' })
    const after = await read()
    expect(after.filter((r) => r.kind === 'other').every((r) => r.studentName === 'Emil Quillan')).toBe(true)
    expect(after.filter((r) => r.kind === 'instructor')).toMatchObject([{ runId: shared.id, lap: 1 }])
    const judged = (heldAgainst: HeldAgainstWish) =>
      server.agent.put(`/api/runs/${newest.id}/settings`).send({ ...newest.settings, heldAgainst })
    const against = await judged({ kind: 'run', runId: shared.id, lap: 1 })
    expect((against.body as Debrief).review.reference).toMatchObject({ told: { kind: 'drive', runId: shared.id, lap: 1 }, why: 'named' })
    expect(((await server.agent.get(`/api/runs/${newest.id}`)).body as Run).heldAgainst).toEqual({ kind: 'run', runId: shared.id, lap: 1 })
    expect((await judged({ kind: 'run', runId: shared.id, lap: 99 })).status).toBe(404)
    const found = ((await judged({ kind: 'auto' })).body as Debrief).review.reference
    expect(found).toMatchObject({ told: { kind: 'plan' }, why: 'plan-explains' })
    expect((await judged({ kind: 'plan' })).status).toBe(200)
    await tell({ kind: 'laps-shared', agreed: false }, other)
    expect((await read()).some((r) => r.kind === 'other')).toBe(false)
  })
})

describe('a still of a video', () => {
  const jpeg = Buffer.from([0xff, 0xd8, 0xff, 0xe0, 1, 2, 3])
  it('is kept with its run and given back; what is no picture is refused', async () => {
    const [newest] = await runsOf(id)
    const pictureId = uuid()
    const kept = await server.agent.post(`/api/runs/${newest.id}/pictures`).send({ id: pictureId, jpeg: jpeg.toString('base64') })
    expect(kept.body).toEqual({ id: pictureId })
    const back = await server.agent.get(`/api/runs/${newest.id}/pictures/${pictureId}`)
    expect(back.headers['content-type']).toBe('image/jpeg')
    expect(Buffer.compare(back.body as Buffer, jpeg)).toBe(0)
    const page = Buffer.from('<script>alert(1)</script>').toString('base64')
    expect((await server.agent.post(`/api/runs/${newest.id}/pictures`).send({ id: uuid(), jpeg: page })).status).toBe(400)
    const [elsewhere] = await runsOf(other)
    expect((await server.agent.get(`/api/runs/${elsewhere.id}/pictures/${pictureId}`)).status).toBe(404)
  })

  it('goes on the sheet with its word, the two newest of those that were kept and not taken back', async () => {
    const [newest] = await runsOf(other)
    const keep = async (text: string): Promise<string> => {
      const pictureId = uuid()
      await server.agent.post(`/api/runs/${newest.id}/pictures`).send({ id: pictureId, jpeg: jpeg.toString('base64') })
      const noteId = uuid()
      await log(newest, { id: noteId, kind: 'note', station_m: 100, to_m: null, lap: 1, text, pictureId })
      return noteId
    }
    const pictures = async () => ((await server.agent.get(`/api/runs/${newest.id}/sheet`)).body as Sheet).pictures.map((p) => p.text)
    expect(await pictures()).toEqual([])
    await keep('First')
    await keep('Second')
    const third = await keep('Third')
    expect(await pictures()).toEqual(['Second', 'Third'])
    await log(newest, { kind: 'undo', undoes: third })
    expect(await pictures()).toEqual(['First', 'Second'])
    const { pictures: kept } = (await server.agent.get(`/api/runs/${newest.id}/sheet`)).body as Sheet
    expect(Buffer.compare(Buffer.from(kept[0].jpeg, 'base64'), jpeg)).toBe(0)
  })
})

describe('a student’s link', () => {
  const today = 'day-2027-05-15'
  it('takes a log from afar, shows own drives with the words to them, and nobody else’s', async () => {
    const { token } = (await server.agent.post(`/api/days/${today}/links/${id}`)).body as { token: string }
    const [newest] = await runsOf(id)
    const csv = (await server.stores.debriefs.csv(newest.id)) ?? ''
    const sentId = uuid()
    const send = (body: string, query: Record<string, string>) =>
      server.agent.put(`/api/portal/${token}/log`).query(query).set('Content-Type', 'application/octet-stream').send(body)
    const answer = await send(csv, { id: sentId, name: 'home.csv', date: '2027-05-20' })
    expect(answer.status).toBe(200)
    const { drives } = answer.body as Portal
    expect(drives).toHaveLength(6)
    expect(drives.find((d) => d.runId === sentId)).toMatchObject({ submitted: true, laps: 4, words: 0, sheet: null })
    expect(((await send(csv, { id: sentId, name: 'home.csv', date: '2027-05-20' })).body as Portal).drives).toHaveLength(6)
    const sent = (await runsOf(id)).find((r) => r.id === sentId) as Run
    await log(sent, { kind: 'note', station_m: 150, to_m: null, lap: 1, text: 'Look at the board' })
    const read = async (): Promise<PortalRun> => (await server.agent.get(`/api/portal/${token}/drives/${sentId}`)).body as PortalRun
    const drive = await read()
    expect(drive.traces).toHaveLength(4)
    expect(drive.events).toMatchObject([{ kind: 'note', text: 'Look at the board' }])
    expect(drive.debrief.source).toBe('sent in: home.csv')
    // Laps and traces at once, findings once an instructor has looked; and taken back again.
    expect(drive).toMatchObject({ toBeLookedAt: true, debrief: { findings: [] } })
    expect(drive.debrief.review.reference?.why).toBe('plan-explains')
    const released = uuid()
    await log(sent, { kind: 'released', id: released })
    const whole = await read()
    expect(whole.toBeLookedAt).toBe(false)
    expect(whole.debrief.findings.length).toBeGreaterThan(0)
    await log(sent, { kind: 'undo', undoes: released })
    expect((await read()).toBeLookedAt).toBe(true)
    const [foreign] = await runsOf(other)
    expect((await server.agent.get(`/api/portal/${token}/drives/${foreign.id}`)).status).toBe(404)
  })

  it('leaves nothing behind of a log that cannot be read', async () => {
    const { token } = (await server.agent.post(`/api/days/${today}/links/${id}`)).body as { token: string }
    const before = await runsOf(id)
    const refused = await server.agent
      .put(`/api/portal/${token}/log`)
      .query({ id: uuid(), name: 'letter.txt', date: '2027-05-20' })
      .set('Content-Type', 'application/octet-stream')
      .send('A letter.\nNo numbers in it.\n')
    expect(refused.status).toBe(422)
    expect(await runsOf(id)).toHaveLength(before.length)
  })
})

describe('a sheet', () => {
  it('is in the student’s language and units, and its next run is the focus that a person set', async () => {
    const [newest] = (await runsOf(id)).filter((r) => !r.submitted)
    const { student } = await record()
    await server.agent
      .put(`/api/students/${id}`)
      .send({ ...student, id: undefined, units: 'imperial', profile: { ...student.profile, language: 'de' } })
    const sheet = (await server.agent.get(`/api/runs/${newest.id}/sheet`)).body as Sheet
    expect(sheet.language).toBe('de')
    expect(sheet.next).toEqual({ cornerName: 'Osier', say: 'Blick zum Ausgang, bevor du lenkst.' })
    for (const item of sheet.items) {
      expect(item.shows).not.toMatch(/\d (m|km\/h)\b|\bthe\b/)
      expect(item.say).not.toMatch(/\bthe\b/)
    }
  })
})

describe('the picture of a day', () => {
  it('tells what each run came to, and when each pass was, lap by lap', async () => {
    const [newest] = await runsOf('yuna-tressider')
    const { runs, passes } = (await server.agent.get(`/api/days/${newest.dayId}/group`)).body as Group
    const debrief = (await server.agent.get(`/api/runs/${newest.id}/debrief`)).body as Debrief
    const roots = debrief.findings.filter((f) => f.root)
    const decisions = runs.find((r) => r.runId === newest.id)
    expect(decisions).toMatchObject({ laps: 4, best_s: Math.min(...debrief.laps.map((l) => l.time_s)) })
    const max = decisions?.most ?? { cornerId: '', code: '', times: 0 }
    expect(roots.filter((f) => f.cornerId === max.cornerId && f.code === max.code)).toHaveLength(max.times)
    for (const root of roots)
      expect(roots.filter((f) => f.cornerId === root.cornerId && f.code === root.code).length).toBeLessThanOrEqual(max.times)
    const began = debrief.laps.map((l) => new Date(Date.parse(newest.startedAt) + 1000 * l.start_s).toISOString())
    const end = newest.endedAt ?? '9999'
    for (const at of began) expect(passes.filter((p) => p.at === (at < end ? at : end)).length).toBeGreaterThanOrEqual(11)
  })
})

describe('erasing a student', () => {
  it('leaves counts without a name in the picture of the group', async () => {
    const [newest] = (await runsOf(other)).filter((r) => !r.submitted)
    const read = async (): Promise<Group> => (await server.agent.get(`/api/days/${newest.dayId}/group`)).body as Group
    const before = await read()
    const own = new Set(before.seen.filter((s) => s.studentId === other).map((s) => `${s.cornerId} ${s.code}`))
    await server.agent.delete(`/api/students/${other}`)
    const after = await read()
    expect(after.drove).not.toContain(other)
    expect(after.runs).toHaveLength(before.runs.length - 1)
    expect(after.formerDrove).toBe(1)
    expect(new Set(after.former.map((f) => `${f.cornerId} ${f.code}`))).toEqual(own)
    expect(JSON.stringify(after)).not.toContain('Quillan')
    expect((await server.opened.db('student_events').where({ student_id: other }).count({ n: '*' }))[0].n).toBe(0)
    expect(await brokenReferences(server.opened)).toEqual([])
  })
})

describe('the queries behind the record', () => {
  it.skipIf(testPostgres)('use an index', async () => {
    const planOf = async (sql: string): Promise<string> =>
      ((await server.opened.db.raw(`EXPLAIN QUERY PLAN ${sql}`)) as { detail: string }[]).map((r) => r.detail).join(' ')
    for (const sql of [
      "select run_id, doc from run_events where run_id in ('a', 'b') order by run_id, seq",
      "select * from findings where run_id in ('a', 'b') order by id",
      "select doc from student_events where student_id = 'a' order by seq",
      "select * from runs where json_extract(settings, '$.circuitId') = 'a' order by started_at desc",
      "select student_id, doc from student_events where json_extract(doc, '$.kind') = 'laps-shared' order by seq",
      "select jpeg from pictures where id = 'a' and run_id = 'b'",
    ])
      expect(await planOf(sql), sql).toMatch(/USING (COVERING )?INDEX/)
  })
})
