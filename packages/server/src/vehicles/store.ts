import { isDeepStrictEqual } from 'node:util'
import { type StoredVehicle, vehicleSchema } from '@ochote/contract'
import type { Vehicle } from '@ochote/core'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'
import { field, someInList } from '../db/dialect.ts'
import { readListed, readStored } from '../db/stored.ts'
import { putVersioned } from '../db/versioned.ts'

type Row = { id: string; doc: string; version: number }

const all = async (db: Knex): Promise<StoredVehicle[]> =>
  ((await db('vehicles').select('id', 'doc', 'version')) as Row[]).flatMap((row) => {
    const vehicle = readListed(vehicleSchema, row.doc, 'vehicles', row.id)
    return vehicle ? [{ ...vehicle, version: row.version }] : []
  })

const byId = async (db: Knex, id: string): Promise<Vehicle | null> => {
  const row = (await db('vehicles').where({ id }).first('id', 'doc')) as Row | undefined
  return row ? (readStored(vehicleSchema, row.doc, 'vehicles', id) as Vehicle) : null
}

/** True if a day's plan, a car or a run names a vehicle; their settings are documents, so all of them are searched. */
const isUsed = async (db: Knex, id: string): Promise<boolean> => {
  const naming = [
    db('days').whereRaw(`${field(db, 'plan', 'settings.vehicleId')} = ?`, [id]),
    db('days').whereRaw(someInList(db, 'plan', 'cars', 'vehicleId'), [id]),
    db('cars').whereRaw(`${field(db, 'doc', 'vehicleId')} = ?`, [id]),
    db('runs').whereRaw(`${field(db, 'settings', 'vehicleId')} = ?`, [id]),
  ]
  for (const query of naming) if (await query.first('id')) return true
  return false
}

const remove = async (db: Knex, id: string): Promise<number> => db('vehicles').where({ id }).delete()

/** What a file did not do: names of vehicles that are here and differ, and names of those that were changed since they were seen. */
type NotPut = { differing: string[]; changed: string[] }

/**
 * Stores vehicles of a file, all or none. One that is here with other values is replaced only over the version that `replacing` names
 * for it; what would have been overwritten is told.
 */
const put = async (db: Knex, vehicles: readonly Vehicle[], replacing: ReadonlyMap<string, number>): Promise<NotPut> => {
  const not: NotPut = { differing: [], changed: [] }
  await db.transaction(async (trx) => {
    for (const v of vehicles) {
      const seen = replacing.get(v.id)
      if (await putVersioned(trx, 'vehicles', v.id, seen ?? 0, v)) continue
      const stored = await byId(trx, v.id)
      // The same values again change nothing.
      if (stored && isDeepStrictEqual(stored, v)) continue
      if (seen === undefined) not.differing.push(stored?.name ?? v.name)
      else not.changed.push(stored?.name ?? v.name)
    }
    if (not.differing.length + not.changed.length > 0) await trx.rollback()
  })
  return not
}

/** Writes one vehicle over the version it was made from; false where somebody else was faster. */
const change = (db: Knex, vehicle: Vehicle, fromVersion: number): Promise<boolean> =>
  putVersioned(db, 'vehicles', vehicle.id, fromVersion, vehicle)

/** Vehicles in the database, one document each. */
export const vehicleStore = (db: Knex) => bindTo(db, { all, byId, isUsed, remove, put, change })
export type VehicleStore = ReturnType<typeof vehicleStore>
