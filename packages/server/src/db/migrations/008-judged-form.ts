import type { Knex } from 'knex'

/**
 * Logs remember by which form of the rules they were judged, so that earlier ones are judged anew once after an upgrade; runs
 * remember what their log is held against, where somebody chose it.
 */
const up = async (db: Knex): Promise<void> => {
  await db.schema.alterTable('logs', (t) => {
    t.integer('judged_form').notNullable().defaultTo(0).index()
  })
  await db.schema.alterTable('runs', (t) => {
    t.text('held_against')
  })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const judgedForm: Knex.Migration = { up, down }
