import { describe, expect, it } from 'vitest'
import { fairQueue } from './fair-queue.ts'

/** Resolves when all that was due has begun. */
const settled = (): Promise<void> => new Promise((resolve) => setImmediate(resolve))

/** Tasks that are ended by hand, with the order in which they began. */
const byHand = () => {
  const begun: string[] = []
  const ends = new Map<string, (failed?: boolean) => void>()
  return {
    begun,
    task: (name: string) => (): Promise<string> =>
      new Promise((resolve, reject) => {
        begun.push(name)
        ends.set(name, (failed) => (failed ? reject(new Error(name)) : resolve(name)))
      }),
    end: async (name: string, failed = false): Promise<void> => {
      ends.get(name)?.(failed)
      await settled()
    },
  }
}

describe('the fair queue', () => {
  it('lets people take turns, however many tasks one of them has', async () => {
    const queue = fairQueue(1)
    const { begun, task, end } = byHand()
    const all = [
      ...['a1', 'a2', 'a3'].map((name) => queue.run('a', task(name))),
      queue.run('b', task('b1')),
      queue.run('c', task('c1')),
      queue.run('b', task('b2')),
    ]
    await settled()
    expect(queue.waiting()).toBe(5)
    for (const name of ['a1', 'a2', 'b1', 'c1', 'a3', 'b2']) await end(name)
    expect(await Promise.all(all)).toEqual(['a1', 'a2', 'a3', 'b1', 'c1', 'b2'])
    expect(begun).toEqual(['a1', 'a2', 'b1', 'c1', 'a3', 'b2'])
  })

  it('runs as many at a time as it has lanes, and goes on after a task that fails', async () => {
    const queue = fairQueue(2)
    const { begun, task, end } = byHand()
    const failing = queue.run('a', task('a1'))
    const others = [queue.run('a', task('a2')), queue.run('a', task('a3'))]
    await settled()
    expect(begun).toEqual(['a1', 'a2'])
    const refused = expect(failing).rejects.toThrow('a1')
    await end('a1', true)
    await refused
    expect(begun).toEqual(['a1', 'a2', 'a3'])
    await end('a2')
    await end('a3')
    expect(await Promise.all(others)).toEqual(['a2', 'a3'])
  })
})
