import type { Question } from '@ochote/contract'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'
import { clashOn } from '../db/dialect.ts'

type Row = { id: string; circuit_id: string; corner_id: string | null; text: string; answer: string; at: string; version: number }

const toQuestion = (row: Row): Question => ({
  id: row.id,
  circuitId: row.circuit_id,
  cornerId: row.corner_id,
  text: row.text,
  answer: row.answer,
  at: row.at,
  version: row.version,
})

const at = async (db: Knex, circuitId: string): Promise<Question[]> =>
  ((await db('questions').where({ circuit_id: circuitId }).orderBy('at')) as Row[]).map(toQuestion)

/**
 * Adds a question (version 0; sent again it changes nothing), or writes over the version that it was made from. False where somebody
 * else was faster.
 */
const put = async (db: Knex, { id, circuitId, cornerId, text, answer, at, version }: Question): Promise<boolean> => {
  const fields = { circuit_id: circuitId, corner_id: cornerId, text, answer, at }
  if (version > 0)
    return (
      (await db('questions')
        .where({ id, version })
        .update({ ...fields, version: version + 1 })) === 1
    )
  await db('questions')
    .insert({ id, ...fields, version: 1 })
    .onConflict(clashOn(db, 'id'))
    .ignore()
  return (
    (await db('questions')
      .where({ id, ...fields })
      .first('id')) !== undefined
  )
}

const byId = async (db: Knex, id: string): Promise<Question | null> => {
  const row = (await db('questions').where({ id }).first()) as Row | undefined
  return row ? toQuestion(row) : null
}

const remove = async (db: Knex, id: string): Promise<boolean> => (await db('questions').where({ id }).delete()) === 1

/** Questions that students asked, stored with their circuit. */
export const questionStore = (db: Knex) => bindTo(db, { at, byId, put, remove })
export type QuestionStore = ReturnType<typeof questionStore>
