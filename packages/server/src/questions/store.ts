import type { Question } from '@ochote/contract'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'

type Row = { id: string; circuit_id: string; corner_id: string | null; text: string; answer: string; at: string }

const at = async (db: Knex, circuitId: string): Promise<Question[]> =>
  ((await db('questions').where({ circuit_id: circuitId }).orderBy('at')) as Row[]).map((row) => ({
    id: row.id,
    circuitId: row.circuit_id,
    cornerId: row.corner_id,
    text: row.text,
    answer: row.answer,
    at: row.at,
  }))

/** Adds a question, or changes the one with its id. */
const put = async (db: Knex, { id, circuitId, cornerId, text, answer, at }: Question): Promise<void> => {
  await db('questions').insert({ id, circuit_id: circuitId, corner_id: cornerId, text, answer, at }).onConflict('id').merge()
}

const remove = async (db: Knex, id: string): Promise<boolean> => (await db('questions').where({ id }).delete()) === 1

/** Questions that students asked, stored with their circuit. */
export const questionStore = (db: Knex) => bindTo(db, { at, put, remove })
export type QuestionStore = ReturnType<typeof questionStore>
