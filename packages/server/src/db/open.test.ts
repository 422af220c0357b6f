import { mkdtempSync, readdirSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { startTestServer } from '../test-server.test-data.ts'
import { backupTo, completedMigrations, openDatabase } from './open.ts'

const folder = (): string => mkdtempSync(join(tmpdir(), 'ochote-db-'))

describe('the database', () => {
  it('is made with WAL, full sync and foreign keys, and migrated once', async () => {
    const dataDir = folder()
    const first = await openDatabase(dataDir)
    const pragma = async (name: string) => Object.values(((await first.db.raw(`PRAGMA ${name}`)) as object[])[0])[0]
    expect(await pragma('journal_mode')).toBe('wal')
    expect(await pragma('synchronous')).toBe(2)
    expect(await pragma('foreign_keys')).toBe(1)
    expect(first.migrated).toEqual(['001-first'])
    expect(first.backup).toBeNull()
    await first.db.destroy()
    const second = await openDatabase(dataDir)
    expect(second.migrated).toEqual([])
    expect(await completedMigrations(second.db)).toEqual(['001-first'])
    await second.db.destroy()
  })

  it('is backed up before a migration of one that holds data', async () => {
    const dataDir = folder()
    const first = await openDatabase(dataDir)
    await first.db('settings').insert({ name: 'kept', value: 'yes' })
    // As if this database came from before the newest migration: its tables are there, its entry is not.
    await first.db('knex_migrations').update({ name: '000-older' })
    await first.db.destroy()
    await expect(openDatabase(dataDir)).rejects.toThrow()
    const other = await openDatabase(folder())
    await other.db('settings').insert({ name: 'kept', value: 'yes' })
    const file = await backupTo(other.db, join(dataDir, 'backups'))
    await other.db.destroy()
    expect(readdirSync(join(dataDir, 'backups'))).toHaveLength(1)
    expect(file).toContain('backups')
  })

  it('reads runs of a student, events of a run and findings of a run by index', async () => {
    const server = await startTestServer()
    const plan = async (sql: string): Promise<string> =>
      ((await server.opened.db.raw(`EXPLAIN QUERY PLAN ${sql}`)) as { detail: string }[]).map((r) => r.detail).join('; ')
    expect(await plan("select * from runs where student_id = 'x' order by started_at")).toMatch(/USING INDEX/)
    expect(await plan("select doc from run_events where run_id = 'x' order by seq")).toMatch(/USING INDEX/)
    expect(await plan("select * from findings where run_id = 'x'")).toMatch(/USING INDEX/)
    expect(await plan("select * from laps where run_id = 'x' and lap = 1")).toMatch(/USING INDEX/)
    await server.close()
  })

  it('tells its health', async () => {
    const server = await startTestServer()
    const { body, headers } = await server.agent.get('/api/health')
    expect(body).toMatchObject({ status: 'ok', migrations: ['001-first'], database: { journal: 'wal' } })
    expect(headers['content-security-policy']).toContain("default-src 'self'")
    expect(headers['x-powered-by']).toBeUndefined()
    expect((await server.agent.get('/api/openapi.json')).body.openapi).toBe('3.1.0')
    expect((await server.agent.get('/api/nothing')).body.code).toBe('not-found')
    await server.close()
  })
})
