import type { Knex } from 'knex'

/** Logs keep what was measured in them and how they were read; findings their stretch and certainty; sheets go out by links. */
const up = async (db: Knex): Promise<void> => {
  await db.schema.alterTable('logs', (t) => {
    t.text('review').notNullable().defaultTo('{}')
    t.text('mapping')
  })
  await db.schema.alterTable('laps', (t) => {
    t.float('gap_s').notNullable().defaultTo(0)
  })
  await db.schema.alterTable('findings', (t) => {
    t.float('from_m')
    t.float('to_m')
    t.float('certainty').notNullable().defaultTo(1)
  })
  await db.schema.createTable('log_mappings', (t) => {
    t.string('signature').primary()
    t.text('mapping').notNullable()
    t.string('used_at').notNullable()
  })
  await db.schema.createTable('sheet_links', (t) => {
    t.string('token').primary()
    t.string('run_id').notNullable().unique().references('runs.id').onDelete('CASCADE')
    t.string('created_at').notNullable()
  })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const review: Knex.Migration = { up, down }
