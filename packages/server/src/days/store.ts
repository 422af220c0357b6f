import { type Day, type DayPlan, dayPlanSchema } from '@ochote/contract'
import type { Knex } from 'knex'
import { serverNow } from '../clock/clock.ts'
import { bindTo } from '../db/bind.ts'
import { clashOn, field } from '../db/dialect.ts'
import { tellDay } from '../db/happenings.ts'
import { readListed, readStored } from '../db/stored.ts'

type Row = { id: string; date: string; version: number; plan: string }

const toDay = (row: Row): Day => ({ id: row.id, version: row.version, plan: readStored(dayPlanSchema, row.plan, 'days', row.id) })
const listed = (row: Row): Day[] => {
  const plan = readListed(dayPlanSchema, row.plan, 'days', row.id)
  return plan ? [{ id: row.id, version: row.version, plan }] : []
}

const all = async (db: Knex): Promise<Day[]> => ((await db('days').orderBy('date', 'desc')) as Row[]).flatMap(listed)

const byId = async (db: Knex, id: string): Promise<Day | null> => {
  const row = (await db('days').where({ id }).first()) as Row | undefined
  return row ? toDay(row) : null
}

/** Ids of the days of a date (YYYY-MM-DD). */
const datedOn = async (db: Knex, date: string): Promise<string[]> =>
  ((await db('days').where({ date }).select('id')) as { id: string }[]).map((day) => day.id)

/** Adds a day; the same id sent again changes nothing. */
const add = (db: Knex, id: string, plan: DayPlan): Promise<void> =>
  db.transaction(async (trx) => {
    await trx('days')
      .insert({ id, date: plan.date, version: 1, plan: JSON.stringify(plan) })
      .onConflict(clashOn(trx, 'id'))
      .ignore()
    await tellDay(trx, id)
  })

/** Number of runs started on each day that has any; logs that were sent in count too. */
const runsOfDays = async (db: Knex): Promise<Map<string, number>> =>
  new Map(
    ((await db('runs').groupBy('day_id').select('day_id').count({ runs: '*' })) as { day_id: string; runs: number }[]).map((row) => [
      row.day_id,
      Number(row.runs),
    ]),
  )

/** Deletes a day with its links and events, unless something was driven on it; false then. */
const remove = async (db: Knex, id: string): Promise<boolean> =>
  db.transaction(async (trx) => {
    if (await trx('runs').where({ day_id: id }).first('id')) return false
    // What erased students left in its counts was driven, too.
    if (await trx('former_drove').where({ day_id: id }).first('day_id')) return false
    await trx('student_links').where({ day_id: id }).delete()
    await trx('day_events').where({ day_id: id }).delete()
    await trx('days').where({ id }).delete()
    await tellDay(trx, id)
    return true
  })

/**
 * The day whose board has this link; null where there is none, or it was withdrawn. `tokenOf`: the token that follows from what the plan
 * holds, which opens nothing itself. Cost: linear in the boards, by index.
 */
const byBoard = async (db: Knex, token: string, tokenOf: (key: string) => string): Promise<Day | null> => {
  const rows = (await db('days')
    .whereRaw(`${field(db, 'plan', 'board.token')} is not null`)
    .select('id', db.raw(`${field(db, 'plan', 'board.token')} as board`))) as { id: string; board: string }[]
  const row = rows.find(({ board }) => tokenOf(board) === token)
  return row ? byId(db, row.id) : null
}

/** How far around today a day counts for who works with whom (ms). */
const NEAR_MS = 90 * 24 * 3600 * 1000

/** True where an instructor has coached a student, or both are on a day of these weeks. Cost: one read by index, and those days. */
const isWith = async (db: Knex, instructorId: string, studentId: string): Promise<boolean> => {
  if (await db('runs').where({ student_id: studentId, instructor_id: instructorId }).first('id')) return true
  const date = (ms: number): string => new Date(serverNow() + ms).toISOString().slice(0, 10)
  const near = ((await db('days').whereBetween('date', [date(-NEAR_MS), date(NEAR_MS)])) as Row[]).flatMap(listed)
  return near.some(({ plan }) => plan.instructorIds.includes(instructorId) && plan.studentIds.includes(studentId))
}

/** Writes a new version if the stored one is still the version it was made from; false otherwise. */
const change = (db: Knex, id: string, fromVersion: number, plan: DayPlan): Promise<boolean> =>
  db.transaction(async (trx): Promise<boolean> => {
    const changed = await trx('days')
      .where({ id, version: fromVersion })
      .update({ date: plan.date, version: fromVersion + 1, plan: JSON.stringify(plan) })
    if (changed === 1) await tellDay(trx, id)
    return changed === 1
  })

/** Days in the database: one versioned document each. */
export const dayStore = (db: Knex) => bindTo(db, { all, byId, datedOn, byBoard, add, change, runsOfDays, remove, isWith })
export type DayStore = ReturnType<typeof dayStore>
