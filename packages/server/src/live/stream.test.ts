import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { LivePosition } from '@ochote/contract'
import express from 'express'
import { afterEach, describe, expect, it } from 'vitest'
import { type LiveStream, liveStream } from './stream.ts'

let server: Server | null = null
let stream: LiveStream
afterEach(() => {
  stream.close()
  server?.closeAllConnections()
  server?.close()
  server = null
})

const position = (carNumber: string, station_m: number): LivePosition => ({
  carNumber,
  runId: null,
  time_s: 0,
  station_m,
  offset_m: 0,
  speed_mps: 10,
  lap: 0,
  lapTime_s: 100,
  factor: 1,
  receivedAt: 0,
  fault: null,
  inPits: false,
})

type Message = { event: string; id: string | null; data: { cars?: LivePosition[]; kind?: string; lap?: number } }

/** Opens the stream and reads until `enough` says so, doing `then` once the first message is there. */
const read = async (
  after: number | null,
  enough: (messages: Message[]) => boolean,
  then: () => void = () => {},
  day = 'day',
): Promise<Message[]> => {
  if (!server) {
    const app = express()
    app.get('/live', (req, res) => stream.follow(res, String(req.query.day ?? 'day'), req.query.after ? Number(req.query.after) : null))
    server = createServer(app)
    await new Promise<void>((resolve) => server?.listen(0, '127.0.0.1', resolve))
  }
  const port = (server.address() as AddressInfo).port
  const response = await fetch(`http://127.0.0.1:${port}/live?day=${day}${after === null ? '' : `&after=${after}`}`)
  expect(response.headers.get('content-type')).toContain('text/event-stream')
  const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader()
  let text = ''
  let messages: Message[] = []
  let begun = false
  while (reader && !enough(messages)) {
    const { value, done } = await reader.read()
    if (done) break
    text += value
    messages = text
      .split('\n\n')
      .slice(0, -1)
      .map((block) => ({
        event: /^event: (.*)$/m.exec(block)?.[1] ?? '',
        id: /^id: (.*)$/m.exec(block)?.[1] ?? null,
        data: JSON.parse(/^data: (.*)$/m.exec(block)?.[1] ?? 'null'),
      }))
    if (!begun && messages.length > 0) {
      begun = true
      then()
    }
  }
  await reader?.cancel()
  return messages
}
const lap = (n: number) => ({ kind: 'lap' as const, carNumber: '1', runId: null, lap: n, lapTime_s: null })
const places = (messages: Message[]): number[] => messages.flatMap((m) => (m.data.cars ?? []).map((car) => car.station_m))
const laps = (messages: Message[]): number[] => messages.flatMap((m) => (m.data.kind === 'lap' ? [m.data.lap ?? -1] : []))

describe('the stream of a day', () => {
  it('begins with every car’s newest place and sends only the newest after', async () => {
    stream = liveStream()
    stream.runs(new Set(['day']))
    stream.position(position('1', 10), 'day')
    stream.position(position('2', 20), 'day')
    const messages = await read(
      null,
      (m) => places(m).includes(50),
      () => {
        for (const s of [30, 40, 50]) stream.position(position('1', s), 'day')
      },
    )
    expect(messages[0].data.cars?.map((c) => c.carNumber)).toEqual(['1', '2'])
    // What came just before the screen did may come to it twice.
    expect(places(messages).filter((s) => s > 20)).toEqual([50])
  })

  it('shows the cars of the running day to nobody who looks at another one', async () => {
    stream = liveStream()
    stream.runs(new Set(['day']))
    stream.position(position('1', 10), 'day')
    const elsewhere = await read(
      null,
      (m) => laps(m).length === 1,
      () => {
        stream.position(position('1', 20), 'day')
        stream.happened(lap(1))
      },
      'another',
    )
    expect(elsewhere.flatMap((m) => m.data.cars ?? [])).toEqual([])
    stream.runs(new Set(['tomorrow']))
    expect((await read(null, (m) => m.length > 0, undefined, 'tomorrow'))[0].data.cars).toEqual([])
  })

  it('gives each of two days that run its own cars and what happened to them', async () => {
    stream = liveStream()
    stream.runs(new Set(['here', 'there']))
    stream.position(position('1', 10), 'here')
    stream.position(position('2', 20), 'there')
    const seen = await read(
      null,
      (m) => places(m).includes(22) && laps(m).length === 2,
      () => {
        stream.position(position('1', 11), 'here')
        stream.position(position('2', 22), 'there')
        stream.happened(lap(1), 'here')
        stream.happened(lap(2), 'there')
        stream.happened(lap(3))
      },
      'there',
    )
    expect(new Set(places(seen))).toEqual(new Set([20, 22]))
    expect(laps(seen)).toEqual([2, 3])
  })

  it('numbers what happens, and gives a screen that slept exactly what it missed', async () => {
    stream = liveStream()
    const first = await read(
      null,
      (m) => laps(m).length === 2,
      () => {
        stream.happened(lap(1))
        stream.happened(lap(2))
      },
    )
    const seen = Number(first.find((m) => m.data.lap === 1)?.id)
    for (const n of [3, 4, 5]) stream.happened(lap(n))
    const again = await read(seen, (m) => laps(m).length === 4)
    expect(laps(again)).toEqual([2, 3, 4, 5])
    expect(again.some((m) => m.event === 'again')).toBe(false)
    expect(first[0].id).not.toBeNull()
  })

  it('tells a screen from before a restart to read anew', async () => {
    let clock = 1_000_000
    stream = liveStream(() => clock)
    clock += 10
    const messages = await read(999_000, (m) => m.some((one) => one.event === 'frame'))
    expect(messages[0].event).toBe('again')
  })

  it('forgets the oldest, and says so to whoever needs them', async () => {
    let clock = 1_000_000
    stream = liveStream(() => clock++)
    for (let n = 1; n <= 5200; n++) stream.happened(lap(n))
    const old = await read(1_000_050, (m) => laps(m).length >= 5000)
    expect(old[0].event).toBe('again')
    expect(laps(old)[0]).toBe(201)
  })
})
