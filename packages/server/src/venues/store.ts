import { type StoredVenue, type Venue, venueSchema } from '@ochote/contract'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'
import { readListed } from '../db/stored.ts'
import { putVersioned } from '../db/versioned.ts'

type Row = { id: string; version: number; doc: string }

const all = async (db: Knex): Promise<StoredVenue[]> =>
  ((await db('venues').select('id', 'version', 'doc')) as Row[])
    .flatMap((row) => {
      const venue = readListed(venueSchema, row.doc, 'venues', row.id)
      return venue ? [{ ...venue, version: row.version }] : []
    })
    .sort((a, b) => a.name.localeCompare(b.name))

/** Writes a venue over the version it was made from; false where somebody else was faster. */
const put = (db: Knex, venue: Venue, fromVersion: number): Promise<boolean> => putVersioned(db, 'venues', venue.id, fromVersion, venue)

/** Removes a venue; its layouts stay, without one. */
const remove = (db: Knex, id: string): Promise<number> =>
  db.transaction(async (trx): Promise<number> => {
    await trx('circuits').where({ venue_id: id }).update({ venue_id: null })
    return trx('venues').where({ id }).delete()
  })

/** Venues in the database, one versioned document each. */
export const venueStore = (db: Knex) => bindTo(db, { all, put, remove })
export type VenueStore = ReturnType<typeof venueStore>
