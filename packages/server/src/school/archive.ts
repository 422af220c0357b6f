import { randomUUID } from 'node:crypto'
import { createReadStream, mkdirSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { createInterface } from 'node:readline'
import type { Writable } from 'node:stream'
import { CoreError, misplaced } from '@ochote/core'
import type { Knex } from 'knex'
import { z } from 'zod'
import { serverTime } from '../clock/clock.ts'
import { aloneIn, referencesLater } from '../db/dialect.ts'
import { tellRuns } from '../db/happenings.ts'
import { completedMigrations, copyTo, type Opened, openCopy } from '../db/open.ts'
import { removeDatabase } from '../db/restore-file.ts'
import { HttpProblem } from '../http/problems.ts'
import { written } from '../http/written.ts'
import { countFromHere, rowsOf, tables } from './tables.ts'

/** Form of the archive: the first line says it. */
const FORM = 'ochote-school-1'

const headSchema = z.object({ form: z.literal(FORM), at: z.iso.datetime(), migrations: z.array(z.string()) })
const rowSchema = z.object({ table: z.enum(tables), row: z.record(z.string(), z.unknown()) })

/** Columns that only the machine with its own key can read. */
const sealed: ReadonlySet<string> = new Set(['codes_sealed'])

/** A value as JSON carries it: bytes become base64. */
const toJson = (value: unknown): unknown => (Buffer.isBuffer(value) ? { base64: value.toString('base64') } : value)
const fromJson = (value: unknown): unknown =>
  typeof value === 'object' && value !== null && 'base64' in value ? Buffer.from(String(value.base64), 'base64') : value

const line = (out: Writable, text: string): Promise<void> => written(out, `${text}\n`)

/** A copy of a database as it is at one moment, for as long as somebody reads it. */
const ofOneMoment = async ({ db, file }: Pick<Opened, 'db' | 'file'>, read: (copy: Knex) => Promise<void>): Promise<void> => {
  if (file === null) return db.transaction(read, { isolationLevel: 'repeatable read', readOnly: true })
  const folder = join(dirname(file), 'uploads')
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const copy = join(folder, `${randomUUID()}.sqlite`)
  try {
    await copyTo(db, copy)
    const opened = openCopy(copy)
    await read(opened).finally(() => opened.destroy())
  } finally {
    removeDatabase(copy)
  }
}

/**
 * Writes a whole school as lines of JSON, row by row, so that it is never in memory as a whole. What is changed in the meantime is in it
 * as it was when this began.
 */
export const writeArchive = (opened: Pick<Opened, 'db' | 'file'>, out: Writable): Promise<void> =>
  ofOneMoment(opened, (db) => writeAll(db, out))

const writeAll = async (db: Knex, out: Writable): Promise<void> => {
  await line(out, JSON.stringify({ form: FORM, at: serverTime(), migrations: await completedMigrations(db) }))
  for (const table of tables)
    for await (const row of rowsOf(db, table)) {
      const plain = Object.fromEntries(Object.entries(row).map(([column, value]) => [column, sealed.has(column) ? null : toJson(value)]))
      await line(out, JSON.stringify({ table, row: plain }))
    }
  await line(out, JSON.stringify({ end: true }))
}

/** True for a school in which nobody has made anything yet but the account of whoever reads this. */
const isEmpty = async (db: Knex): Promise<boolean> => {
  for (const table of ['circuits', 'vehicles', 'students', 'days', 'cars', 'venues'] as const)
    if (await db(table).first(db.raw('1'))) return false
  return true
}

const broken = (line: number): HttpProblem =>
  new HttpProblem(
    422,
    'archive-broken',
    'The archive is damaged or cut off.',
    'Export it again at its source, and give the whole file; nothing was kept here.',
    `line ${line}`,
  )

/** One line as JSON. @throws HttpProblem 'archive-broken' */
const parsed = (text: string, line: number): unknown => {
  try {
    return JSON.parse(text)
  } catch {
    throw broken(line)
  }
}

/** Checks the first line: that it is a school, written by the same version of the database. */
const checkHead = async (db: Knex, text: string): Promise<void> => {
  let head: ReturnType<typeof headSchema.safeParse>
  try {
    head = headSchema.safeParse(JSON.parse(text))
  } catch {
    head = headSchema.safeParse(null)
  }
  if (!head.success)
    throw misplaced(
      new CoreError('file-unreadable', 'line 1', { expected: 'archive of a school', why: 'it is none' }),
      text.slice(0, 4000),
      'school',
    )
  const here = await completedMigrations(db)
  if (head.data.migrations.at(-1) !== here.at(-1))
    throw new HttpProblem(
      409,
      'archive-version',
      `The archive was written by another version (${head.data.migrations.at(-1)}; here: ${here.at(-1)}).`,
      'Bring both to the same version of the program, export again, then read it here; nothing was kept.',
    )
}

/**
 * Reads an archive into an empty school: all of it or nothing. Accounts come along with their passwords; the one that read it in is gone
 * unless it is in the archive, so that the school is the same afterwards.
 * @throws HttpProblem where the school is not empty, the archive is of another version, or damaged; CoreError for another file
 */
export const readArchive = async (db: Knex, path: string): Promise<number> => {
  if (!(await isEmpty(db)))
    throw new HttpProblem(
      409,
      'school-not-empty',
      'This school holds something already.',
      'An archive is read into an empty school only: start one with another data folder.',
    )
  let rows = 0
  let line = 0
  let ended = false
  await db.transaction(async (trx) => {
    await referencesLater(trx)
    // A file is read once: nobody who is doing something else now makes this give way.
    await aloneIn(trx, ['accounts', 'sessions', 'trail', 'happenings'])
    // Opened where it is read: lines that come while nobody listens are lost.
    const lines = createInterface({ input: createReadStream(path), crlfDelay: Number.POSITIVE_INFINITY })
    for await (const text of lines) {
      line++
      if (line === 1) {
        await checkHead(trx, text)
        for (const table of [...tables].reverse()) await trx(table).delete()
        continue
      }
      const value = parsed(text, line)
      if (typeof value === 'object' && value !== null && 'end' in value) {
        ended = true
        continue
      }
      const row = rowSchema.safeParse(value)
      if (!row.success) throw broken(line)
      await trx(row.data.table).insert(Object.fromEntries(Object.entries(row.data.row).map(([column, v]) => [column, fromJson(v)])))
      rows++
    }
    if (!ended) throw broken(line)
    await countFromHere(trx)
    await tellRuns(trx)
  })
  return rows
}
