import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { basename, join } from 'node:path'
import type { TableChange } from '@ochote/contract'
import Database from 'better-sqlite3'
import { damageOf } from './checked.ts'

/** Tables that belong to this machine or to its history, and stay as they are whatever is restored. */
const staying: ReadonlySet<string> = new Set([
  'sessions',
  'tries',
  'trail',
  'settings',
  'clock_jumps',
  'knex_migrations',
  'knex_migrations_lock',
  'backup_recordings',
])

/** Where positions of runs that are under way lie in a backup. */
const RECORDINGS = 'backup_recordings'

const quoted = (name: string): string => `"${name.replaceAll('"', '""')}"`

type Schema = 'main' | 'kept'
const tablesOf = (db: Database.Database, schema: Schema): string[] =>
  (db.prepare(`select name from ${schema}.sqlite_master where type = 'table' and name not like 'sqlite_%'`).all() as { name: string }[])
    .map((row) => row.name)
    .filter((name) => !staying.has(name))

type Column = { name: string; pk: number }
const columnsOf = (db: Database.Database, schema: Schema, table: string): Column[] =>
  db.prepare(`pragma ${schema}.table_info(${quoted(table)})`).all() as Column[]

/**
 * Finishes a copy of a running database into a backup: without sessions and tries, with the recordings that lie beside it, whole on
 * the disk, and read once to check it. @throws Error where something in it is damaged
 */
export const finishBackup = ({ file, recordings }: { file: string; recordings: string }): void => {
  const db = new Database(file)
  try {
    db.pragma('journal_mode = DELETE')
    db.pragma('secure_delete = ON')
    const empty = (table: string): void => {
      if (db.prepare('select 1 from sqlite_master where name = ?').get(table)) db.exec(`delete from ${quoted(table)}`)
    }
    db.transaction(() => {
      empty('sessions')
      empty('tries')
      db.exec(`create table if not exists ${RECORDINGS} (name text primary key, bytes blob not null)`)
      const add = db.prepare(`insert or replace into ${RECORDINGS} values (?, ?)`)
      const names = existsSync(recordings) ? readdirSync(recordings).filter((name) => name.endsWith('.csv')) : []
      for (const name of names) add.run(name, readFileSync(join(recordings, name)))
    })()
  } finally {
    db.close()
  }
  const damage = damageOf(file)
  if (damage !== null) throw new Error(`The backup is damaged: ${damage}`)
}

/** Opens a school with a backup attached as “kept”. */
const opened = (file: string, backup: string, readonly: boolean): Database.Database => {
  const db = new Database(file, { readonly, fileMustExist: true, timeout: 30_000 })
  db.prepare('attach ? as kept').run(backup)
  return db
}

const changeOf = (db: Database.Database, table: string): TableChange => {
  const columns = columnsOf(db, 'main', table)
  const shared = new Set(columnsOf(db, 'kept', table).map((c) => c.name))
  const names = columns.filter((c) => shared.has(c.name)).map((c) => quoted(c.name))
  const keys = columns.filter((c) => c.pk > 0).map((c) => quoted(c.name))
  const count = (sql: string): number => (db.prepare(`select count(*) as n from ${sql}`).get() as { n: number }).n
  const [now, then] = [`main.${quoted(table)}`, `kept.${quoted(table)}`]
  const list = (cells: readonly string[]): string => cells.join(', ')
  const only = (here: string, there: string): number =>
    count(`(select ${list(keys)} from ${here} except select ${list(keys)} from ${there})`)
  const back = only(then, now)
  const differing = count(`(select ${list(names)} from ${then} except select ${list(names)} from ${now})`)
  return { table, inSchool: count(now), inBackup: count(then), back, gone: only(now, then), other: differing - back }
}

/** What a backup would change in a school, table by table. Cost: linear in the rows of both. */
export const compareFiles = ({ file, backup }: { file: string; backup: string }): TableChange[] => {
  const db = opened(file, backup, true)
  try {
    const inBackup = new Set(tablesOf(db, 'kept'))
    return tablesOf(db, 'main')
      .filter((table) => inBackup.has(table))
      .map((table) => changeOf(db, table))
  } finally {
    db.close()
  }
}

/** Puts the recordings of a backup back, where none is there now. */
const restoreRecordings = (db: Database.Database, recordings: string): void => {
  if (!db.prepare(`select 1 from kept.sqlite_master where name = ?`).get(RECORDINGS)) return
  for (const { name, bytes } of db.prepare(`select name, bytes from kept.${RECORDINGS}`).all() as { name: string; bytes: Buffer }[]) {
    mkdirSync(recordings, { recursive: true, mode: 0o700 })
    const path = join(recordings, basename(name))
    if (!existsSync(path)) writeFileSync(path, bytes, { mode: 0o600 })
  }
}

/**
 * Makes a school what a backup holds, in one transaction: all of it or nothing. Both have the same schema. Sessions stay, but for
 * those whose account is gone. @throws Error where rows refer to others that are not there
 */
export const restoreFile = ({ file, backup, recordings }: { file: string; backup: string; recordings: string }): TableChange[] => {
  const changes = compareFiles({ file, backup })
  const db = opened(file, backup, false)
  try {
    db.pragma('foreign_keys = OFF')
    db.pragma('secure_delete = ON')
    db.transaction(() => {
      for (const { table } of changes) {
        const shared = new Set(columnsOf(db, 'kept', table).map((c) => c.name))
        const names = columnsOf(db, 'main', table)
          .filter((c) => shared.has(c.name))
          .map((c) => quoted(c.name))
          .join(', ')
        db.exec(
          `delete from main.${quoted(table)}; insert into main.${quoted(table)} (${names}) select ${names} from kept.${quoted(table)}`,
        )
      }
      db.exec('delete from main.sessions where account_id not in (select id from main.accounts)')
      const broken = db.pragma('main.foreign_key_check') as unknown[]
      if (broken.length > 0)
        throw new Error(`${broken.length} entries of the backup refer to others that it does not hold; nothing was changed.`)
    })()
    restoreRecordings(db, recordings)
  } finally {
    db.close()
  }
  return changes
}

/** Takes a temporary file of a database away, with what lies beside it. */
export const removeDatabase = (file: string): void => {
  for (const end of ['', '-wal', '-shm', '-journal']) rmSync(file + end, { force: true })
}
