import type { Knex } from 'knex'
import * as first from './001-first.ts'

const migrations: readonly { name: string; migration: Knex.Migration }[] = [{ name: '001-first', migration: first }]

/** All migrations in order, as Knex wants them; a gap in their numbers is refused. */
export const migrationSource: Knex.MigrationSource<(typeof migrations)[number]> = {
  getMigrations: async () => {
    migrations.forEach((m, i) => {
      if (Number(m.name.slice(0, 3)) !== i + 1) throw new Error(`Migration ${i + 1} is missing.`)
    })
    return [...migrations]
  },
  getMigrationName: (m) => m.name,
  getMigration: async (m) => m.migration,
}
