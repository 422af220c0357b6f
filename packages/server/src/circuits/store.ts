import { type CircuitSummary, type StoredCircuit, surveyToWire } from '@ochote/contract'
import { buildCircuit, findCorners, type Survey } from '@ochote/core'
import type { Knex } from 'knex'

type Row = { id: string; name: string; length_m: number; corners: number; survey: string; corner_names: string }

/** Circuits in the database: the survey as it was imported, and what people named its corners. */
export const circuitStore = (db: Knex) => ({
  all: async (): Promise<CircuitSummary[]> =>
    (await db('circuits').orderBy('created_at').select('id', 'name', 'length_m', 'corners')) as CircuitSummary[],
  byId: async (id: string): Promise<StoredCircuit | null> => {
    const row = (await db('circuits').where({ id }).first()) as Row | undefined
    return row ? { id: row.id, name: row.name, survey: JSON.parse(row.survey), cornerNames: JSON.parse(row.corner_names) } : null
  },
  /** Checks a survey by building its circuit, then stores it. @throws CoreError, with nothing stored */
  add: async (id: string, survey: Survey, cornerNames: Record<string, string> = {}): Promise<CircuitSummary> => {
    const circuit = buildCircuit(survey)
    const summary = { id, name: survey.name, length_m: circuit.length_m, corners: findCorners(circuit).length }
    await db('circuits').insert({
      ...summary,
      survey: JSON.stringify(surveyToWire(survey)),
      corner_names: JSON.stringify(cornerNames),
      created_at: new Date().toISOString(),
    })
    return summary
  },
  nameCorners: async (id: string, cornerNames: Record<string, string>): Promise<number> =>
    db('circuits')
      .where({ id })
      .update({ corner_names: JSON.stringify(cornerNames) }),
})
export type CircuitStore = ReturnType<typeof circuitStore>
