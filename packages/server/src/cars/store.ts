import { type CarCondition, type StoredCar, schoolCarSchema } from '@ochote/contract'
import type { SchoolCar } from '@ochote/core'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'
import { field } from '../db/dialect.ts'
import { type EventRow, eventOf } from '../db/events.ts'
import { readListed } from '../db/stored.ts'
import { putVersioned } from '../db/versioned.ts'

type Row = { id: string; version: number; doc: string; archived_at: string | null }

/** What was said of cars after their runs, newest first; of one car or of all. */
type Said = CarCondition & { date: string; studentName: string; by: string | null }
const said = async (db: Knex, carId?: string): Promise<Said[]> => {
  const query = db('run_events')
    .join('runs', 'runs.id', 'run_events.run_id')
    .join('days', 'days.id', 'runs.day_id')
    .join('students', 'students.id', 'runs.student_id')
    .leftJoin('accounts', 'accounts.id', 'run_events.account_id')
    .whereRaw(`${field(db, 'run_events.doc', 'kind')} = 'car'`)
    .orderBy('run_events.seq', 'desc')
    .select('run_events.id', 'run_events.doc', 'run_events.clock_ms', 'days.date', 'students.name as student', 'accounts.name as by')
  if (carId !== undefined) query.whereRaw(`${field(db, 'run_events.doc', 'carId')} = ?`, [carId])
  return ((await query) as (EventRow & { date: string; student: string; by: string | null })[]).flatMap((row) => {
    const event = eventOf('run_events', row)
    if (event?.kind !== 'car') return []
    const { kind: _, id: __, ...condition } = event
    return [{ ...condition, date: row.date, studentName: row.student, by: row.by }]
  })
}

/** All cars by their number, with the last word on each. */
const all = async (db: Knex): Promise<StoredCar[]> => {
  const last = new Map<string, CarCondition>()
  for (const { date: _, studentName: __, by: ___, ...condition } of await said(db))
    if (!last.has(condition.carId)) last.set(condition.carId, condition)
  const rows = (await db('cars').select('id', 'version', 'doc', 'archived_at')) as Row[]
  return rows
    .flatMap((row) => {
      const car = readListed(schoolCarSchema, row.doc, 'cars', row.id)
      return car ? [{ ...car, version: row.version, archivedAt: row.archived_at, condition: last.get(car.id) ?? null }] : []
    })
    .sort((a, b) => a.number.localeCompare(b.number, 'en', { numeric: true }))
}

/** Writes a car over the version it was made from; false where somebody else was faster. */
const put = (db: Knex, car: SchoolCar, fromVersion: number, archivedAt: string | null): Promise<boolean> =>
  putVersioned(db, 'cars', car.id, fromVersion, car, { archived_at: archivedAt })

/** True if a run was driven in a car. */
const wasDriven = async (db: Knex, id: string): Promise<boolean> => Boolean(await db('runs').where({ car_id: id }).first('id'))

const remove = async (db: Knex, id: string): Promise<number> => db('cars').where({ id }).delete()

/** Cars of the school and of students, one versioned document each. */
export const carStore = (db: Knex) => bindTo(db, { all, said, put, wasDriven, remove })
export type CarStore = ReturnType<typeof carStore>
