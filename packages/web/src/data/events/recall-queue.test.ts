import 'fake-indexeddb/auto'
import Dexie from 'dexie'
import { afterAll, afterEach, describe, expect, it, vi } from 'vitest'

afterAll(() => Dexie.delete('ochote'))
afterEach(() => vi.unstubAllGlobals())

const round = (id: string, token: string) => ({
  id,
  token,
  at: `2027-05-15T10:00:0${id.at(-1)}.000Z`,
  mode: 'fading' as const,
  marks: [{ cornerId: 'T1', action: 'brake' as const, off_s: 0.1, off_m: 3 }],
  lap_s: null,
})
const ids = [1, 2, 3].map((k) => `01a22c87-1c03-77af-b8a9-2b9c66d6347${k}`)

type Sent = { path: string; events: { id: string; token?: string }[] }

/** A server that takes rounds, or answers with a problem for some links. */
const serverThat = (gone: ReadonlySet<string>) => {
  const sent: Sent[] = []
  vi.stubGlobal('fetch', async (input: string, init?: { body?: string }) => {
    const { pathname } = new URL(String(input), 'http://localhost')
    const { events } = JSON.parse(init?.body ?? '{}') as { events: Sent['events'] }
    sent.push({ path: pathname, events })
    const token = pathname.split('/')[3]
    if (gone.has(token))
      return new Response(
        JSON.stringify({
          type: 'urn:ochote:problem:link-withdrawn',
          code: 'link-withdrawn',
          title: 'This link is not valid any more.',
          remedy: 'Ask for a new one.',
          status: 404,
        }),
        { status: 404, headers: { 'content-type': 'application/problem+json' } },
      )
    return new Response(JSON.stringify({ stored: events.map((e) => e.id), refused: [], clockAhead_s: 0 }), {
      headers: { 'content-type': 'application/json' },
    })
  })
  return sent
}

describe('rounds driven from memory', () => {
  it('are kept here first, sent by the link they were driven by, without saying which, and each once', async () => {
    const { recallQueue } = await import('./recall-queue.ts')
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('no network')))
    await recallQueue.log(round(ids[0], 'a'.repeat(32)))
    await recallQueue.log(round(ids[1], 'b'.repeat(32)))
    await recallQueue.sendWaiting()
    const sent = serverThat(new Set())
    // A send may be under way already; it then goes on with what waits.
    await vi.waitFor(
      async () => {
        await recallQueue.sendWaiting()
        expect(sent).toHaveLength(2)
      },
      { timeout: 30_000, interval: 100 },
    )
    expect(sent.map(({ path, events }) => [path, events.map((e) => e.id)])).toEqual([
      [`/api/portal/${'a'.repeat(32)}/recall`, [ids[0]]],
      [`/api/portal/${'b'.repeat(32)}/recall`, [ids[1]]],
    ])
    expect(sent.every(({ events }) => events.every((e) => !('token' in e)))).toBe(true)
    await recallQueue.sendWaiting()
    expect(sent).toHaveLength(2)
  })

  it('of a link that is gone are never sent again, and hold up no others', async () => {
    const { recallQueue } = await import('./recall-queue.ts')
    const sent = serverThat(new Set(['c'.repeat(32)]))
    await recallQueue.log(round(ids[2], 'c'.repeat(32)))
    const toGone = () => sent.filter(({ path }) => path.includes('c'.repeat(32)))
    await vi.waitFor(
      async () => {
        await recallQueue.sendWaiting()
        expect(toGone()).toHaveLength(1)
      },
      { timeout: 30_000, interval: 100 },
    )
    await recallQueue.sendWaiting()
    expect(toGone()).toHaveLength(1)
  })
})

describe('what a student’s link leaves on a device', () => {
  it('goes when the link is gone, and nothing else with it', async () => {
    const { storedAnswers } = await import('./event-queue.ts')
    const { forgetLink } = await import('./stored-answers.ts')
    const kept = (key: string, queryKey: unknown[]) => ({ key, value: { form: 3, queryKey, data: {}, at: 0 } })
    await storedAnswers.bulkPut([
      kept('page', ['portal', 'mine']),
      kept('memory', ['portal', 'mine', 'recall']),
      kept('theirs', ['portal', 'theirs']),
      kept('day', ['days', 'd']),
    ])
    await forgetLink('mine')
    expect((await storedAnswers.toArray()).map(({ key }) => key).sort()).toEqual(['day', 'theirs'])
  })

  it('is the page and the lap from memory, not the drives, which need the server', async () => {
    const { QueryClient } = await import('@tanstack/react-query')
    const { storedAnswers } = await import('./event-queue.ts')
    const { keepAnswers } = await import('./stored-answers.ts')
    await storedAnswers.clear()
    const client = new QueryClient()
    keepAnswers(client)
    client.setQueryData(['portal', 'mine'], { a: 1 })
    client.setQueryData(['portal', 'mine', 'recall'], { b: 1 })
    client.setQueryData(['portal', 'mine', 'drives', 'r'], { c: 1 })
    await vi.waitFor(async () => expect(await storedAnswers.count()).toBeGreaterThan(0), { timeout: 20_000 })
    const keys = (await storedAnswers.toArray()).map(({ value }) => (value as { queryKey: unknown[] }).queryKey)
    expect(keys).toEqual(
      expect.arrayContaining([
        ['portal', 'mine'],
        ['portal', 'mine', 'recall'],
      ]),
    )
    expect(keys).toHaveLength(2)
  })
})
