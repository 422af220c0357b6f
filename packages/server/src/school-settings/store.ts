import { type SchoolSettings, type StoredSchoolSettings, schoolSettingsSchema } from '@ochote/contract'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'
import { clashOn } from '../db/dialect.ts'
import { readStored } from '../db/stored.ts'

const read = async (db: Knex): Promise<StoredSchoolSettings> => {
  const row = (await db('school_settings').where({ id: 1 }).first('version', 'doc')) as { version: number; doc: string } | undefined
  return row
    ? { version: row.version, schoolSettings: readStored(schoolSettingsSchema, row.doc, 'school_settings', '1') }
    : { version: 0, schoolSettings: schoolSettingsSchema.parse({}) }
}

/** Writes a new version if the stored one is still the version it was made from; false otherwise. */
const change = async (db: Knex, fromVersion: number, schoolSettings: SchoolSettings): Promise<boolean> => {
  const doc = JSON.stringify(schoolSettings)
  if (fromVersion === 0) {
    const added = (await db('school_settings')
      .insert({ id: 1, version: 1, doc })
      .onConflict(clashOn(db, 'id'))
      .ignore()
      .returning('id')) as unknown[]
    return added.length > 0
  }
  return (
    (await db('school_settings')
      .where({ id: 1, version: fromVersion })
      .update({ version: fromVersion + 1, doc })) === 1
  )
}

/** The school settings in the database: one versioned document; an empty one until somebody writes. */
export const schoolSettingsStore = (db: Knex) => bindTo(db, { read, change })
export type SchoolSettingsStore = ReturnType<typeof schoolSettingsStore>
