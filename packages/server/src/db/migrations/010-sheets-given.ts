import type { Knex } from 'knex'

/** When a run's sheet was first given to its student; links that are out count. */
const up = async (db: Knex): Promise<void> => {
  await db.schema.alterTable('runs', (t) => {
    t.string('sheet_given_at')
  })
  const links = (await db('sheet_links').select('run_id', 'created_at')) as { run_id: string; created_at: string }[]
  for (const { run_id, created_at } of links) await db('runs').where({ id: run_id }).update({ sheet_given_at: created_at })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const sheetsGiven: Knex.Migration = { up, down }
