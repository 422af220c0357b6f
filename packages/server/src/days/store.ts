import { type Day, type DayPlan, dayPlanSchema } from '@ochote/contract'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'
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

/** Adds a day; the same id sent again changes nothing. */
const add = async (db: Knex, id: string, plan: DayPlan): Promise<void> => {
  await db('days')
    .insert({ id, date: plan.date, version: 1, plan: JSON.stringify(plan) })
    .onConflict('id')
    .ignore()
}

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
    return true
  })

/** The day whose board has this link; null where there is none, or it was withdrawn. */
const byBoard = async (db: Knex, token: string): Promise<Day | null> => {
  const row = (await db('days').whereRaw("json_extract(plan, '$.board.token') = ?", [token]).first('id')) as { id: string } | undefined
  return row ? byId(db, row.id) : null
}

/** Writes a new version if the stored one is still the version it was made from; false otherwise. */
const change = async (db: Knex, id: string, fromVersion: number, plan: DayPlan): Promise<boolean> =>
  (await db('days')
    .where({ id, version: fromVersion })
    .update({ date: plan.date, version: fromVersion + 1, plan: JSON.stringify(plan) })) === 1

/** Days in the database: one versioned document each. */
export const dayStore = (db: Knex) => bindTo(db, { all, byId, byBoard, add, change, runsOfDays, remove })
export type DayStore = ReturnType<typeof dayStore>
