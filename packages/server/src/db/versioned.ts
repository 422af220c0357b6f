import type { Knex } from 'knex'
import { clashOn } from './dialect.ts'

/** Tables of documents with a version each. */
type VersionedTable = 'cars' | 'venues' | 'vehicles'

/**
 * Writes a document over the version it was made from; version 0 adds it, and the same one sent again changes nothing.
 * False where somebody else was faster.
 */
export const putVersioned = async (
  db: Knex,
  table: VersionedTable,
  id: string,
  fromVersion: number,
  doc: object,
  columns: Readonly<Record<string, string | null>> = {},
): Promise<boolean> => {
  const text = JSON.stringify(doc)
  if (fromVersion > 0)
    return (
      (await db(table)
        .where({ id, version: fromVersion })
        .update({ version: fromVersion + 1, doc: text, ...columns })) === 1
    )
  await db(table)
    .insert({ id, version: 1, doc: text, ...columns })
    .onConflict(clashOn(db, 'id'))
    .ignore()
  const stored = (await db(table).where({ id }).first('version', 'doc')) as { version: number; doc: string }
  return stored.version === 1 && stored.doc === text
}
