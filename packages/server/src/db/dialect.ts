import type { Knex } from 'knex'
import { columnOf, lockOf } from './schools.ts'

/** True where the database is PostgreSQL; it is SQLite otherwise. */
export const isPostgres = (db: Knex): boolean => db.client.config.client === 'pg'

/**
 * Lets a transaction go on once no other one does the same: what it reads before it writes still holds then. SQLite has one connection, and
 * transactions follow each other there.
 */
export const oneAtATime = async (trx: Knex, what: string): Promise<void> => {
  if (isPostgres(trx)) await trx.raw('select pg_advisory_xact_lock(?)', [lockOf(trx, what)])
}

/**
 * SQL for one field of a stored document, as text, read out of it: `column` holds JSON, `path` names the field (`settings.circuitId`).
 * Paths come from this program alone, never from a request.
 */
export const readOut = (db: Knex, column: string, path: string): string =>
  isPostgres(db) ? `(${column}::json #>> '{${path.replaceAll('.', ',')}}')` : `json_extract(${column}, '$.${path}')`

/** SQL for one field of a stored document that is searched: indexes are made from the same words, so that both databases find them. */
export const field = (db: Knex, column: string, path: string): string =>
  isPostgres(db) ? columnOf(column, path) : readOut(db, column, path)

/** Columns by which rows clash on writing: those of a key, within one school. */
export const clashOn = (db: Knex, ...columns: string[]): string[] => (isPostgres(db) ? ['school', ...columns] : columns)

/** SQL that is true where a yes-or-no column says yes. */
export const isTrue = (db: Knex, column: string): string => (isPostgres(db) ? column : `${column} = 1`)

/** SQL that is true for a document in whose list `path` an entry has a field of a value, which is bound. */
export const someInList = (db: Knex, column: string, path: string, name: string): string =>
  isPostgres(db)
    ? `exists (select 1 from json_array_elements(coalesce(${column}::json -> '${path}', '[]'::json)) as entry where entry ->> '${name}' = ?)`
    : `exists (select 1 from json_each(${column}, '$.${path}') where json_extract(value, '$.${name}') = ?)`

/**
 * Makes what was erased unreadable in the files of the database too. SQLite overwrites it and empties its journal; PostgreSQL writes over it
 * as it reuses the space, and its own journals and backups keep it for as long as its administrator says.
 */
export const overwriteErased = async (db: Knex): Promise<void> => {
  if (!isPostgres(db)) await db.raw('PRAGMA wal_checkpoint(TRUNCATE)')
}

/**
 * Allows rows before those that they refer to, up to the end of a transaction. PostgreSQL does not: there rows have to come in the order in
 * which tables refer to each other.
 */
export const referencesLater = async (trx: Knex): Promise<void> => {
  if (!isPostgres(trx)) await trx.raw('PRAGMA defer_foreign_keys = ON')
}

/** Lets nobody else write into some tables for the rest of a transaction, which then need not give way to them. */
export const aloneIn = async (trx: Knex, tables: readonly string[]): Promise<void> => {
  if (isPostgres(trx)) await trx.raw(`lock table ${tables.map(() => '??').join(', ')} in share row exclusive mode`, [...tables])
}
