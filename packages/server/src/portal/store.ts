import { randomBytes } from 'node:crypto'
import type { StudentLink } from '@ochote/contract'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'

type Row = { token: string; day_id: string; student_id: string; created_at: string }

const toLink = (row: Row): StudentLink => ({ token: row.token, dayId: row.day_id, studentId: row.student_id, createdAt: row.created_at })

const of = async (db: Knex, dayId: string): Promise<StudentLink[]> =>
  ((await db('student_links').where({ day_id: dayId })) as Row[]).map(toLink)

const byToken = async (db: Knex, token: string): Promise<StudentLink | null> => {
  const row = (await db('student_links').where({ token }).first()) as Row | undefined
  return row ? toLink(row) : null
}

/** A student's link for a day: the one that is valid, or a new one. */
const give = async (db: Knex, dayId: string, studentId: string): Promise<StudentLink> => {
  await db('student_links')
    .insert({ token: randomBytes(24).toString('base64url'), day_id: dayId, student_id: studentId, created_at: new Date().toISOString() })
    .onConflict(['day_id', 'student_id'])
    .ignore()
  return toLink((await db('student_links').where({ day_id: dayId, student_id: studentId }).first()) as Row)
}

const withdraw = async (db: Knex, dayId: string, studentId: string): Promise<void> => {
  await db('student_links').where({ day_id: dayId, student_id: studentId }).delete()
}

/** Links given to students: one for a student and a day, with 192 random bits; withdrawing deletes it. */
export const linkStore = (db: Knex) => bindTo(db, { of, byToken, give, withdraw })
