import { accessSync, constants, mkdirSync, renameSync, statSync } from 'node:fs'
import { dirname, join } from 'node:path'
import type Database from 'better-sqlite3'
import createKnex, { type Knex } from 'knex'
import { backupFolder, backupsIn, nameOf } from '../backups/backup-files.ts'
import { serverNow } from '../clock/clock.ts'
import { openSecrets, type Secrets } from '../secrets/secrets.ts'
import { DATABASE_FILE, type DatabaseFault, faultOf } from './checked.ts'
import { type NamedMigration, releasedMigrations, sourceOf } from './migrations/index.ts'
import { refuseMoved } from './moved.ts'
import { checkServer, connectPostgres, postgresState, unreachable, whileAlone, widenTypes } from './postgres.ts'
import { finishBackup } from './restore-file.ts'
import { areApart, keepApart, schoolOf, seeAllSchools } from './schools.ts'

type Migrations = Knex.MigrationSource<unknown>
/** Hears how far something is that takes its time. */
type Tell = (sentence: string) => void

/**
 * An opened database with the migrations that ran, and the secrets that belong to it. `file`: the file that holds it; null where it is in
 * PostgreSQL, which keeps its own files and backups.
 */
export type Opened = { db: Knex; file: string | null; secrets: Secrets; backup: string | null; migrated: string[] }

const canBeWritten = (file: string): boolean => {
  try {
    accessSync(file, constants.W_OK)
    accessSync(dirname(file), constants.W_OK)
    return true
  } catch {
    return false
  }
}

/** What to do about a database that cannot be opened: the newest backup is named. */
const remedyFor = (dataDir: string, { what, words }: DatabaseFault): string => {
  const newest = backupsIn(dataDir).find((backup) => backup.checked) ?? backupsIn(dataDir)[0]
  if (what === 'read-only') return words
  const offer = newest
    ? `The newest good backup is of ${newest.at}; it comes back with: bin/ochote restore ${newest.name} --data ${dataDir}`
    : 'There is no backup in its folder.'
  return `${words} Nothing was changed. ${offer}`
}

const connect = (file: string): Knex =>
  createKnex({
    client: 'better-sqlite3',
    connection: { filename: file },
    useNullAsDefault: true,
    acquireConnectionTimeout: 10_000,
    pool: {
      min: 1,
      max: 1,
      afterCreate: (connection: Database.Database, done: (error: Error | null) => void) => {
        // What is deleted is overwritten: an erased student is in no free page of the file.
        for (const pragma of [
          'journal_mode = WAL',
          'synchronous = FULL',
          'foreign_keys = ON',
          'busy_timeout = 30000',
          'secure_delete = ON',
        ])
          connection.pragma(pragma)
        done(null)
      },
    },
  })

/**
 * Opens the database of a data folder: WAL, foreign keys, full sync (a write that is acknowledged is on the disk).
 * It is read whole first. Pending migrations run then; of a database that already held some, a backup file is made before. `tell` hears
 * how far that is, a sentence at a time.
 * @throws Error with a sentence and a remedy for a file that is no database, damaged, of a newer release, or cannot be written
 */
export const openDatabase = async (
  dataDir: string,
  migrations: readonly NamedMigration[] = releasedMigrations,
  tell: Tell = () => {},
): Promise<Opened & { file: string }> => {
  mkdirSync(dataDir, { recursive: true, mode: 0o700 })
  const file = join(dataDir, DATABASE_FILE)
  const fault = faultOf(
    file,
    migrations.map((m) => m.name),
    canBeWritten,
  )
  if (fault) throw new Error(remedyFor(dataDir, fault))
  const secrets = openSecrets(dataDir)
  const db = connect(file)
  const migrationSource = sourceOf(migrations)
  const [completed, pending] = (await db.migrate.list({ migrationSource })) as [unknown[], unknown[]]
  const backup = completed.length > 0 && pending.length > 0 ? await backupBefore(db, dataDir, tell) : null
  const migrated = pending.length > 0 ? await migrate(db, migrationSource, pending.length, backup ? tell : () => {}) : []
  return { db, file, secrets, backup, migrated }
}

/** What the server's processes agree on while one of them changes the schema. */
const MIGRATING = 4_180_022

/** Runs the migrations that a database lacks, all or none, and keeps its tables apart by school. @throws Error for a newer release */
const upgradePostgres = async (db: Knex, school: string, migrations: readonly NamedMigration[], tell: Tell): Promise<string[]> => {
  const migrationSource = sourceOf(migrations)
  // Knex takes a migration that it does not know for a lost one: words first.
  const known = new Set(migrations.map((m) => m.name))
  const has = await db.schema.hasTable('knex_migrations')
  const before = has ? await completedMigrations(db) : []
  const newer = before.filter((name) => !known.has(name))
  if (newer.length > 0)
    throw new Error(`The database was written by a newer release (${newer.at(-1)}). Start that one; nothing was changed.`)
  const pending = migrations.length - before.length
  if (pending === 0 && (await areApart(db))) return []
  return db.transaction(async (trx) => {
    const names: string[] = []
    await seeAllSchools(trx)
    for (let step = 1; step <= pending; step++) {
      if (has) tell(`Upgrading the database: step ${step} of ${pending} …`)
      const [, [name]] = (await trx.migrate.up({ migrationSource, disableTransactions: true })) as [number, string[]]
      if (name) names.push(name)
    }
    await widenTypes(trx)
    await keepApart(trx, school)
    return names
  })
}

/**
 * Opens a school in PostgreSQL; its secrets are in the data folder. Pending migrations run, in one process at a time. A backup before them
 * is PostgreSQL's own affair.
 * @throws Error with a sentence and a remedy where it cannot be reached, or is of a newer release
 */
const openPostgres = async (dataDir: string, url: string, migrations: readonly NamedMigration[], tell: Tell): Promise<Opened> => {
  mkdirSync(dataDir, { recursive: true, mode: 0o700 })
  const secrets = openSecrets(dataDir)
  const db = connectPostgres(url)
  try {
    await checkServer(db)
    const migrated = await whileAlone(db, MIGRATING, () => upgradePostgres(db, schoolOf(url), migrations, tell))
    return { db, file: null, secrets, backup: null, migrated }
  } catch (error) {
    await db.destroy()
    throw unreachable(error) ?? error
  }
}

/**
 * Opens a school: in PostgreSQL where its address is given, in the data folder otherwise.
 * @throws Error with a sentence and a remedy, also for a folder whose school was moved into a database
 */
export const openSchool = async (dataDir: string, database: string | null, tell: Tell = () => {}): Promise<Opened> => {
  if (database !== null) return openPostgres(dataDir, database, releasedMigrations, tell)
  refuseMoved(dataDir)
  return openDatabase(dataDir, releasedMigrations, tell)
}

/** Does something that one process at a time may do to a school. */
export const alone = <T>({ db, file }: Opened, work: () => Promise<T>): Promise<T> =>
  file === null ? whileAlone(db, MIGRATING, work) : work()

/** Opens a copy of a database, to read from. */
export const openCopy = (file: string): Knex => connect(file)

/** Brings a copy of an older database to today's schema, so that it can be compared and restored. */
export const migrateCopy = async (file: string): Promise<void> => {
  const db = connect(file)
  try {
    const migrationSource = sourceOf(releasedMigrations)
    const [, pending] = (await db.migrate.list({ migrationSource })) as [unknown[], unknown[]]
    await migrate(db, migrationSource, pending.length)
    await db.raw('PRAGMA journal_mode = DELETE')
  } finally {
    await db.destroy()
  }
}

/** With foreign keys on, rebuilding a parent table would delete its children: they are off while the schema changes. */
const migrate = async (db: Knex, migrationSource: Migrations, pending: number, tell: Tell = () => {}): Promise<string[]> => {
  const names: string[] = []
  await db.raw('PRAGMA foreign_keys = OFF')
  for (let step = 1; step <= pending; step++) {
    tell(`Upgrading the database: step ${step} of ${pending} …`)
    const [, [name]] = (await db.migrate.up({ migrationSource })) as [number, string[]]
    if (name) names.push(name)
  }
  const broken = (await db.raw('PRAGMA foreign_key_check')) as unknown[]
  if (broken.length > 0) throw new Error(`The migration left ${broken.length} broken references; restore the newest file in backups/.`)
  await db.raw('PRAGMA foreign_keys = ON')
  return names
}

/** Pages that are copied before others may write again (each 4 KiB). */
const PAGES_AT_ONCE = 1000

/** Copies the database while it is in use, a few pages at a time; the copy is one moment's whole. `hear` gets the share that is copied. */
export const copyTo = async (db: Knex, file: string, hear: (share: number) => void = () => {}): Promise<void> => {
  const connection = (await db.client.acquireConnection()) as Database.Database
  await db.client.releaseConnection(connection)
  await connection.backup(file, {
    progress: ({ totalPages, remainingPages }) => {
      if (totalPages > 0) hear(1 - remainingPages / totalPages)
      return PAGES_AT_ONCE
    },
  })
}

/** The backup before an upgrade; returns its file. */
const backupBefore = async (db: Knex, dataDir: string, tell: Tell): Promise<string> => {
  const folder = backupFolder(dataDir)
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const name = nameOf(new Date(serverNow()), 'before-upgrade')
  const partial = join(folder, `${name}.partial`)
  let told = 0
  await copyTo(db, partial, (share) => {
    const quarter = Math.floor(4 * share)
    if (quarter > told) tell(`Copying the database before its upgrade: ${25 * quarter} %`)
    told = Math.max(told, quarter)
  })
  tell('Reading the copy …')
  finishBackup({ file: partial, recordings: join(dataDir, 'recordings') })
  renameSync(partial, join(folder, name))
  return join(folder, name)
}

/** Names of the migrations that have run, in order. */
export const completedMigrations = async (db: Knex): Promise<string[]> =>
  ((await db('knex_migrations').orderBy('id').select('name')) as { name: string }[]).map((m) => m.name)

/** Where a school is kept, how it keeps what is written, and how large it is. */
export const databaseState = async ({ db, file }: Opened): Promise<{ file: string; journal: string; size_bytes: number }> => {
  if (file === null) return postgresState(db)
  const [journal] = (await db.raw('PRAGMA journal_mode')) as { journal_mode: string }[]
  return { file, journal: String(journal?.journal_mode), size_bytes: statSync(file).size }
}
