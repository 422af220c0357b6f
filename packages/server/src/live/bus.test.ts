import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { LivePosition, Receiver, Run } from '@ochote/contract'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { testPostgres } from '../db/test-postgres.test-data.ts'
import { startDemoServer, startRunAt, startTestServer, type TestServer } from '../test-server.test-data.ts'
import { inMessages } from './bus.ts'

const today = 'day-2027-05-15'
/** Sixteen ports from here on, other ones in each process that tests. */
const FIRST_PORT = 10_000 + 16 * ((process.pid + 650) % 1_300)
const LONG = { timeout: 60_000 }

describe('places of cars in messages', () => {
  const place = (n: number) => ({ dayId: 'day', position: { carNumber: String(n), station_m: n } as LivePosition })

  it('are in as many as they need, each once and in order', () => {
    const places = Array.from({ length: 100 }, (_, n) => place(n))
    const messages = inMessages(places, 500)
    expect(messages.flat()).toEqual(places)
    expect(messages.length).toBeGreaterThan(5)
    for (const message of messages) expect(Buffer.byteLength(JSON.stringify(message))).toBeLessThanOrEqual(502)
    expect(inMessages([])).toEqual([])
  })
})

describe.runIf(testPostgres)('two processes of one school', () => {
  let [first, second]: TestServer[] = []
  let listening: Server[] = []
  beforeAll(async () => {
    first = await startDemoServer({ receiverPort: FIRST_PORT })
    await vi.waitFor(() => expect(first.application.live.isOwner()).toBe(true))
    second = await startTestServer({ demo: true, receiverPort: FIRST_PORT }, first.config.dataDir)
    await second.agent.post('/api/session/demo')
  })
  afterAll(async () => {
    for (const one of listening) one.closeAllConnections()
    for (const one of listening) one.close()
    listening = []
    await second.close()
  })

  /** What a screen at a server hears, as text that grows. */
  const screenAt = async (server: TestServer, after?: string): Promise<{ text: () => string; close: () => void }> => {
    const http = createServer(server.application.app)
    listening.push(http)
    await new Promise<void>((resolve) => http.listen(0, '127.0.0.1', () => resolve()))
    const address = `http://127.0.0.1:${(http.address() as AddressInfo).port}`
    const { headers } = await fetch(`${address}/api/session/demo`, { method: 'POST', headers: { 'Sec-Fetch-Site': 'same-origin' } })
    const stop = new AbortController()
    const response = await fetch(`${address}/api/days/${today}/live`, {
      headers: { Cookie: headers.getSetCookie()[0].split(';')[0], ...(after ? { 'Last-Event-ID': after } : {}) },
      signal: stop.signal,
    })
    let text = ''
    const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader()
    void (async () => {
      for (let part = await reader?.read(); part && !part.done; part = await reader?.read()) text += part.value
    })().catch(() => {})
    return { text: () => text, close: () => stop.abort() }
  }
  const message = (text: string) => ({ id: uuid(), dayId: today, at: new Date().toISOString(), kind: 'radio' as const, to: [], text })
  const say = (server: TestServer, text: string) => server.agent.post('/api/day-events').send({ events: [message(text)] })
  const startRun = (server: TestServer, studentId: string, carId: string): Promise<Run> =>
    startRunAt(server, { dayId: today, studentId, carId })

  it('have one owner of the receivers, and the same answers', async () => {
    expect([first, second].map((one) => one.application.live.isOwner())).toEqual([true, false])
    const students = (await first.agent.get('/api/students')).body
    expect((await second.agent.get('/api/students')).body).toEqual(students)
  })

  it('tell each other’s screens what happens, in one order, and a screen goes on at the other one', async () => {
    const here = await screenAt(first)
    const there = await screenAt(second)
    await vi.waitFor(() => expect([here.text(), there.text()].every((text) => text.includes('event: frame'))).toBe(true))
    for (const n of [1, 2, 3, 4]) expect((await say(n % 2 ? first : second, `word ${n}`)).status).toBe(200)
    for (const screen of [here, there]) await vi.waitFor(() => expect(screen.text()).toContain('word 4'))
    const heard = (text: string): [string, string][] =>
      [...text.matchAll(/id: (\d+)\nevent: happened\ndata: .*(word \d)/g)].map(([, id, word]) => [id, word])
    expect(heard(here.text())).toEqual(heard(there.text()))
    expect(heard(here.text()).map(([, word]) => word)).toEqual(['word 1', 'word 2', 'word 3', 'word 4'])
    const [[id]] = heard(here.text())
    const onAgain = await screenAt(second, id)
    await vi.waitFor(() => expect(onAgain.text()).toContain('word 4'))
    expect(heard(onAgain.text()).map(([, word]) => word)).toEqual(['word 2', 'word 3', 'word 4'])
    expect(onAgain.text()).not.toContain('event: again')
    const origins = (await first.opened.db('happenings').whereLike('doc', '%"word %').distinct('origin')).map((row) => row.origin as string)
    expect(origins).toHaveLength(2)
    expect(origins).not.toContain('undefined')
    for (const screen of [here, there, onAgain]) screen.close()
  })

  it('tell each other of a day and a run as they are stored, whoever dies a moment later', async () => {
    const screen = await screenAt(second)
    await vi.waitFor(() => expect(screen.text()).toContain('event: frame'))
    const day = await first.stores.days.byId(today)
    // By the store alone, as if nothing ran any more after it.
    expect(await first.stores.days.change(today, day?.version ?? 0, day?.plan as NonNullable<typeof day>['plan'])).toBe(true)
    await vi.waitFor(() => expect(screen.text()).toContain(`"kind":"day","dayId":"${today}"`))
    await first.stores.runs.end('no run of this day', new Date().toISOString())
    await vi.waitFor(() => expect(screen.text()).toContain('"kind":"runs"'))
    screen.close()
  })

  it('show a car on screens of the one that does not have its receiver, and read its log at the one that has', async () => {
    const screen = await screenAt(second)
    const run = await startRun(second, 'caspian-adeyoke', 'school-5')
    const wish = { seed: 3, laps: 2, sighting: 0, coolDown: 0, speedFactor: 60, habits: 'none' }
    expect((await second.agent.post(`/api/runs/${run.id}/simulated-logger`).send(wish)).status).toBe(200)
    const driven = () =>
      [...screen.text().matchAll(/event: frame\ndata: (.*)/g)].flatMap(([, data]) => JSON.parse(data).cars as LivePosition[])
    await vi.waitFor(() => expect(driven().some((car) => car.carNumber === '5' && car.runId === run.id && car.lap >= 1)).toBe(true), LONG)
    // Who has no receivers tells those of the one that has them.
    await vi.waitFor(async () => {
      const receivers = (await second.agent.get('/api/receivers')).body as Receiver[]
      expect(receivers.find((r) => r.carNumber === '5')?.fixes).toBeGreaterThan(0)
    }, LONG)
    await vi.waitFor(() => expect(screen.text()).toContain(`"runId":"${run.id}","kind":"lap","lap":2`), LONG)
    screen.close()
    expect((await second.agent.post(`/api/runs/${run.id}/end`)).status).toBe(200)
    await vi.waitFor(async () => expect((await second.stores.runs.byId(run.id))?.hasLog).toBe(true), LONG)
    expect(await first.stores.runs.withLogDue()).toEqual([])
  })

  it('never lose or double what both write at once: events, documents, links, the trail', async () => {
    const events = Array.from({ length: 20 }, (_, n) => message(`at once ${n}`))
    const sent = await Promise.all(
      events.flatMap((e) => [first, second].map((one) => one.agent.post('/api/day-events').send({ events: [e] }))),
    )
    expect(sent.map((s) => (s.body as { stored: string[] }).stored.length)).toEqual(sent.map(() => 1))
    const kept = await first.stores.dayEvents.of(today)
    for (const e of events) expect(kept.filter((k) => k.id === e.id)).toHaveLength(1)

    const student = (await first.agent.get('/api/students')).body[0]
    const written = await Promise.all(
      [first, second].map((one, n) => one.agent.put(`/api/students/${student.id}`).send({ ...student, name: `${student.name} ${n}` })),
    )
    expect(written.map((w) => w.status).sort()).toEqual([200, 409])

    const links = await Promise.all([first, second].map((one) => one.agent.post(`/api/days/${today}/links/${student.id}`)))
    expect(new Set(links.map((l) => l.body.token)).size).toBe(1)
    expect((await first.agent.get('/api/trail')).body.brokenAt).toBeNull()
  })

  it('pass on to the other one when the owner goes', async () => {
    await first.close()
    await vi.waitFor(() => expect(second.application.live.isOwner()).toBe(true), LONG)
    expect((await say(second, 'alone')).status).toBe(200)
  })
})
