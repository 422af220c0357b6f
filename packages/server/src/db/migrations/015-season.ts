import type { Knex } from 'knex'
import { readOut } from '../dialect.ts'

/** Lists over a whole season are read by indexes: the newest runs, a student's links, what each works on, what was said of cars. */
const up = async (db: Knex): Promise<void> => {
  await db.schema.alterTable('runs', (t) => {
    t.index(['started_at'])
  })
  await db.schema.alterTable('student_links', (t) => {
    t.index(['student_id'])
  })
  await db.raw(`create index student_events_focus on student_events (seq) where ${readOut(db, 'doc', 'kind')} = 'focus-set'`)
  await db.raw(`create index run_events_of_cars on run_events (seq) where ${readOut(db, 'doc', 'kind')} = 'car'`)
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const season: Knex.Migration = { up, down }
