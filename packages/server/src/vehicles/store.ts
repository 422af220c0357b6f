import { vehicleSchema } from '@ochote/contract'
import type { Vehicle } from '@ochote/core'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'
import { readListed, readStored } from '../db/stored.ts'

type Row = { id: string; doc: string }

const all = async (db: Knex): Promise<Vehicle[]> =>
  ((await db('vehicles').select('id', 'doc')) as Row[]).flatMap(
    (row) => readListed(vehicleSchema, row.doc, 'vehicles', row.id) ?? [],
  ) as Vehicle[]

const byId = async (db: Knex, id: string): Promise<Vehicle | null> => {
  const row = (await db('vehicles').where({ id }).first('id', 'doc')) as Row | undefined
  return row ? (readStored(vehicleSchema, row.doc, 'vehicles', id) as Vehicle) : null
}

/** True if a day's plan or a run names a vehicle; their settings are documents, so all of them are searched. */
const isUsed = async (db: Knex, id: string): Promise<boolean> => {
  const days = await db('days').whereRaw("json_extract(plan, '$.settings.vehicleId') = ?", [id]).first('id')
  return Boolean(days ?? (await db('runs').whereRaw("json_extract(settings, '$.vehicleId') = ?", [id]).first('id')))
}

const remove = async (db: Knex, id: string): Promise<number> => db('vehicles').where({ id }).delete()

/** Stores vehicles, replacing those of the same id, all or none. */
const put = async (db: Knex, vehicles: readonly Vehicle[]): Promise<void> => {
  await db.transaction(async (trx) => {
    for (const v of vehicles)
      await trx('vehicles')
        .insert({ id: v.id, doc: JSON.stringify(v) })
        .onConflict('id')
        .merge()
  })
}

/** Vehicles in the database, one document each. */
export const vehicleStore = (db: Knex) => bindTo(db, { all, byId, isUsed, remove, put })
export type VehicleStore = ReturnType<typeof vehicleStore>
