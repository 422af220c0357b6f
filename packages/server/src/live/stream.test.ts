import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { type LiveFix, liveFixSchema } from '@ochote/contract'
import express from 'express'
import { afterEach, describe, expect, it } from 'vitest'
import { streamFixes } from './stream.ts'

let server: Server
afterEach(() => {
  server.closeAllConnections()
  server.close()
})

const fix = (time_s: number, finished = false): LiveFix => ({
  time_s,
  station_m: 10 * time_s,
  offset_m: 0,
  speed_mps: 10,
  lap: 1,
  finished,
})

/** Opens a stream over positions that a test makes, and reads events until `count` have come or it ends. */
const read = async (
  latest: () => Promise<LiveFix | null>,
  count: number,
): Promise<{ type: string | null; ids: string[]; fixes: LiveFix[] }> => {
  const app = express()
  app.get('/fixes', (_req, res) => streamFixes(res, latest))
  server = createServer(app)
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const response = await fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}/fixes`)
  const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader()
  let text = ''
  while (reader && text.split('\n\n').length <= count) {
    const { value, done } = await reader.read()
    if (done) break
    text += value
  }
  await reader?.cancel()
  const events = text.split('\n\n').filter(Boolean)
  return {
    type: response.headers.get('content-type'),
    ids: events.map((e) => /^id: (.*)$/m.exec(e)?.[1] ?? ''),
    fixes: events.map((e) => liveFixSchema.parse(JSON.parse(/^data: (.*)$/m.exec(e)?.[1] ?? 'null'))),
  }
}

describe('live positions', () => {
  it('come as events with their moment as id, the newest at once', async () => {
    let time = 5
    const { type, ids, fixes } = await read(async () => fix(time++), 3)
    expect(type).toContain('text/event-stream')
    expect(ids.slice(0, 3)).toEqual(['5', '6', '7'])
    expect(fixes[0]).toEqual(fix(5))
  })

  it('do not repeat a position that has not changed', async () => {
    const times = [1, 1, 1, 2, 2, 3]
    let k = 0
    const { ids } = await read(async () => fix(times[Math.min(k++, times.length - 1)]), 3)
    expect(ids).toEqual(['1', '2', '3'])
  })

  it('end when they cannot be had', async () => {
    let k = 0
    const latest = async (): Promise<LiveFix | null> => {
      if (k++ > 1) throw new Error('gone')
      return fix(k)
    }
    const { ids } = await read(latest, 99)
    expect(ids).toEqual(['1', '2'])
  })
})
