import {
  type CircuitNotes,
  type CircuitSummary,
  circuitNotesSchema,
  type StoredCircuit,
  surveySchema,
  surveyToWire,
} from '@ochote/contract'
import { buildCircuit, makeVenue, type Survey } from '@ochote/core'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'
import { readStored } from '../db/stored.ts'

type Row = { id: string; name: string; length_m: number; corners: number; survey: string; version: number; notes: string }

const noNotes: CircuitNotes = { cornerNames: {}, cornerEdits: [], ground: [], pins: [], cornerTips: {} }

const all = async (db: Knex): Promise<CircuitSummary[]> =>
  (await db('circuits').whereNull('replaced_by').orderBy('created_at').select('id', 'name', 'length_m', 'corners')) as CircuitSummary[]

const byId = async (db: Knex, id: string): Promise<StoredCircuit | null> => {
  const row = (await db('circuits').where({ id }).first()) as Row | undefined
  return row
    ? {
        id: row.id,
        name: row.name,
        survey: readStored(surveySchema, row.survey, 'circuits', id),
        version: row.version,
        notes: readStored(circuitNotesSchema, row.notes, 'circuits', id),
      }
    : null
}

/** Checks a survey by building its circuit, then stores it. @throws CoreError, with nothing stored */
const add = async (db: Knex, id: string, survey: Survey, notes: CircuitNotes = noNotes): Promise<CircuitSummary> => {
  const circuit = buildCircuit(survey)
  const summary = { id, name: survey.name, length_m: circuit.length_m, corners: makeVenue(circuit, notes).corners.length }
  await db('circuits').insert({
    ...summary,
    survey: JSON.stringify(surveyToWire(survey)),
    version: 1,
    notes: JSON.stringify(notes),
    created_at: new Date().toISOString(),
  })
  return summary
}

/** Gives a circuit's place in the lists to another; days and runs that name it keep it. */
const replace = async (db: Knex, id: string, by: string): Promise<void> => {
  await db('circuits').where({ id }).update({ replaced_by: by })
}

/** Writes new notes if the stored ones are still the version they were made from; false otherwise. */
const saveNotes = async (db: Knex, id: string, fromVersion: number, notes: CircuitNotes): Promise<boolean> =>
  (await db('circuits')
    .where({ id, version: fromVersion })
    .update({ version: fromVersion + 1, notes: JSON.stringify(notes) })) === 1

/** Circuits in the database: the survey as it was imported, and what people noted of it as one versioned document. */
export const circuitStore = (db: Knex) => bindTo(db, { all, byId, add, replace, saveNotes })
export type CircuitStore = ReturnType<typeof circuitStore>
