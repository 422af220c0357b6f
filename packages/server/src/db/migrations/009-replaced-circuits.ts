import type { Knex } from 'knex'

/** A circuit whose start line or width was corrected gives its place to another, and is kept for the runs that were driven by it. */
const up = async (db: Knex): Promise<void> => {
  await db.schema.alterTable('circuits', (t) => {
    t.string('replaced_by')
  })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const replacedCircuits: Knex.Migration = { up, down }
