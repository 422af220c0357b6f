import type { Knex } from 'knex'

/** Runs know their car, events the error of the clock that stamped them, ports of receivers their car. */
const up = async (db: Knex): Promise<void> => {
  await db.schema.alterTable('runs', (t) => {
    t.string('car_id')
    t.index(['ended_at', 'day_id'])
  })
  for (const table of ['run_events', 'day_events'])
    await db.schema.alterTable(table, (t) => {
      t.integer('clock_ms').notNullable().defaultTo(0)
    })
  await db.schema.createTable('receivers', (t) => {
    t.integer('port').primary()
    t.string('car_number')
  })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const runningDay: Knex.Migration = { up, down }
