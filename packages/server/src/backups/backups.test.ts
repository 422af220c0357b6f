import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Backup, BackupReason } from '@ochote/contract'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { openDatabase } from '../db/open.ts'
import { testPostgres } from '../db/test-postgres.test-data.ts'
import { startDemoServer, type TestServer } from '../test-server.test-data.ts'
import { backupFolder, backupsIn, nameOf, outlived } from './backup-files.ts'
import { dueNow } from './backups.ts'

const HOUR_MS = 3600 * 1000
const now = new Date('2027-05-15T12:00:00Z')
const backup = (reason: BackupReason, hoursAgo: number): Backup => {
  const at = new Date(now.getTime() - hoursAgo * HOUR_MS)
  return { name: nameOf(at, reason), at: at.toISOString(), reason, size_bytes: 1, checked: true }
}

describe('backups', () => {
  it('are due hourly while a day runs, and once a night', () => {
    const night = new Date(now)
    night.setHours(3, 10)
    expect(dueNow([], false, now)).toBe('nightly')
    expect(dueNow([backup('nightly', 9)], false, now)).toBeNull()
    expect(dueNow([backup('nightly', 9)], true, now)).toBe('hourly')
    expect(dueNow([backup('hourly', 0.5), backup('nightly', 9)], true, now)).toBeNull()
    expect(dueNow([backup('hourly', 1.5), backup('nightly', 9)], true, now)).toBe('hourly')
    expect(dueNow([backup('nightly', 27)], false, now)).toBe('nightly')
    expect(dueNow([{ ...backup('nightly', 0), at: new Date(night.getTime() - 24 * HOUR_MS).toISOString() }], false, night)).toBe('nightly')
  })

  it('are thinned out by a rule, and the newest stays however old it is', () => {
    const hourly = Array.from({ length: 30 }, (_, k) => backup('hourly', k))
    expect(outlived(hourly, now.getTime())).toHaveLength(6)
    const nightly = [10, 24 * 59, 24 * 61].map((hours) => backup('nightly', hours))
    expect(outlived(nightly, now.getTime()).map((b) => b.at)).toEqual([nightly[2].at])
    expect(outlived([backup('nightly', 24 * 400)], now.getTime())).toEqual([])
  })
})

describe('a backup of a school', () => {
  let server: TestServer
  beforeAll(async () => {
    server = await startDemoServer()
  }, 120_000)
  afterAll(() => server.close())
  const rows = async (): Promise<Record<string, unknown[]>> => {
    const all: Record<string, unknown[]> = {}
    for (const table of ['students', 'days', 'runs', 'run_events', 'day_events', 'findings', 'circuits', 'accounts'])
      all[table] = await server.opened.db(table).orderByRaw('rowid')
    return all
  }

  it.skipIf(testPostgres)('is whole, holds no session, says what it would change, and brings everything back', async () => {
    const before = await rows()
    const made = (await server.agent.post('/api/backups')).body as Backup
    expect(made).toMatchObject({ reason: 'by-hand', checked: true })
    const file = join(backupFolder(server.config.dataDir), made.name)
    expect(readFileSync(file).includes('accountId')).toBe(false)

    await server.agent.delete('/api/students/imke-valderan')
    const day = (await server.agent.get('/api/days/day-2027-05-15')).body
    await server.agent.put('/api/days/day-2027-05-15').send({ version: day.version, plan: { ...day.plan, weather: 'hail' } })
    const added = { id: '018f2f6e-7c1a-7b3e-8c2d-1a2b3c4d5e6f', name: 'Nele Farrow', level: 'steady', talk: 'guided', units: 'metric' }
    expect((await server.agent.post('/api/students').send({ ...added, profile: {} })).status).toBe(200)

    const looked = await server.agent.get(`/api/backups/${made.name}`)
    expect(looked.status, JSON.stringify(looked.body)).toBe(200)
    const dry = looked.body as { tables: { table: string }[] }
    const ofTable = (name: string) => dry.tables.find((change) => change.table === name)
    expect(ofTable('students')).toMatchObject({ inSchool: 12, inBackup: 12, back: 1, gone: 1 })
    expect(ofTable('days')).toMatchObject({ back: 0, gone: 0 })
    expect((ofTable('days') as unknown as { other: number }).other).toBeGreaterThan(0)
    // Looking has changed nothing.
    expect((await server.agent.get('/api/students')).body).toHaveLength(12)

    expect((await server.agent.post(`/api/backups/${made.name}/restored`)).status).toBe(200)
    expect(await rows()).toEqual(before)
    // Whoever restored is still signed in, and what was there before is a backup of its own.
    expect((await server.agent.get('/api/students')).status).toBe(200)
    expect(backupsIn(server.config.dataDir).map((b) => b.reason)).toContain('before-restore')
    expect((await server.agent.get('/api/trail')).body.lines[0]).toMatchObject({ call: 'restoreBackup' })
  })

  it.skipIf(testPostgres)('that is damaged is refused, and nothing is changed', async () => {
    const before = await rows()
    const good = backupsIn(server.config.dataDir)[0]
    const bytes = readFileSync(join(backupFolder(server.config.dataDir), good.name))
    bytes.fill(0x5a, 8192, 40_000)
    const name = nameOf(new Date('2027-05-14T00:00:00Z'), 'nightly')
    writeFileSync(join(backupFolder(server.config.dataDir), name), bytes)
    const answer = await server.agent.post(`/api/backups/${name}/restored`)
    expect(answer.body.code).toBe('backup-broken')
    expect(await rows()).toEqual(before)
    expect((await server.agent.post('/api/backups/none.sqlite/restored')).status).toBe(404)
  })
})

describe('a school in PostgreSQL', () => {
  it.runIf(testPostgres)('says that its backups are made there', async () => {
    const server = await startDemoServer()
    const { status, body } = await server.agent.post('/api/backups')
    expect([status, body.code]).toEqual([409, 'backups-elsewhere'])
    expect((await server.agent.get('/api/backups')).body).toEqual([])
    expect((await server.agent.get('/api/health/details')).body.database.file).toMatch(/^PostgreSQL \d+/)
    await server.close()
  })
})

describe('a database that cannot be opened', () => {
  const made = async (): Promise<string> => {
    const dataDir = mkdtempSync(join(tmpdir(), 'ochote-fault-'))
    await (await openDatabase(dataDir)).db.destroy()
    return dataDir
  }
  const fileIn = (dataDir: string): string => join(dataDir, 'ochote.sqlite')

  it('is named with the remedy: another file, a damaged one, one of a newer release', async () => {
    const other = await made()
    writeFileSync(fileIn(other), 'this is a letter')
    await expect(openDatabase(other)).rejects.toThrow(/is not a database.*no backup/s)

    const damaged = await made()
    const bytes = readFileSync(fileIn(damaged))
    bytes.fill(0x5a, 4096, bytes.length - 4096)
    writeFileSync(fileIn(damaged), bytes)
    await expect(openDatabase(damaged)).rejects.toThrow(/is damaged/)

    const newer = await made()
    const { db } = await openDatabase(newer)
    await db('knex_migrations').insert({ name: '999-later', batch: 9, migration_time: new Date() })
    await db.destroy()
    await expect(openDatabase(newer)).rejects.toThrow(/newer release \(999-later\)/)
  })

  it('names the newest good backup', async () => {
    const dataDir = await made()
    const { backupService } = await import('./backups.ts')
    const { directJobs } = await import('../jobs/jobs.ts')
    const opened = await openDatabase(dataDir)
    const { name } = await backupService({ opened, dataDir, jobs: directJobs() }).make('nightly')
    await opened.db.destroy()
    writeFileSync(fileIn(dataDir), 'gone')
    await expect(openDatabase(dataDir)).rejects.toThrow(`bin/ochote restore ${name}`)
  })
})
