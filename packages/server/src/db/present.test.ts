import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { type Opened, openSchool } from './open.ts'
import { type Present, present } from './present.ts'
import { databaseOf, EMPTY, testPostgres } from './test-postgres.test-data.ts'

describe('what is under way', () => {
  const failures: unknown[] = []
  let opened: Opened[]
  /** Two processes of a school where it is in PostgreSQL, else the only one twice. */
  let processes: Present[]
  beforeAll(async () => {
    const folder = mkdtempSync(join(tmpdir(), 'ochote-present-'))
    const database = testPostgres ? await databaseOf(folder, EMPTY) : null
    opened = [await openSchool(folder, database)]
    if (database) opened.push(await openSchool(folder, database))
    const all = opened.map(({ db }) => present(db, (error) => void failures.push(error)))
    processes = [all[0], all.at(-1) as Present]
  })
  afterAll(async () => {
    for (const one of processes) one.close()
    for (const { db } of opened) await db.destroy()
    expect(failures).toEqual([])
  })

  it('is as much as may be, however many ask at once, and goes again', async () => {
    const ask = (n: number) =>
      processes[n % 2].enter([
        ['all', 5],
        [`own ${n % 3}`, 2],
      ])
    const left = await Promise.all(Array.from({ length: 12 }, (_, n) => ask(n)))
    const inside = left.filter((leave) => leave !== null)
    expect(inside).toHaveLength(5)
    expect(await ask(0)).toBeNull()
    for (const leave of inside) leave()
    await vi.waitFor(async () => {
      const again = await processes[0].enter([['all', 1]])
      expect(again).not.toBeNull()
      again?.()
    })
  })

  it('is used up within a day, all of what is asked for or nothing', async () => {
    const spend = (n: number, amount: number) =>
      processes[n].spend(
        [
          ['link', 100],
          ['links', 150],
        ],
        amount,
      )
    expect([await spend(0, 60), await spend(1, 60), await spend(1, 40)]).toEqual([true, false, true])
    expect(
      await processes[0].spend(
        [
          ['other link', 100],
          ['links', 150],
        ],
        60,
      ),
    ).toBe(false)
    expect(
      await processes[1].spend(
        [
          ['other link', 100],
          ['links', 150],
        ],
        50,
      ),
    ).toBe(true)
  })

  it.runIf(testPostgres)('does not count what a process that is gone had under way', async () => {
    const [{ db }] = opened
    await db('present').insert({ id: 'of one that is gone', key: 'few', until: Date.now() - 1 })
    const leave = await processes[1].enter([['few', 1]])
    expect(leave).not.toBeNull()
    expect(await processes[0].enter([['few', 1]])).toBeNull()
    leave?.()
  })
})
