import { type Kit, kitSchema, type StoredKit } from '@ochote/contract'
import type { Knex } from 'knex'
import { readStored } from '../db/stored.ts'

/** The school's kit in the database: one versioned document; an empty one until somebody writes. */
export const kitStore = (db: Knex) => {
  const read = async (): Promise<StoredKit> => {
    const row = (await db('school_settings').where({ id: 1 }).first('version', 'doc')) as { version: number; doc: string } | undefined
    return row
      ? { version: row.version, kit: readStored(kitSchema, row.doc, 'school_settings', '1') }
      : { version: 0, kit: kitSchema.parse({}) }
  }
  return {
    read,
    /** Writes a new version if the stored one is still the version it was made from; false otherwise. */
    change: async (fromVersion: number, kit: Kit): Promise<boolean> => {
      const doc = JSON.stringify(kit)
      if (fromVersion === 0) {
        const added = await db('school_settings').insert({ id: 1, version: 1, doc }).onConflict('id').ignore()
        return added.length > 0 && (await read()).version === 1
      }
      return (
        (await db('school_settings')
          .where({ id: 1, version: fromVersion })
          .update({ version: fromVersion + 1, doc })) === 1
      )
    },
  }
}
export type KitStore = ReturnType<typeof kitStore>
