import type { Knex } from 'knex'
import { readOut } from '../dialect.ts'

/** What a school keeps from day to day: venues, cars, what instructors teach, versions of what several people change, what was put away. */
const up = async (db: Knex): Promise<void> => {
  await db.schema.createTable('venues', (t) => {
    t.string('id').primary()
    t.integer('version').notNullable()
    t.text('doc').notNullable()
  })
  await db.schema.createTable('cars', (t) => {
    t.string('id').primary()
    t.integer('version').notNullable()
    t.text('doc').notNullable()
    t.string('archived_at')
  })
  await db.schema.alterTable('circuits', (t) => {
    t.string('venue_id').references('venues.id').onDelete('SET NULL')
    t.string('archived_at')
  })
  await db.schema.alterTable('vehicles', (t) => {
    t.integer('version').notNullable().defaultTo(1)
  })
  await db.schema.alterTable('students', (t) => {
    t.integer('version').notNullable().defaultTo(1)
    t.string('archived_at')
  })
  await db.schema.alterTable('accounts', (t) => {
    t.integer('version').notNullable().defaultTo(1)
    t.text('teaching').notNullable().defaultTo('{}')
    t.string('archived_at')
  })
  await db.schema.alterTable('runs', (t) => {
    t.boolean('practice').notNullable().defaultTo(false)
  })
  // What was said of cars is a small part of all that was logged.
  await db.raw(`create index run_events_cars on run_events (${readOut(db, 'doc', 'carId')}) where ${readOut(db, 'doc', 'kind')} = 'car'`)
  await carsOfDays(db)
}

/** Cars that days already list become the school's; of the same id the newest day's counts. */
const carsOfDays = async (db: Knex): Promise<void> => {
  const days = (await db('days').orderBy('date').select('plan')) as { plan: string }[]
  const cars = new Map<string, { id: string; number: string; vehicleId: string }>()
  for (const { plan } of days) {
    const listed = (JSON.parse(plan) as { cars?: { id: string; number: string; vehicleId: string }[] }).cars ?? []
    for (const { id, number, vehicleId } of listed) cars.set(id, { id, number, vehicleId })
  }
  for (const car of cars.values()) await db('cars').insert({ id: car.id, version: 1, doc: JSON.stringify(car) })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const ownSchool: Knex.Migration = { up, down }
