import type { Knex } from 'knex'

/** The newest half minute whose code an account has used: such a code opens nothing again, also after a restart. */
const up = async (db: Knex): Promise<void> => {
  await db.schema.alterTable('accounts', (t) => {
    t.integer('code_step').notNullable().defaultTo(0)
  })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const codeSteps: Knex.Migration = { up, down }
