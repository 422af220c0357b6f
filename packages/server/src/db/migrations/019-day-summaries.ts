import type { Knex } from 'knex'

/**
 * What long lists are read by: a day in one line beside its plan, and of which version of the plan that is; how often each student drove, by
 * an index alone.
 */
const up = async (db: Knex): Promise<void> => {
  await db.schema.alterTable('days', (t) => {
    t.text('summary')
    t.integer('summary_of')
  })
  await db.schema.alterTable('runs', (t) => {
    t.dropIndex(['student_id', 'started_at'])
    t.index(['student_id', 'started_at', 'practice'])
  })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const daySummaries: Knex.Migration = { up, down }
