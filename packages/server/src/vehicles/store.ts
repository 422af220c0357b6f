import { type StoredVehicle, vehicleSchema } from '@ochote/contract'
import type { Vehicle } from '@ochote/core'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'
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
    db('days').whereRaw("json_extract(plan, '$.settings.vehicleId') = ?", [id]),
    db('days').whereRaw("exists (select 1 from json_each(plan, '$.cars') where json_extract(value, '$.vehicleId') = ?)", [id]),
    db('cars').whereRaw("json_extract(doc, '$.vehicleId') = ?", [id]),
    db('runs').whereRaw("json_extract(settings, '$.vehicleId') = ?", [id]),
  ]
  for (const query of naming) if (await query.first('id')) return true
  return false
}

const remove = async (db: Knex, id: string): Promise<number> => db('vehicles').where({ id }).delete()

/** Stores vehicles of a file, replacing those of the same id, all or none. */
const put = async (db: Knex, vehicles: readonly Vehicle[]): Promise<void> => {
  await db.transaction(async (trx) => {
    for (const v of vehicles)
      await trx('vehicles')
        .insert({ id: v.id, doc: JSON.stringify(v), version: 1 })
        .onConflict('id')
        .merge({ doc: JSON.stringify(v), version: trx.raw('vehicles.version + 1') })
  })
}

/** Writes one vehicle over the version it was made from; false where somebody else was faster. */
const change = (db: Knex, vehicle: Vehicle, fromVersion: number): Promise<boolean> =>
  putVersioned(db, 'vehicles', vehicle.id, fromVersion, vehicle)

/** Vehicles in the database, one document each. */
export const vehicleStore = (db: Knex) => bindTo(db, { all, byId, isUsed, remove, put, change })
export type VehicleStore = ReturnType<typeof vehicleStore>
