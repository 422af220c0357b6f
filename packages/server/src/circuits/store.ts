import {
  type CircuitNotes,
  type CircuitSummary,
  circuitNotesSchema,
  type StoredCircuit,
  surveySchema,
  surveyToWire,
  type WireSurvey,
} from '@ochote/contract'
import { buildCircuit, makeVenue, type Survey } from '@ochote/core'
import type { Knex } from 'knex'
import { LRUCache } from 'lru-cache'
import { serverTime } from '../clock/clock.ts'
import { bindTo } from '../db/bind.ts'
import { clashOn, field } from '../db/dialect.ts'
import { readStored } from '../db/stored.ts'

type Row = { id: string; name: string; length_m: number; corners: number; survey: string; version: number; notes: string }

const noNotes: CircuitNotes = { cornerNames: {}, cornerEdits: [], ground: [], pins: [], cornerTips: {} }

const summaryColumns = ['id', 'name', 'length_m', 'corners', 'venue_id', 'archived_at', 'listed_version']
type SummaryRow = Pick<Row, 'id' | 'name' | 'length_m' | 'corners'> & {
  venue_id: string | null
  archived_at: string | null
  listed_version: number
}
const toSummary = ({ venue_id, archived_at, listed_version, ...row }: SummaryRow): CircuitSummary => ({
  ...row,
  version: listed_version,
  venueId: venue_id,
  archivedAt: archived_at,
})

const all = async (db: Knex): Promise<CircuitSummary[]> =>
  ((await db('circuits').whereNull('replaced_by').orderBy('created_at').select(summaryColumns)) as SummaryRow[]).map(toSummary)

/** Surveys as they were read last. A survey is never changed: a corrected one is another circuit. */
const surveys = new LRUCache<string, WireSurvey>({ max: 24 })

/** The survey of a circuit; reading one of 5 km from its text takes some milliseconds, so that the last ones are kept. */
const surveyOf = async (db: Knex, id: string, madeAt: string): Promise<WireSurvey> => {
  // A restored school may hold another circuit under the same id.
  const key = `${id} ${madeAt}`
  const known = surveys.get(key)
  if (known) return known
  const row = (await db('circuits').where({ id }).first('survey')) as { survey: string }
  const survey = readStored(surveySchema, row.survey, 'circuits', id)
  surveys.set(key, survey)
  return survey
}

const byId = async (db: Knex, id: string): Promise<StoredCircuit | null> => {
  const row = (await db('circuits').where({ id }).first('id', 'name', 'version', 'notes', 'created_at')) as
    | (Pick<Row, 'id' | 'name' | 'version' | 'notes'> & { created_at: string })
    | undefined
  return row
    ? {
        id: row.id,
        name: row.name,
        survey: await surveyOf(db, id, row.created_at),
        version: row.version,
        notes: readStored(circuitNotesSchema, row.notes, 'circuits', id),
      }
    : null
}

/** A circuit that was read and built, ready to be kept. */
type BuiltCircuit = { survey: WireSurvey; notes: CircuitNotes; length_m: number; corners: number }

/** Keeps a circuit that was built; the same id sent again changes nothing. */
const keep = async (db: Knex, id: string, name: string, built: BuiltCircuit): Promise<CircuitSummary> => {
  await db('circuits')
    .insert({
      id,
      name,
      length_m: built.length_m,
      corners: built.corners,
      survey: JSON.stringify({ ...built.survey, name }),
      version: 1,
      notes: JSON.stringify(built.notes),
      created_at: serverTime(),
    })
    .onConflict(clashOn(db, 'id'))
    .ignore()
  return toSummary((await db('circuits').where({ id }).first(summaryColumns)) as SummaryRow)
}

/** Checks a survey by building its circuit, then keeps it. @throws CoreError, with nothing stored */
const add = async (db: Knex, id: string, survey: Survey, notes: CircuitNotes = noNotes): Promise<CircuitSummary> => {
  const circuit = buildCircuit(survey)
  const corners = makeVenue(circuit, notes).corners.length
  return keep(db, id, survey.name, { survey: surveyToWire(survey), notes, length_m: circuit.length_m, corners })
}

/** Gives a circuit's place in the lists, and in its venue, to another; days and runs that name it keep it. */
const replace = async (db: Knex, id: string, by: string): Promise<void> => {
  const older = (await db('circuits').where({ id }).first('venue_id')) as { venue_id: string | null } | undefined
  await db('circuits').where({ id }).update({ replaced_by: by })
  await db('circuits')
    .where({ id: by })
    .update({ venue_id: older?.venue_id ?? null })
}

/** Puts a circuit away or back; of what others changed at the same time nothing is lost. */
const setArchived = async (db: Knex, id: string, archivedAt: string | null): Promise<void> => {
  await db('circuits')
    .where({ id })
    .update({ archived_at: archivedAt, listed_version: db.raw('listed_version + 1') })
}

/** Names a circuit and says of which venue it is a layout, over the version that it was made from; false where somebody else was faster. */
const rename = async (db: Knex, id: string, fromVersion: number, name: string, venueId: string | null): Promise<boolean> =>
  (await db('circuits')
    .where({ id, listed_version: fromVersion })
    .update({ name, venue_id: venueId, listed_version: fromVersion + 1 })) === 1

/** True if a day's plan or a run names a circuit, or one that it took the place of. */
const isUsed = async (db: Knex, id: string): Promise<boolean> => {
  const ids = [id, ...((await db('circuits').where({ replaced_by: id }).select('id')) as { id: string }[]).map((row) => row.id)]
  for (const [table, column] of [
    ['days', 'plan'],
    ['runs', 'settings'],
  ] as const) {
    const path = table === 'days' ? 'settings.circuitId' : 'circuitId'
    const marks = ids.map(() => '?').join(', ')
    if (
      await db(table)
        .whereRaw(`${field(db, column, path)} in (${marks})`, ids)
        .first('id')
    )
      return true
  }
  return false
}

const remove = async (db: Knex, id: string): Promise<void> => {
  await db.transaction(async (trx) => {
    await trx('questions').where({ circuit_id: id }).delete()
    await trx('circuits').where({ replaced_by: id }).delete()
    await trx('circuits').where({ id }).delete()
  })
}

/** Writes new notes if the stored ones are still the version they were made from; false otherwise. */
const saveNotes = async (db: Knex, id: string, fromVersion: number, notes: CircuitNotes): Promise<boolean> =>
  (await db('circuits')
    .where({ id, version: fromVersion })
    .update({ version: fromVersion + 1, notes: JSON.stringify(notes) })) === 1

/** Circuits in the database: the survey as it was imported, and what people noted of it as one versioned document. */
export const circuitStore = (db: Knex) => bindTo(db, { all, byId, add, keep, replace, setArchived, rename, isUsed, remove, saveNotes })
export type CircuitStore = ReturnType<typeof circuitStore>
