import type { Knex } from 'knex'
import { readOut } from '../dialect.ts'

/**
 * Decisions about students are stored as events; of erased students, counts without names remain; stills of videos stay with
 * their notes.
 */
const up = async (db: Knex): Promise<void> => {
  await db.schema.createTable('student_events', (t) => {
    t.increments('seq')
    t.string('id').notNullable().unique()
    t.string('student_id').notNullable().references('students.id').onDelete('CASCADE')
    t.string('account_id').references('accounts.id')
    t.string('received_at').notNullable()
    t.integer('clock_ms').notNullable().defaultTo(0)
    t.text('doc').notNullable()
    t.index(['student_id', 'seq'])
  })
  await db.raw(`create index student_events_shared on student_events (seq) where ${readOut(db, 'doc', 'kind')} = 'laps-shared'`)
  await db.raw(`create index runs_circuit on runs (${readOut(db, 'settings', 'circuitId')}, started_at)`)
  await db.schema.alterTable('runs', (t) => {
    t.boolean('sent_in').notNullable().defaultTo(false)
  })
  await db.schema.createTable('pictures', (t) => {
    t.string('id').primary()
    t.string('run_id').notNullable().references('runs.id').onDelete('CASCADE').index()
    t.binary('jpeg').notNullable()
    t.string('created_at').notNullable()
  })
  await db.schema.createTable('former_drove', (t) => {
    t.string('day_id').primary().references('days.id').onDelete('CASCADE')
    t.integer('students').notNullable()
  })
  await db.schema.createTable('former_seen', (t) => {
    t.string('day_id').notNullable().references('days.id').onDelete('CASCADE')
    t.string('corner_id').notNullable()
    t.string('code').notNullable()
    t.integer('students').notNullable()
    t.primary(['day_id', 'corner_id', 'code'])
  })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const record: Knex.Migration = { up, down }
