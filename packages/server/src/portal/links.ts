import { randomUUID } from 'node:crypto'
import type { StudentLink } from '@ochote/contract'
import type { Knex } from 'knex'
import { serverNow, serverTime } from '../clock/clock.ts'
import { oneAtATime } from '../db/dialect.ts'
import { hashOfToken, type Secrets } from '../secrets/secrets.ts'

/** How long a link is valid after the day that it was given for (ms). */
const VALID_MS = 30 * 24 * 3600 * 1000

/** The use of a link is kept to the hour: nobody needs to know more, and reading stays reading. */
const USED_EVERY_MS = 3600 * 1000

type LinkRow = { id: string; token_hash: string; created_at: string; expires_at: string; used_at: string | null }
type StudentRow = LinkRow & { day_id: string; student_id: string }
type SheetRow = LinkRow & { run_id: string }
type LinkTable = 'student_links' | 'sheet_links'

const purposeOf = { student_links: 'student-link', sheet_links: 'sheet-link' } as const

/** The moment up to which a link is valid that is given now for a date (YYYY-MM-DD): never shorter than for one given today. */
const expiryFor = (date: string): string => new Date(Math.max(Date.parse(`${date}T23:59:59Z`) || 0, serverNow()) + VALID_MS).toISOString()

/** A new row of a link. Its token follows from its id and this server's key, so that it can be shown again but stands nowhere. */
const newRow = (secrets: Secrets, table: LinkTable, date: string): Omit<LinkRow, 'used_at'> => {
  const id = randomUUID()
  return {
    id,
    token_hash: hashOfToken(secrets.token(purposeOf[table], id)),
    created_at: serverTime(),
    expires_at: expiryFor(date),
  }
}

/** The token of a link; null where it was made by another key and can only be given anew. */
const tokenOf = (secrets: Secrets, table: LinkTable, row: LinkRow): string | null => {
  const token = secrets.token(purposeOf[table], row.id)
  return hashOfToken(token) === row.token_hash ? token : null
}

const isOver = (row: LinkRow): boolean => Date.parse(row.expires_at) < serverNow()

/** The row that a token opens, with its use noted; null for one that was withdrawn, has ended, or never was. */
const opened = async <R extends LinkRow>(db: Knex, table: LinkTable, token: string): Promise<R | null> => {
  const row = (await db(table)
    .where({ token_hash: hashOfToken(token) })
    .first()) as R | undefined
  if (!row || isOver(row)) return null
  if (!row.used_at || serverNow() - Date.parse(row.used_at) > USED_EVERY_MS)
    // A disk that takes nothing must not close the page of a student.
    await db(table)
      .where({ id: row.id })
      .update({ used_at: serverTime() })
      .catch(() => {})
  return row
}

/** Links given to students, one for a student and a day, and to sheets of runs. */
export const linkStore = (db: Knex, secrets: Secrets) => {
  const toLink = (row: StudentRow): StudentLink => ({
    token: isOver(row) ? null : tokenOf(secrets, 'student_links', row),
    dayId: row.day_id,
    studentId: row.student_id,
    createdAt: row.created_at,
    expiresAt: row.expires_at,
    usedAt: row.used_at,
  })
  /** Gives a link where none is valid; one that has ended, or cannot be shown any more, gives way to a new one. */
  const give = async (table: LinkTable, date: string, key: Record<string, string>): Promise<LinkRow> =>
    db.transaction(async (trx) => {
      await oneAtATime(trx, `${table} ${Object.values(key).join(' ')}`)
      const before = (await trx(table).where(key).first()) as LinkRow | undefined
      if (before && !isOver(before) && tokenOf(secrets, table, before) !== null) return before
      await trx(table).where(key).delete()
      await trx(table).insert({ ...newRow(secrets, table, date), ...key })
      return (await trx(table).where(key).first()) as LinkRow
    })
  const sheetRow = async (runId: string): Promise<SheetRow | undefined> => db('sheet_links').where({ run_id: runId }).first()
  return {
    of: async (dayId: string): Promise<StudentLink[]> => ((await db('student_links').where({ day_id: dayId })) as StudentRow[]).map(toLink),
    byToken: async (token: string): Promise<StudentLink | null> => {
      const row = await opened<StudentRow>(db, 'student_links', token)
      return row && toLink(row)
    },
    /** A student's link for a day: the one that is valid, or a new one. `date`: the day's. */
    give: async (dayId: string, date: string, studentId: string): Promise<StudentLink> =>
      toLink((await give('student_links', date, { day_id: dayId, student_id: studentId })) as StudentRow),
    withdraw: async (dayId: string, studentId: string): Promise<void> => {
      await db('student_links').where({ day_id: dayId, student_id: studentId }).delete()
    },
    /** The run that a sheet's link belongs to. */
    runOfSheet: async (token: string): Promise<string | null> => (await opened<SheetRow>(db, 'sheet_links', token))?.run_id ?? null,
    /** The token of a run's sheet; null where no valid link is out. */
    sheetToken: async (runId: string): Promise<string | null> => {
      const row = await sheetRow(runId)
      return row && !isOver(row) ? tokenOf(secrets, 'sheet_links', row) : null
    },
    /** The link of a run's sheet: the one that is valid, or a new one. `date`: when it was driven. */
    giveSheet: async (runId: string, date: string): Promise<string> => {
      const row = await give('sheet_links', date, { run_id: runId })
      return secrets.token('sheet-link', row.id)
    },
    /** The token of a board in the paddock, from the key that its day's plan holds. */
    boardToken: (key: string): string => secrets.token('board-link', key),
    withdrawSheet: async (runId: string): Promise<void> => {
      await db('sheet_links').where({ run_id: runId }).delete()
    },
  }
}
