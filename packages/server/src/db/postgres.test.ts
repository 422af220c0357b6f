import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { isPostgres } from './dialect.ts'
import { openSchool } from './open.ts'
import { isDatabaseAway, isPostgresUrl, unreachable } from './postgres.ts'
import { databaseOf, EMPTY, testPostgres } from './test-postgres.test-data.ts'

const folder = (): string => mkdtempSync(join(tmpdir(), 'ochote-pg-'))

describe('the address of a database', () => {
  it('is known by its beginning', () => {
    expect(['postgres://a@b/c', 'postgresql://b/c'].map(isPostgresUrl)).toEqual([true, true])
    expect(['data/school', '/var/lib/postgres', 'mysql://a/b', ''].some(isPostgresUrl)).toBe(false)
  })

  it('that leads nowhere is told with what to do', async () => {
    await expect(openSchool(folder(), 'postgres://ochote@localhost:1/ochote')).rejects.toThrow('Nobody answers there. Start PostgreSQL')
    expect(unreachable({ code: '28P01' })?.message).toContain('The password is wrong.')
    expect(unreachable({ code: 'XX000' })).toBeNull()
  })
})

describe('an error of a database', () => {
  it('says that it is away for the moment, or something else', () => {
    for (const code of ['ECONNREFUSED', '57P01', '57P03', '08006']) expect(isDatabaseAway({ code }), code).toBe(true)
    expect(isDatabaseAway(new Error('Connection terminated unexpectedly'))).toBe(true)
    for (const error of [null, new Error('x'), { code: '23505' }, { code: 'SQLITE_FULL' }]) expect(isDatabaseAway(error)).toBe(false)
  })
})

describe.runIf(testPostgres)('a school in PostgreSQL', () => {
  const open = async (change: (url: URL) => void, before: string[] = []): Promise<string> => {
    const dataDir = folder()
    const address = await databaseOf(dataDir, EMPTY)
    const opened = await openSchool(dataDir, address)
    for (const sql of before) await opened.db.raw(sql)
    await opened.db.destroy()
    const url = new URL(address)
    change(url)
    return openSchool(dataDir, url.href).then(
      async ({ db }) => {
        await db.destroy()
        return 'opened'
      },
      (error: Error) => error.message,
    )
  }

  it('opens again as it is, and its documents stay text', async () => {
    expect(await open(() => {})).toBe('opened')
    const { db } = await openSchool(folder(), await databaseOf(folder(), EMPTY))
    expect(isPostgres(db)).toBe(true)
    const { rows } = await db.raw(
      "select data_type, collation_name from information_schema.columns where table_name = 'days' and column_name = 'plan'",
    )
    expect(rows).toEqual([{ data_type: 'text', collation_name: 'C' }])
    const whole = await db.raw(
      "select count(*) as n from information_schema.columns where table_schema = 'public' and table_name not like 'knex_%' and data_type in ('real', 'character varying')",
    )
    expect(whole.rows[0].n).toBe(0)
    await db.destroy()
  })

  it('is refused in words where there is none, where it can only be read, where the user may not, and where it is newer', async () => {
    expect(await open((url) => (url.pathname = '/nobody_made_this'))).toContain('There is no such database. Make it with createdb')
    expect(await open((url) => url.searchParams.set('options', '-c default_transaction_read_only=on'))).toContain('It can only be read')
    expect(await open(() => {}, ["insert into knex_migrations (name, batch, migration_time) values ('999-later', 9, now())"])).toContain(
      'written by a newer release (999-later)',
    )
    const role = `guest_${process.pid}`
    expect(
      await open(
        (url) => (url.username = role),
        [
          `do $$ begin create role ${role} login; exception when duplicate_object then null; end $$`,
          'drop table knex_migrations, knex_migrations_lock',
        ],
      ),
    ).toContain('The user may not make tables there')
  })
})
