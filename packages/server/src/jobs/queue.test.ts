import { mkdtempSync, readdirSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { CoreError } from '@ochote/core'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { connectPostgres } from '../db/postgres.ts'
import { databaseOf, EMPTY, testPostgres } from '../db/test-postgres.test-data.ts'
import { directJobs, type Jobs } from './jobs.ts'
import { queuedJobs } from './queue.ts'

const LONG = { timeout: 60_000, interval: 50 }

describe.runIf(testPostgres)('a queue of jobs that several processes share', () => {
  let folder: string
  let url: string
  let open: Jobs[]
  let failures: unknown[]
  beforeEach(async () => {
    folder = mkdtempSync(join(tmpdir(), 'ochote-queue-'))
    url = await databaseOf(folder, EMPTY)
    open = []
    failures = []
  })
  afterEach(async () => {
    for (const jobs of open) await jobs.close()
    // A listener that is closed may say that it was.
    expect(failures.filter((error) => !/Connection terminated/.test(String(error)))).toEqual([])
  })
  /** A process whose reading of vehicle files is `read`. */
  const processOf = async (read: Jobs['readVehicleFile'], school = 'school', lanes = 1): Promise<Jobs> => {
    const address = new URL(url)
    address.searchParams.set('school', school)
    const jobs = await queuedJobs(
      { ...directJobs(), readVehicleFile: read },
      { url: address.href, folder, lanes, onFailure: (error) => void failures.push(error) },
    )
    open.push(jobs)
    return jobs
  }
  /** Until so many wait in the queue while one is being done. */
  const waiting = async (n: number): Promise<void> => {
    const db = connectPostgres(url)
    await vi.waitFor(async () => {
      const states = (await db('pgboss.job').select('state')) as { state: string }[]
      expect(states.map(({ state }) => state).sort()).toEqual(['active', ...Array(n).fill('created')])
    }, LONG)
    await db.destroy()
  }
  const never = new Promise<never>(() => {})
  const named = (name: string) => [{ name }] as Awaited<ReturnType<Jobs['readVehicleFile']>>

  it('gives what came of them to whoever asked, and their errors as what they are, and leaves nothing behind', async () => {
    const jobs = await processOf(async ({ path }) => {
      if (path === 'broken') throw new CoreError('file-empty', 'line 1', {})
      return named(path)
    })
    expect(await jobs.readVehicleFile({ path: 'fine' }, { person: 'a' })).toEqual(named('fine'))
    await expect(jobs.readVehicleFile({ path: 'broken' }, { person: 'a' })).rejects.toMatchObject({ code: 'file-empty', place: 'line 1' })
    await vi.waitFor(() => expect(readdirSync(folder)).toEqual([]))
  })

  it('lets people take turns: whoever asked for many waits for whoever asked for one', async () => {
    const done: string[] = []
    let release: () => void = () => {}
    const first = new Promise<void>((resolve) => (release = resolve))
    const jobs = await processOf(async ({ path }) => {
      if (path === 'first') await first
      done.push(path)
      return named(path)
    })
    const ask = (path: string, person: string) => jobs.readVehicleFile({ path }, { person })
    const asked = [ask('first', 'z')]
    await waiting(0)
    for (const path of ['a1', 'a2', 'a3']) asked.push(ask(path, 'a'))
    await waiting(3)
    asked.push(ask('b1', 'b'))
    await waiting(4)
    release()
    await Promise.all(asked)
    expect(done.indexOf('b1')).toBeLessThan(done.indexOf('a2'))
    expect(done.indexOf('a2')).toBeLessThan(done.indexOf('a3'))
  })

  it('are done by another process where one has its hands full, or ends in the middle', async () => {
    const busy = await processOf(() => never)
    const stuck = busy.readVehicleFile({ path: 'stuck' }, { person: 'a' })
    await waiting(0)
    const asked = busy.readVehicleFile({ path: 'to the other one' }, { person: 'b' })
    stuck.catch(() => {})
    const other = await processOf(async ({ path }) => named(`${path}, done elsewhere`))
    expect(await asked).toEqual(named('to the other one, done elsewhere'))
    expect(await other.readVehicleFile({ path: 'its own' }, { person: 'a' })).toEqual(named('its own, done elsewhere'))
    // The busy one ends with a job in hand: whoever still waits for it is answered by the other one.
    open = open.filter((jobs) => jobs !== busy)
    await busy.close()
    expect(await Promise.race([stuck, vi.waitFor(() => stuck, LONG)])).toEqual(named('stuck, done elsewhere'))
  }, 90_000)

  it('belong to one school: the processes of another one never see them', async () => {
    const seen: string[] = []
    await processOf(async ({ path }) => {
      seen.push(path)
      return named(path)
    }, 'south')
    const north = await processOf(async ({ path }) => named(path), 'north')
    for (let k = 0; k < 5; k++) await north.readVehicleFile({ path: `${k}` }, { person: 'a' })
    expect(seen).toEqual([])
  })
})
