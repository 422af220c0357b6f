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

const add = async (db: Knex, id: string, plan: DayPlan): Promise<Day> => {
  await db('days').insert({ id, date: plan.date, version: 1, plan: JSON.stringify(plan) })
  return { id, version: 1, plan }
}

/** Writes a new version if the stored one is still the version it was made from; false otherwise. */
const change = async (db: Knex, id: string, fromVersion: number, plan: DayPlan): Promise<boolean> =>
  (await db('days')
    .where({ id, version: fromVersion })
    .update({ date: plan.date, version: fromVersion + 1, plan: JSON.stringify(plan) })) === 1

/** Days in the database: one versioned document each. */
export const dayStore = (db: Knex) => bindTo(db, { all, byId, add, change })
export type DayStore = ReturnType<typeof dayStore>
