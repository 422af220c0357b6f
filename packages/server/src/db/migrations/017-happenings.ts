import type { Knex } from 'knex'

/** What happens, for processes that share a database: each reads what the others tell. */
const up = async (db: Knex): Promise<void> => {
  await db.schema.createTable('happenings', (t) => {
    t.increments('id')
    t.string('at').notNullable().index()
    t.string('day_id')
    t.string('by')
    t.string('origin').notNullable()
    t.text('doc').notNullable()
  })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const happenings: Knex.Migration = { up, down }
