import type { Student } from '@ochote/contract'
import type { Knex } from 'knex'

const columns = ['id', 'name', 'level', 'talk', 'units']

/** Students in the database. */
export const studentStore = (db: Knex) => ({
  all: async (): Promise<Student[]> => (await db('students').orderBy('name').select(columns)) as Student[],
  byId: async (id: string): Promise<Student | null> => ((await db('students').where({ id }).first(columns)) as Student | undefined) ?? null,
  /** Adds a student; the same id sent again changes nothing. */
  add: async (student: Student): Promise<void> => {
    await db('students')
      .insert({ ...student, created_at: new Date().toISOString() })
      .onConflict('id')
      .ignore()
  },
})
export type StudentStore = ReturnType<typeof studentStore>
