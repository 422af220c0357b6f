import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import type Database from 'better-sqlite3'
import createKnex, { type Knex } from 'knex'
import { released } from './migrations/index.ts'

type Migrations = Knex.MigrationSource<unknown>

/** An opened database with the migrations that ran. */
export type Opened = { db: Knex; file: string; backup: string | null; migrated: string[] }

/**
 * Opens the database of a data folder: WAL, foreign keys, full sync (a write that is acknowledged is on the disk).
 * Pending migrations run first; of a database that already held some, a backup file is made before.
 */
export const openDatabase = async (dataDir: string, migrationSource: Migrations = released): Promise<Opened> => {
  mkdirSync(dataDir, { recursive: true })
  const file = join(dataDir, 'ochote.sqlite')
  const db = createKnex({
    client: 'better-sqlite3',
    connection: { filename: file },
    useNullAsDefault: true,
    acquireConnectionTimeout: 10_000,
    pool: {
      min: 1,
      max: 1,
      afterCreate: (connection: Database.Database, done: (error: Error | null) => void) => {
        for (const pragma of ['journal_mode = WAL', 'synchronous = FULL', 'foreign_keys = ON', 'busy_timeout = 5000'])
          connection.pragma(pragma)
        done(null)
      },
    },
  })
  const [completed, pending] = (await db.migrate.list({ migrationSource })) as [unknown[], unknown[]]
  const backup = completed.length > 0 && pending.length > 0 ? await backupTo(db, join(dataDir, 'backups')) : null
  const migrated = pending.length > 0 ? await migrate(db, migrationSource) : []
  return { db, file, backup, migrated }
}

/** With foreign keys on, rebuilding a parent table would delete its children: they are off while the schema changes. */
const migrate = async (db: Knex, migrationSource: Migrations): Promise<string[]> => {
  await db.raw('PRAGMA foreign_keys = OFF')
  const [, names] = (await db.migrate.latest({ migrationSource })) as [number, string[]]
  const broken = (await db.raw('PRAGMA foreign_key_check')) as unknown[]
  if (broken.length > 0) throw new Error(`The migration left ${broken.length} broken references; restore the newest file in backups/.`)
  await db.raw('PRAGMA foreign_keys = ON')
  return names
}

/** Copies the database while it is open; returns the file. */
const backupTo = async (db: Knex, folder: string): Promise<string> => {
  mkdirSync(folder, { recursive: true })
  const file = join(folder, `ochote-${new Date().toISOString().replace(/[:.]/g, '-')}.sqlite`)
  const connection = (await db.client.acquireConnection()) as Database.Database
  await db.client.releaseConnection(connection)
  await connection.backup(file)
  return file
}

/** Names of the migrations that have run, in order. */
export const completedMigrations = async (db: Knex): Promise<string[]> =>
  ((await db('knex_migrations').orderBy('id').select('name')) as { name: string }[]).map((m) => m.name)
