import { gzipSync } from 'node:zlib'
import type { Debrief, DebriefLine, ImportProgress, LogPreview, Run, Sheet, StoredSchoolSettings } from '@ochote/contract'
import { joinLogs, type OwnThreshold, ownThresholds, readLog, thresholdRange, writeLogCsv } from '@ochote/core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { directJobs } from '../jobs/jobs.ts'
import { startDemoServer, type TestServer } from '../test-server.test-data.ts'
import { importProgressBoard } from './import-progress.ts'
import { storedPlanOf } from './service.ts'

let server: TestServer
let run: Run
let csv = ''
const jobs = directJobs()
beforeAll(async () => {
  server = await startDemoServer()
  const runs = (await server.agent.get('/api/runs?studentId=odalys-merrow')).body as Run[]
  run = runs.find((one) => one.hasLog) as Run
  const stored = await storedPlanOf(run, server.stores.circuits, server.stores.vehicles)
  csv = (await jobs.simulate({ ...stored, seed: 5, habitSeed: 9, skill: 0, laps: 3, wild: true })).csv
}, 120_000)
afterAll(() => server.close())

const previewLog = async (body: string | Buffer): Promise<LogPreview> =>
  (await server.agent.post('/api/logs/look').set('Content-Type', 'application/octet-stream').send(body)).body as LogPreview
const give = (body: string | Buffer, query: Record<string, string> = {}) =>
  server.agent.put(`/api/runs/${run.id}/log`).query(query).set('Content-Type', 'application/octet-stream').send(body)
const debrief = async (): Promise<Debrief> => (await server.agent.get(`/api/runs/${run.id}/debrief`)).body as Debrief
/** The log with headers that say nothing. */
const nameless = (): string => csv.replace(/^[^\n]*/, 'a;b;c;d;e;f;g;h;i;j'.replaceAll(';', ','))
const mapping = {
  time: { column: 'a', unit: 's' },
  lat: { column: 'b', unit: 'deg' },
  lon: { column: 'c', unit: 'deg' },
  speed: { column: 'e', unit: 'm/s' },
}

describe('a log given to a run', () => {
  it('is looked at first, with a guess of its columns, and nothing is stored', async () => {
    const before = await debrief()
    const found = await previewLog(csv)
    expect(found.form).toBe('table')
    expect(found.rows).toBe(csv.trimEnd().split('\n').length - 1)
    expect(found.guess.map((g) => g.channel)).toEqual(['time', 'lat', 'lon', 'ele', 'speed', 'throttle', 'brake', 'steer', 'gear', 'rpm'])
    expect(await debrief()).toEqual(before)
  })

  it('is read, packed too, and told lap by lap with passes, certainty and the theoretical best lap', async () => {
    const answer = await give(gzipSync(csv), { name: 'evening.csv.gz' })
    expect(answer.status).toBe(200)
    const { source, laps, findings, review } = answer.body as Debrief
    expect(source).toBe('evening.csv.gz')
    expect(laps).toHaveLength(3)
    expect(findings.length).toBeGreaterThan(2)
    for (const f of findings) expect(f.certainty).toBeGreaterThan(0.5)
    expect(review.passes).toHaveLength(3 * 11)
    expect(review.theoreticalBest?.ideal_s).toBeLessThanOrEqual(review.theoreticalBest?.best_s ?? 0)
    expect(review.quality).toMatchObject({ pedals: true, steering: true })
    expect(await debrief()).toEqual(answer.body)
  })

  it('is mapped by a person where its names say nothing, and the mapping is remembered for files like it', async () => {
    const kept = await debrief()
    const refused = await give(nameless())
    expect(refused.status).toBe(422)
    expect(refused.body.code).toBe('columns-missing')
    expect(await debrief()).toEqual(kept)
    expect((await previewLog(nameless())).remembered).toBeNull()
    const answer = await give(nameless(), { mapping: JSON.stringify(mapping) })
    expect(answer.status).toBe(200)
    expect((answer.body as Debrief).review.quality?.pedals).toBe(false)
    expect((answer.body as Debrief).review.undecidableCodes).toContain('wrong-gear')
    expect((await previewLog(nameless())).remembered).toEqual(mapping)
    expect((await give(csv, { mapping: 'no mapping' })).status).toBe(400)
  })

  it('tells how far it is while it is read, and nothing afterwards', async () => {
    const imports = importProgressBoard()
    const stored = await storedPlanOf(run, server.stores.circuits, server.stores.vehicles)
    const seen: (ImportProgress | null)[] = []
    await imports.during('mine', (onProgress) =>
      jobs.analyse(
        { ...stored, logs: [{ source: { text: csv } }] },
        {
          person: 'a student',
          onProgress: (reading) => {
            onProgress?.(reading)
            seen.push(imports.of('mine'))
          },
        },
      ),
    )
    expect([...new Set(seen.map((reading) => reading?.step))]).toEqual(['reading', 'matching', 'judging'])
    const judged = seen.flatMap((reading) => (reading?.step === 'judging' ? [reading.share] : []))
    expect(judged).toEqual([0, expect.closeTo(1 / 3), expect.closeTo(2 / 3)])
    expect(imports.of('mine')).toBeNull()
    await expect(imports.during('mine', () => Promise.reject(new Error('broken')))).rejects.toThrow('broken')
    expect(imports.of('mine')).toBeNull()
    const id = '018f2f6e-7c1a-7b3e-8c2d-1a2b3c4d5e6f'
    expect((await server.agent.get(`/api/readings/${id}`)).body).toBeNull()
    expect((await give(csv, { reading: id })).status).toBe(200)
  })

  it('is joined to the log that is there', async () => {
    const rows = csv.trimEnd().split('\n')
    const [first, second] = [rows.slice(0, 2000), [rows[0], ...rows.slice(2000)]].map((part) => `${part.join('\n')}\n`)
    const one = await give(first)
    expect(one.status).toBe(200)
    const both = await give(second, { add: 'true' })
    expect((both.body as Debrief).laps).toHaveLength(3)
    expect((both.body as Debrief).rows).toBe(joinLogs([readLog(first), readLog(second)]).time_s.length)
    expect(writeLogCsv(readLog(csv)).length).toBeGreaterThan(1000)
  })

  it('is judged by what the school calls a mistake, and keeps by what it was judged', async () => {
    const schoolSettings = async (thresholds: Record<string, number>) => {
      const { version, schoolSettings: now } = (await server.agent.get('/api/school-settings')).body as StoredSchoolSettings
      return server.agent.put('/api/school-settings').send({ version, schoolSettings: { ...now, thresholds } })
    }
    const usual = (await give(csv)).body as Debrief
    expect(usual.review.thresholds).toEqual({})
    expect((await schoolSettings({ turnIn_m: 1000 })).status).toBe(400)
    expect((await schoolSettings({ wheels: 5 })).status).toBe(400)
    const below = ['softPeak', 'dump_s', 'jab_s']
    const mild = Object.fromEntries(
      (Object.keys(ownThresholds) as OwnThreshold[]).map((name) => [name, thresholdRange(name)[below.includes(name) ? 0 : 1]]),
    )
    expect((await schoolSettings(mild)).status).toBe(200)
    expect(await debrief()).toEqual(usual)
    const again = (await server.agent.put(`/api/runs/${run.id}/settings`).send(run.settings)).body as Debrief
    expect(again.review.thresholds).toEqual(mild)
    expect(again.findings.length).toBeLessThan(usual.findings.length)
    expect(again.laps).toEqual(usual.laps)
    await schoolSettings({})
  })

  it.each([
    ['a packed archive', 'PK\u0003\u0004 and so on'],
    ['a damaged packed file', Buffer.from([0x1f, 0x8b, 1, 2, 3])],
    ['prose', 'A letter.\nNo numbers in it.\n'],
  ])('that is %s is refused in words, and the old one stays', async (_, body) => {
    const kept = await debrief()
    const refused = await give(body)
    expect(refused.status).toBe(422)
    expect(refused.body.remedy.length).toBeGreaterThan(10)
    expect(await debrief()).toEqual(kept)
  })
})

describe('a student’s sheet', () => {
  it('holds what held, at most three things with drawings from the own lap, and a trend', async () => {
    await give(csv)
    const sheet = (await server.agent.get(`/api/runs/${run.id}/sheet`)).body as Sheet
    expect(sheet.studentName).toBe('Odalys Merrow')
    expect(sheet.items.length).toBeGreaterThan(0)
    expect(sheet.items.length).toBeLessThanOrEqual(3)
    const [first] = sheet.items
    expect(first.say.length).toBeGreaterThan(10)
    expect(first.drawing?.driven.length).toBe(first.drawing?.planned.length)
    expect(sheet.trend.at(-1)?.best_s).toBe(sheet.best_s)
  })

  it('is told as given in the list of debriefs once it was printed, beside laps and the dearest mistake', async () => {
    const line = async (): Promise<DebriefLine> =>
      ((await server.agent.get('/api/debriefs')).body as DebriefLine[]).find((l) => l.runId === run.id) as DebriefLine
    const { laps, findings } = await debrief()
    const cost = new Map<string, number>()
    for (const f of findings.filter((one) => one.root))
      cost.set(`${f.cornerId} ${f.code}`, (cost.get(`${f.cornerId} ${f.code}`) ?? 0) + f.lossTime_s)
    const [dearest] = [...cost].sort((a, b) => b[1] - a[1])
    const before = await line()
    expect(before).toMatchObject({ laps: laps.length, best_s: Math.min(...laps.map((l) => l.time_s)), sheetGivenAt: null })
    expect(`${before.costliest?.cornerId} ${before.costliest?.code}`).toBe(dearest[0])
    const { sheetGivenAt } = (await server.agent.post(`/api/runs/${run.id}/sheet-printed`)).body as DebriefLine
    await server.agent.post(`/api/runs/${run.id}/sheet-link`)
    expect(sheetGivenAt).not.toBeNull()
    expect((await line()).sheetGivenAt).toBe(sheetGivenAt)
    await server.agent.delete(`/api/runs/${run.id}/sheet-link`)
    expect((await line()).sheetGivenAt).toBe(sheetGivenAt)
  })

  it('goes out by one link, and comes back', async () => {
    const path = `/api/runs/${run.id}/sheet-link`
    expect((await server.agent.get(path)).body).toEqual({ token: null })
    const { token } = (await server.agent.post(path)).body as { token: string }
    expect(token.length).toBeGreaterThanOrEqual(32)
    expect((await server.agent.post(path)).body).toEqual({ token })
    const { default: request } = await import('supertest')
    const { createApp } = await import('../app.ts')
    const { pino } = await import('pino')
    const stranger = request.agent(createApp(server.opened, server.config, jobs, pino({ level: 'silent' })).app)
    const read = await stranger.get(`/api/sheets/${token}`)
    expect(read.status).toBe(200)
    expect(JSON.stringify(read.body)).not.toContain('Rashid')
    expect((await stranger.get(`/api/runs/${run.id}/sheet`)).status).toBe(401)
    expect((await server.agent.delete(path)).body).toEqual({ token: null })
    expect((await stranger.get(`/api/sheets/${token}`)).body).toMatchObject({ code: 'link-withdrawn' })
  })
})
