import { copyFileSync, mkdtempSync, readdirSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Knex } from 'knex'
import { describe, expect, it } from 'vitest'
import { createStores } from '../stores.ts'
import { startDemoServer, startTestServer } from '../test-server.test-data.ts'
import { releasedMigrations } from './migrations/index.ts'
import { completedMigrations, openDatabase } from './open.ts'
import { testPostgres } from './test-postgres.test-data.ts'

const folder = (): string => mkdtempSync(join(tmpdir(), 'ochote-db-'))

/** Names of all that were released, in order. */
const released = [
  '001-first',
  '002-circuit-notes',
  '003-preparation',
  '004-running-day',
  '005-review',
  '006-record',
  '007-ids',
  '008-judged-form',
  '009-replaced-circuits',
  '010-sheets-given',
  '011-own-school',
  '012-day-boards',
  '013-resumable',
  '014-trust',
  '015-season',
  '016-code-steps',
  '017-happenings',
  '018-present',
  '019-day-summaries',
]

describe('the database', () => {
  it('is made with WAL, full sync and foreign keys, and migrated once', async () => {
    const dataDir = folder()
    const first = await openDatabase(dataDir)
    const pragma = async (name: string) => Object.values(((await first.db.raw(`PRAGMA ${name}`)) as object[])[0])[0]
    expect(await pragma('journal_mode')).toBe('wal')
    expect(await pragma('synchronous')).toBe(2)
    expect(await pragma('foreign_keys')).toBe(1)
    expect(first.migrated).toEqual(released)
    expect(first.backup).toBeNull()
    await first.db.destroy()
    const second = await openDatabase(dataDir)
    expect(second.migrated).toEqual([])
    expect(await completedMigrations(second.db)).toEqual(released)
    await second.db.destroy()
  })

  it('is backed up before a migration of one that exists, and keeps child rows through it', async () => {
    const dataDir = folder()
    const first = await openDatabase(dataDir)
    await first.db('students').insert({ id: 's', name: 'Imke', level: 'steady', talk: 'guided', units: 'metric', created_at: '' })
    await first.db('days').insert({ id: 'd', date: '2027-05-15', version: 1, plan: '{}' })
    await first.db('runs').insert({ id: 'r', day_id: 'd', student_id: 's', settings: '{}', started_at: '' })
    await first.db.destroy()
    // A later release rebuilds the parent table, which must not take its children along.
    const rebuild = {
      up: (db: Knex) => db.schema.alterTable('students', (t) => t.string('level').nullable().alter()),
      down: async () => {},
    }
    const told: string[] = []
    const second = await openDatabase(dataDir, [...releasedMigrations, { name: '020-rebuild', migration: rebuild }], (line) =>
      told.push(line),
    )
    expect(told.at(-2)).toBe('Reading the copy …')
    expect(told.at(-1)).toBe('Upgrading the database: step 1 of 1 …')
    expect(second.migrated).toEqual(['020-rebuild'])
    expect(await second.db('runs').select('id')).toEqual([{ id: 'r' }])
    await second.db.destroy()
    const [backup] = readdirSync(join(dataDir, 'backups'))
    expect(second.backup).toBe(join(dataDir, 'backups', backup))
    const restored = folder()
    copyFileSync(join(dataDir, 'backups', backup), join(restored, 'ochote.sqlite'))
    const third = await openDatabase(restored)
    expect(await completedMigrations(third.db)).toEqual(released)
    expect(await third.db('students').select('name')).toEqual([{ name: 'Imke' }])
    await third.db.destroy()
  })

  it('brings names of corners from the first schema into the notes', async () => {
    const dataDir = folder()
    const first = await openDatabase(dataDir, releasedMigrations.slice(0, 1))
    const row = { id: 'c', name: 'Mere', length_m: 1, corners: 1, survey: '{}', corner_names: '{"T1":"Boathouse"}', created_at: '' }
    await first.db('circuits').insert(row)
    await first.db.destroy()
    const second = await openDatabase(dataDir)
    expect(second.migrated).toEqual(released.slice(1))
    const [{ version, notes }] = await second.db('circuits').select('version', 'notes')
    expect(version).toBe(1)
    expect(JSON.parse(notes)).toEqual({ cornerNames: { T1: 'Boathouse' }, cornerEdits: [], ground: [] })
    await second.db.destroy()
  })

  it('turns ids that were words on screen into ids, wherever they are stored, and keeps names that a school gave', async () => {
    const dataDir = folder()
    const first = await openDatabase(dataDir, releasedMigrations.slice(0, 6))
    const { db } = first
    await db('students').insert({ id: 's', name: 'Imke', level: 'first day', talk: 'guided', units: 'metric', created_at: '' })
    const plan = {
      title: 'A first day',
      settings: { schemeId: 'lakeside' },
      cones: { level: 'first day' },
      briefing: { levels: { wet: ['first day', 'steady'] } },
    }
    await db('days').insert({ id: 'd', date: '2027-05-15', version: 1, plan: JSON.stringify(plan) })
    await db('runs').insert({ id: 'r', day_id: 'd', student_id: 's', settings: '{"schemeId":"lakeside"}', started_at: '' })
    const told = { kind: 'skill-confirmed', skill: 'braking place', level: 'first day', note: 'first day' }
    await db('student_events').insert({ id: 'e', student_id: 's', received_at: '', doc: JSON.stringify(told) })
    const school = {
      schemes: [
        { id: 'x', name: 'Lakeside: pairs brake, blue turns' },
        { id: 'y', name: 'first day' },
      ],
    }
    await db('kit').insert({ id: 1, version: 1, doc: JSON.stringify(school) })
    await db('logs').insert({
      run_id: 'r',
      source: '',
      rows: 0,
      skipped: '[]',
      csv_gz: Buffer.from(''),
      created_at: '',
      review: '{"bank":null,"untold":[],"passes":[]}',
    })
    await db('findings').insert({
      run_id: 'r',
      lap: 1,
      corner_id: 'T1',
      station_m: 10,
      code: 'apex-missed',
      root: true,
      loss_s: 0.1,
      evidence: '{"farther_m":1.5,"allowed_m":1.2}',
    })
    await db.destroy()
    const second = await openDatabase(dataDir)
    const read = async (table: string, column: string): Promise<unknown> => JSON.parse((await second.db(table).first(column))[column])
    expect(second.migrated).toEqual(released.slice(6))
    expect(await second.db('students').select('level')).toEqual([{ level: 'first-day' }])
    expect(await read('days', 'plan')).toEqual({
      title: 'A first day',
      settings: { schemeId: 'pairs-and-colours' },
      cones: { level: 'first-day' },
      briefing: { levels: { wet: ['first-day', 'steady'] } },
    })
    expect(await read('runs', 'settings')).toEqual({ schemeId: 'pairs-and-colours' })
    expect(await read('student_events', 'doc')).toEqual({ ...told, skill: 'braking-point', level: 'first-day' })
    expect(await read('school_settings', 'doc')).toEqual({
      schemes: [
        { id: 'x', name: 'Pairs brake, blue turns' },
        { id: 'y', name: 'first day' },
      ],
    })
    expect(await read('logs', 'review')).toEqual({ theoreticalBest: null, undecidable: [], passes: [] })
    expect(await read('findings', 'evidence')).toEqual({ further_m: 1.5, allowed_m: 1.2 })
    await second.db.destroy()
  })

  it('refuses a gap in the numbers of its migrations', async () => {
    const gap = [{ name: '002-late', migration: { up: async () => {}, down: async () => {} } }]
    await expect(openDatabase(folder(), gap)).rejects.toThrow('Migration 1 is missing')
  })

  it.skipIf(testPostgres)('reads runs of a student, events of a run and findings of a run by index', async () => {
    const server = await startTestServer()
    const plan = async (sql: string): Promise<string> =>
      ((await server.opened.db.raw(`EXPLAIN QUERY PLAN ${sql}`)) as { detail: string }[]).map((r) => r.detail).join('; ')
    expect(await plan("select * from runs where student_id = 'x' order by started_at")).toMatch(/USING INDEX/)
    expect(await plan("select doc from run_events where run_id = 'x' order by seq")).toMatch(/USING INDEX/)
    expect(await plan("select * from findings where run_id = 'x'")).toMatch(/USING INDEX/)
    expect(await plan("select * from laps where run_id = 'x' and lap = 1")).toMatch(/USING INDEX/)
    await server.close()
  })

  it('opens a database of every earlier state, with what it holds', async () => {
    for (let k = 1; k < releasedMigrations.length; k++) {
      const dataDir = folder()
      const { db } = await openDatabase(dataDir, releasedMigrations.slice(0, k))
      await db('students').insert({ id: 's', name: 'Imke', level: 'steady', talk: 'guided', units: 'metric', created_at: '' })
      await db.destroy()
      const opened = await openDatabase(dataDir)
      expect(opened.migrated, `from ${releasedMigrations[k - 1].name}`).toEqual(released.slice(k))
      expect(opened.backup).toContain('before-upgrade')
      expect(await opened.db('students').select('name')).toEqual([{ name: 'Imke' }])
      expect((await opened.db.raw('PRAGMA foreign_key_check')) as unknown[]).toEqual([])
      await opened.db.destroy()
    }
  })

  it('keeps tokens of before as hashes, drops sessions of before, and keeps two names apart that are one in Unicode', async () => {
    const dataDir = folder()
    const { db } = await openDatabase(dataDir, releasedMigrations.slice(0, 12))
    const token = 'a-token-of-an-earlier-release-0123456789'
    const account = { role: 'lead', created_at: '2027-01-01', teaching: '{}' }
    await db('accounts').insert({ id: 'one', name: 'Zoë', ...account })
    await db('accounts').insert({ id: 'two', name: 'Zoe\u0308', ...account })
    await db('students').insert({ id: 's', name: 'Imke', level: 'steady', talk: 'guided', units: 'metric', created_at: '' })
    await db('days').insert({ id: 'd', date: '2027-05-15', version: 1, plan: '{}' })
    await db('runs').insert({ id: 'r', day_id: 'd', student_id: 's', settings: '{}', started_at: '' })
    await db('student_links').insert({ token, day_id: 'd', student_id: 's', created_at: '2027-05-01T00:00:00.000Z' })
    await db('sheet_links').insert({ token: `${token}-sheet`, run_id: 'r', created_at: '2027-05-01T00:00:00.000Z' })
    await db('sessions').insert({ sid: 'open-to-all', data: '{}', expires_at: 9e12 })
    await db('settings').insert({ name: 'session-secret', value: 'open-to-all' })
    await db.destroy()
    const opened = await openDatabase(dataDir)
    const { links } = createStores(opened)
    // Whoever has the link gets in; nobody can be shown it again, so that it is given anew.
    expect(await links.byToken(token)).toMatchObject({ studentId: 's', dayId: 'd', token: null })
    expect(await links.runOfSheet(`${token}-sheet`)).toBe('r')
    expect(await links.sheetToken('r')).toBeNull()
    const anew = await links.give('d', '2027-05-15', 's')
    expect(anew.token).not.toBeNull()
    expect(await links.byToken(token)).toBeNull()
    expect(await opened.db('sessions').select('sid_hash')).toEqual([])
    expect(await opened.db('settings').where({ name: 'session-secret' }).first('value')).toBeUndefined()
    expect((await opened.db('accounts').orderBy('id').select('name_key')).map((row) => row.name_key)).toEqual(['zoë', 'zoë 2'])
    await opened.db.raw('PRAGMA wal_checkpoint(TRUNCATE)')
    expect(readFileSync(opened.file).includes('open-to-all')).toBe(false)
    await opened.db.destroy()
  })

  it('leaves broken rows out of lists, names them when they are opened, and in its health', async () => {
    const server = await startDemoServer()
    const count = async (path: string): Promise<number> => (await server.agent.get(path)).body.length
    const [days, vehicles] = [await count('/api/days'), await count('/api/vehicles')]
    const plan = JSON.stringify({ title: 'No settings' })
    await server.opened.db('days').insert({ id: 'day-broken', date: '2027-06-01', version: 1, plan })
    await server.opened.db('vehicles').insert({ id: 'vehicle-broken', doc: '{"id":' })
    expect(await count('/api/days')).toBe(days)
    expect(await count('/api/vehicles')).toBe(vehicles)
    const opened = await server.agent.get('/api/days/day-broken')
    expect(opened.status).toBe(500)
    expect(opened.body).toMatchObject({ code: 'stored-broken', title: expect.stringContaining('days, day-broken') })
    expect(opened.body.remedy).toContain('unharmed')
    const { broken } = (await server.agent.get('/api/health/details')).body
    expect(broken).toContainEqual({ table: 'days', id: 'day-broken', why: expect.stringMatching(/^\w+.*: /) })
    expect(broken).toContainEqual({ table: 'vehicles', id: 'vehicle-broken', why: 'document: broken JSON' })
    await server.close()
  }, 120_000)

  it('tells its health', async () => {
    const server = await startTestServer()
    const { body, headers } = await server.agent.get('/api/health')
    // Strangers learn that it runs, and nothing else.
    expect(body).toEqual({ status: 'ok' })
    expect((await server.agent.get('/api/health/details')).status).toBe(401)
    await server.agent.post('/api/accounts/first').send({ name: 'Marit Oakhanger', password: 'reeds and water' })
    const { body: details } = await server.agent.get('/api/health/details')
    expect(details).toMatchObject({
      migrations: released,
      database: { journal: expect.stringMatching(/^wal$|^synchronous commit/) },
      storage: { problem: null },
      backup: null,
    })
    expect(headers['content-security-policy']).toContain("default-src 'self'")
    expect(headers['x-powered-by']).toBeUndefined()
    expect((await server.agent.get('/api/openapi.json')).body.openapi).toBe('3.1.0')
    expect((await server.agent.get('/api/nothing')).body.code).toBe('not-found')
    await server.close()
  })
})
