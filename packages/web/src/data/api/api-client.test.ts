import { api } from '@ochote/contract'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { ApiProblem, addressOf, call } from './api-client.ts'

type Sent = { url: string; init: RequestInit }

/** Answers every request with one response and remembers what was sent. */
const answering = (respond: () => Response | Promise<Response>): Sent[] => {
  const sent: Sent[] = []
  vi.stubGlobal('fetch', async (url: string, init: RequestInit) => {
    sent.push({ url, init })
    return respond()
  })
  return sent
}
const json = (body: unknown, status = 200): Response => new Response(JSON.stringify(body), { status })
const problemOf = async (run: Promise<unknown>): Promise<ApiProblem['problem']> => {
  try {
    await run
  } catch (error) {
    if (error instanceof ApiProblem) return error.problem
  }
  throw new Error('The call did not fail with a problem')
}

afterEach(() => vi.unstubAllGlobals())

describe('addresses', () => {
  it('fill in parameters and leave out what is not asked', () => {
    expect(addressOf(api.trace, { runId: 'a/b', lap: 3 }, undefined)).toBe('/api/runs/a%2Fb/laps/3')
    expect(addressOf(api.runs, undefined, { dayId: 'd 1', studentId: undefined })).toBe('/api/runs?dayId=d+1')
    expect(addressOf(api.runs, undefined, {})).toBe('/api/runs')
  })
})

describe('calls', () => {
  it('send JSON to the endpoint’s own method and return the answer', async () => {
    const sent = answering(() => json({ stored: [] }))
    const body = { events: [] }
    expect(await call(api.addEvents, { body })).toEqual({ stored: [] })
    expect(sent[0]).toMatchObject({ url: '/api/events', init: { method: 'POST', body: JSON.stringify(body), credentials: 'same-origin' } })
  })

  it('send files as they are', async () => {
    const sent = answering(() => json({}))
    const file = new Blob(['x_m,y_m'])
    await call(api.importCircuit, { query: { name: 'A & B' }, file })
    expect(sent[0].url).toBe('/api/circuits?name=A+%26+B')
    expect(sent[0].init.body).toBe(file)
    expect(sent[0].init.headers).toMatchObject({ 'Content-Type': 'application/octet-stream' })
  })

  it('fail with the server’s problem, its place and its remedy', async () => {
    const problem = { type: 'urn:x', title: 'No', status: 422, code: 'circuit-open', place: 'point 3', remedy: 'Close it.' }
    answering(() => json(problem, 422))
    expect(await problemOf(call(api.circuits))).toEqual(problem)
  })

  it('say that the server is out of reach, and what is kept, where there is none or no sense in its answer', async () => {
    answering(() => Promise.reject(new TypeError('Failed to fetch')))
    expect(await problemOf(call(api.circuits))).toMatchObject({
      code: 'unreachable',
      status: 0,
      remedy: expect.stringContaining('not saved'),
    })
    answering(() => new Response('<html>Bad gateway</html>', { status: 502 }))
    expect(await problemOf(call(api.circuits))).toMatchObject({ code: 'unreachable', status: 502 })
  })
})
