import type { Knex } from 'knex'

/** Circuits get a versioned document of notes: names of corners (which had a column before), changes of corners, ground. */
const up = async (db: Knex): Promise<void> => {
  await db.schema.alterTable('circuits', (t) => {
    t.integer('version').notNullable().defaultTo(1)
    t.text('notes')
  })
  const rows = (await db('circuits').select('id', 'corner_names')) as { id: string; corner_names: string }[]
  for (const row of rows) {
    const notes = { cornerNames: JSON.parse(row.corner_names), cornerEdits: [], ground: [] }
    await db('circuits')
      .where({ id: row.id })
      .update({ notes: JSON.stringify(notes) })
  }
  await db.schema.alterTable('circuits', (t) => t.dropColumn('corner_names'))
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const circuitNotes: Knex.Migration = { up, down }
