import { type Day, type DayPlan, type DaySummary, dayPlanSchema, daySummarySchema } from '@ochote/contract'
import type { Knex } from 'knex'
import type { z } from 'zod'
import { serverNow } from '../clock/clock.ts'
import { bindTo } from '../db/bind.ts'
import { clashOn, field } from '../db/dialect.ts'
import { tellDay } from '../db/happenings.ts'
import { keptAsRead, readListed, readStored } from '../db/stored.ts'

type Row = { id: string; date: string; version: number; plan: string }
type SummaryRow = { id: string; version: number; summary: string | null; summary_of: number | null }

const toDay = (row: Row): Day => ({ id: row.id, version: row.version, plan: readStored(dayPlanSchema, row.plan, 'days', row.id) })
const listed = (row: Row): Day[] => {
  const plan = readListed(dayPlanSchema, row.plan, 'days', row.id)
  return plan ? [{ id: row.id, version: row.version, plan }] : []
}

/** A day in one line, as it is kept beside its plan. */
const summarySchema = keptAsRead(daySummarySchema.omit({ id: true, driven: true }))
type Summary = z.infer<typeof summarySchema>

const summaryOf = ({ date, title, venue, weather, template, settings, studentIds, cars, slots }: DayPlan): Summary => ({
  date,
  title,
  venue,
  weather,
  template,
  circuitId: settings.circuitId,
  students: studentIds.length,
  cars: cars.length,
  runs: slots.filter((s) => s.kind === 'run').length,
})

/** Plans that are read at a time where their summaries are missing. */
const PLANS_AT_ONCE = 10

/** Reads the plans of days and keeps their summaries for the next time. */
const summarised = async (db: Knex, ids: readonly string[]): Promise<Map<string, Summary>> => {
  const found = new Map<string, Summary>()
  for (let from = 0; from < ids.length; from += PLANS_AT_ONCE)
    for (const row of (await db('days').whereIn('id', ids.slice(from, from + PLANS_AT_ONCE))) as Row[])
      for (const { id, version, plan } of listed(row)) {
        found.set(id, summaryOf(plan))
        // It is only quicker with it: a disk that is full stops nobody from reading.
        await db('days')
          .where({ id, version })
          .update({ summary: JSON.stringify(summaryOf(plan)), summary_of: version })
          .catch(() => {})
      }
  return found
}

/** All days in one line each, the newest first. Cost: their lines; the plans of those that were changed since. */
const summaries = async (db: Knex): Promise<DaySummary[]> => {
  const rows = (await db('days').orderBy('date', 'desc').select('id', 'version', 'summary', 'summary_of')) as SummaryRow[]
  const kept = (row: SummaryRow): Summary | null =>
    row.summary !== null && row.summary_of === row.version ? readListed(summarySchema, row.summary, 'days', row.id) : null
  const known = new Map(rows.map((row) => [row.id, kept(row)]))
  const read = await summarised(
    db,
    rows.flatMap(({ id }) => (known.get(id) ? [] : [id])),
  )
  const driven = await runsOfDays(db)
  return rows.flatMap(({ id }) => {
    const summary = known.get(id) ?? read.get(id)
    return summary ? [{ id, ...summary, driven: driven.get(id) ?? 0 }] : []
  })
}

const byId = async (db: Knex, id: string): Promise<Day | null> => {
  const row = (await db('days').where({ id }).first()) as Row | undefined
  return row ? toDay(row) : null
}

/** Some days; those that there are not, or that cannot be read, are left out. */
const byIds = async (db: Knex, ids: readonly string[]): Promise<Day[]> => ((await db('days').whereIn('id', ids)) as Row[]).flatMap(listed)

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
export const dayStore = (db: Knex) => bindTo(db, { summaries, byId, byIds, datedOn, byBoard, add, change, remove, isWith })
export type DayStore = ReturnType<typeof dayStore>
