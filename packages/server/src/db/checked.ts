import { closeSync, existsSync, openSync, readSync } from 'node:fs'
import Database from 'better-sqlite3'

/** What is wrong with a file that should be a school's database, in words with a remedy; null for nothing. */
export type DatabaseFault = { what: 'no-database' | 'damaged' | 'read-only' | 'newer'; words: string }

/** Name of the file in which a school is kept. */
export const DATABASE_FILE = 'ochote.sqlite'

const isSqlite = (file: string): boolean => {
  const head = Buffer.alloc(16)
  const fd = openSync(file, 'r')
  try {
    const read = readSync(fd, head, 0, 16, 0)
    // A file without a byte is a database that nobody has written to.
    return read === 0 || head.toString('latin1') === 'SQLite format 3\0'
  } finally {
    closeSync(fd)
  }
}

/** Reads every page of a database; what is wrong, or null. Cost: linear in its size, about a second for 500 MB. */
export const damageOf = (file: string): string | null => {
  const db = new Database(file, { readonly: true, fileMustExist: true })
  try {
    const rows = db.pragma('quick_check(5)') as { quick_check: string }[]
    const words = rows.map((row) => row.quick_check)
    return words.length === 1 && words[0] === 'ok' ? null : words.join('; ')
  } catch (error) {
    return error instanceof Error ? error.message : String(error)
  } finally {
    db.close()
  }
}

/** Migrations that have run in a database file, in order; none where there are no tables yet. */
export const migrationsOf = (file: string): string[] => {
  const db = new Database(file, { readonly: true, fileMustExist: true })
  try {
    const has = db.prepare("select 1 from sqlite_master where name = 'knex_migrations'").get()
    return has ? (db.prepare('select name from knex_migrations order by id').all() as { name: string }[]).map((m) => m.name) : []
  } finally {
    db.close()
  }
}

/** Looks at a school's database before it is opened: that it is one, is whole, can be written, and is not of a newer release. */
export const faultOf = (file: string, known: readonly string[], canBeWritten: (file: string) => boolean): DatabaseFault | null => {
  if (!existsSync(file)) return null
  if (!isSqlite(file)) return { what: 'no-database', words: `${file} is not a database. Move it away, or restore a backup.` }
  if (!canBeWritten(file))
    return {
      what: 'read-only',
      words: `${file} cannot be written. Give the server’s user the right to write in its folder, then start again.`,
    }
  const damage = damageOf(file)
  if (damage !== null) return { what: 'damaged', words: `${file} is damaged (${damage}).` }
  const newer = migrationsOf(file).filter((name) => !known.includes(name))
  if (newer.length > 0)
    return {
      what: 'newer',
      words: `${file} was written by a newer release (${newer.at(-1)}). Start that one, or restore a backup from before the upgrade.`,
    }
  return null
}
