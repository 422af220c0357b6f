import type { Knex } from 'knex'

/** Who has something under way, for processes that share a database: files on their way, screens that follow a day. */
const up = async (db: Knex): Promise<void> => {
  await db.schema.createTable('present', (t) => {
    t.string('id').primary()
    t.string('key').notNullable().index()
    t.integer('until').notNullable().index()
  })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const present: Knex.Migration = { up, down }
