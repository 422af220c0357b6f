import { createHash } from 'node:crypto'
import type { Knex } from 'knex'
import { aloneIn, isPostgres, referencesLater } from '../db/dialect.ts'
import { completedMigrations } from '../db/open.ts'
import { countFromHere, ofMachine, piecesOf, tables } from './tables.ts'

/** Everything that moves, those that others refer to first. */
const moving = [...tables, ...ofMachine] as const
type Moving = (typeof moving)[number]

/** What a table holds: how many rows, and a hash over all of them in the order of their keys. */
type Held = { table: Moving; rows: number; hash: string }

/** A row as it is on either database: columns by name, bytes as such. */
const plain = (row: Record<string, unknown>): string =>
  JSON.stringify(
    Object.keys(row)
      .sort()
      .map((column) => [column, Buffer.isBuffer(row[column]) ? (row[column] as Buffer).toString('base64') : (row[column] ?? null)]),
  )

const heldIn = async (
  db: Knex,
  table: Moving,
  hear: (rows: Record<string, unknown>[]) => Promise<void> = async () => {},
): Promise<Held> => {
  const hash = createHash('sha256')
  let rows = 0
  for await (const piece of piecesOf(db, table)) {
    for (const row of piece) hash.update(plain(row))
    rows += piece.length
    await hear(piece)
  }
  return { table, rows, hash: hash.digest('hex') }
}

/** True where nobody has made anything yet. */
const isEmpty = async (db: Knex): Promise<boolean> => !(await db('accounts').first('id')) && !(await db('circuits').first('id'))

/**
 * Copies a school from one database into another, in one transaction, and compares every table there by count and hash. What is there is
 * replaced only where `again` says so. Nobody may work with either meanwhile. Cost: linear in what is stored; a piece of a table is in memory at a time.
 * @throws Error with a sentence where the other one holds something, is of another version, or differs afterwards (nothing is kept then)
 */
export const moveSchool = async (
  from: Knex,
  to: Knex,
  { again = false, tell = () => {} }: { again?: boolean; tell?: (line: string) => void } = {},
): Promise<Held[]> => {
  const [here, there] = [await completedMigrations(from), await completedMigrations(to)]
  if (here.at(-1) !== there.at(-1))
    throw new Error(`The two are of different versions (${here.at(-1)}, ${there.at(-1)}). Nothing was copied.`)
  if (!again && !(await isEmpty(to)))
    throw new Error('The other one holds a school already. Nothing was copied; with --again it is replaced by this one.')
  const held: Held[] = []
  const copy = async (source: Knex, trx: Knex): Promise<void> => {
    held.length = 0
    // A server that somebody forgot to stop waits until all is there.
    await aloneIn(trx, [...moving, 'happenings'])
    await referencesLater(trx)
    await trx('happenings').delete()
    for (const table of [...moving].reverse()) await trx(table).delete()
    for (const table of moving) {
      const read = await heldIn(source, table, async (piece) => {
        await trx(table).insert(piece)
      })
      const written = await heldIn(trx, table)
      if (read.rows !== written.rows || read.hash !== written.hash)
        throw new Error(`${table} is not the same after it was copied (${read.rows} and ${written.rows} rows). Nothing was kept there.`)
      if (read.rows > 0) tell(`${table}: ${read.rows} rows, ${read.hash.slice(0, 12)}`)
      held.push(read)
    }
    await countFromHere(trx)
  }
  const ofOneMoment = isPostgres(from)
    ? (work: (source: Knex) => Promise<void>) => from.transaction(work, { isolationLevel: 'repeatable read', readOnly: true })
    : (work: (source: Knex) => Promise<void>) => work(from)
  await ofOneMoment((source) => to.transaction((trx) => copy(source, trx)))
  return held
}
