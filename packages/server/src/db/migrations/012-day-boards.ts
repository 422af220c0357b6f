import type { Knex } from 'knex'
import { readOut } from '../dialect.ts'

/** Boards in the paddock are found by the link in their day's plan. */
const up = async (db: Knex): Promise<void> => {
  await db.raw(`create index days_board on days (${readOut(db, 'plan', 'board.token')})`)
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const dayBoards: Knex.Migration = { up, down }
