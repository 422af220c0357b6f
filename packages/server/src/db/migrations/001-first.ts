import type { Knex } from 'knex'

/** The first schema: accounts, circuits, vehicles, students, days, runs with their events, logs, laps and findings. */
const up = async (db: Knex): Promise<void> => {
  await db.schema.createTable('settings', (t) => {
    t.string('name').primary()
    t.text('value').notNullable()
  })
  await db.schema.createTable('accounts', (t) => {
    t.string('id').primary()
    t.string('name').notNullable()
    t.string('role').notNullable()
    t.string('password_hash')
    t.string('created_at').notNullable()
  })
  await db.raw('create unique index accounts_name on accounts (lower(name))')
  await db.schema.createTable('sessions', (t) => {
    t.string('sid').primary()
    t.text('data').notNullable()
    t.integer('expires_at').notNullable().index()
  })
  await db.schema.createTable('circuits', (t) => {
    t.string('id').primary()
    t.string('name').notNullable()
    t.float('length_m').notNullable()
    t.integer('corners').notNullable()
    t.text('survey').notNullable()
    t.text('corner_names').notNullable()
    t.string('created_at').notNullable()
  })
  await db.schema.createTable('vehicles', (t) => {
    t.string('id').primary()
    t.text('doc').notNullable()
  })
  await db.schema.createTable('students', (t) => {
    t.string('id').primary()
    t.string('name').notNullable()
    t.string('level').notNullable()
    t.string('talk').notNullable()
    t.string('units').notNullable()
    t.string('created_at').notNullable()
  })
  await db.schema.createTable('days', (t) => {
    t.string('id').primary()
    t.string('date').notNullable().index()
    t.integer('version').notNullable()
    t.text('plan').notNullable()
  })
  await db.schema.createTable('runs', (t) => {
    t.string('id').primary()
    t.string('day_id').notNullable().references('days.id').index()
    t.string('slot_id')
    t.string('student_id').notNullable().references('students.id')
    t.string('instructor_id').references('accounts.id')
    t.text('settings').notNullable()
    t.string('started_at').notNullable()
    t.string('ended_at')
    t.text('simulation')
    t.index(['student_id', 'started_at'])
  })
  await db.schema.createTable('run_events', (t) => {
    t.increments('seq')
    t.string('id').notNullable().unique()
    t.string('run_id').notNullable().references('runs.id')
    t.string('account_id').notNullable().references('accounts.id')
    t.string('at').notNullable()
    t.string('received_at').notNullable()
    t.text('doc').notNullable()
    t.index(['run_id', 'seq'])
  })
  await db.schema.createTable('logs', (t) => {
    t.string('run_id').primary().references('runs.id').onDelete('CASCADE')
    t.string('source').notNullable()
    t.integer('rows').notNullable()
    t.text('skipped').notNullable()
    t.binary('csv_gz').notNullable()
    t.string('created_at').notNullable()
  })
  await db.schema.createTable('laps', (t) => {
    t.string('run_id').notNullable().references('logs.run_id').onDelete('CASCADE')
    t.integer('lap').notNullable()
    t.float('start_s').notNullable()
    t.float('time_s').notNullable()
    t.binary('trace_gz').notNullable()
    t.primary(['run_id', 'lap'])
  })
  await db.schema.createTable('findings', (t) => {
    t.increments('id')
    t.string('run_id').notNullable().references('logs.run_id').onDelete('CASCADE').index()
    t.integer('lap').notNullable()
    t.string('corner_id').notNullable()
    t.float('station_m').notNullable()
    t.string('code').notNullable()
    t.boolean('root').notNullable()
    t.string('because')
    t.float('loss_s').notNullable()
    t.text('evidence').notNullable()
  })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const first: Knex.Migration = { up, down }
