import type { Knex } from 'knex'
import { isTrue } from '../dialect.ts'

/**
 * Ended runs know that their log is still to be read, so that a server that was killed goes on with it; logs, questions and circuits
 * know their version, so that nobody overwrites what somebody else has just written.
 */
const up = async (db: Knex): Promise<void> => {
  await db.schema.alterTable('runs', (t) => {
    t.boolean('log_due').notNullable().defaultTo(false)
  })
  await db.raw(`create index runs_log_due on runs (ended_at) where ${isTrue(db, 'log_due')}`)
  await db.schema.alterTable('logs', (t) => {
    t.integer('version').notNullable().defaultTo(1)
  })
  await db.schema.alterTable('questions', (t) => {
    t.integer('version').notNullable().defaultTo(1)
  })
  // The notes of a circuit have a version of their own; this one is of its name, its venue, and whether it was put away.
  await db.schema.alterTable('circuits', (t) => {
    t.integer('listed_version').notNullable().defaultTo(1)
  })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const resumable: Knex.Migration = { up, down }
