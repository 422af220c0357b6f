import { type DayPlan, profileSchema, type Student } from '@ochote/contract'
import type { Knex } from 'knex'

const columns = ['id', 'name', 'level', 'talk', 'units', 'profile']

type Row = Omit<Student, 'profile'> & { profile: string }
const toStudent = (row: Row): Student => ({ ...row, profile: profileSchema.parse(JSON.parse(row.profile)) })
const toRow = ({ profile, ...student }: Student): Row => ({ ...student, profile: JSON.stringify(profile) })

/** Students in the database. */
export const studentStore = (db: Knex) => ({
  all: async (): Promise<Student[]> => ((await db('students').orderBy('name').select(columns)) as Row[]).map(toStudent),
  byId: async (id: string): Promise<Student | null> => {
    const row = (await db('students').where({ id }).first(columns)) as Row | undefined
    return row ? toStudent(row) : null
  },
  /** Adds a student; the same id sent again changes nothing. */
  add: async (student: Student): Promise<void> => {
    await db('students')
      .insert({ ...toRow(student), created_at: new Date().toISOString() })
      .onConflict('id')
      .ignore()
  },
  change: async (student: Student): Promise<void> => {
    const { id, ...row } = toRow(student)
    await db('students').where({ id }).update(row)
  },
  /** Erases a student with runs, logs, observations, answers and links, and takes the name out of every day, all or nothing. */
  erase: async (id: string): Promise<void> => {
    await db.transaction(async (trx) => {
      const runs = trx('runs').where({ student_id: id }).select('id')
      await trx('run_events').whereIn('run_id', runs.clone()).delete()
      await trx('logs').whereIn('run_id', runs.clone()).delete()
      await trx('runs').where({ student_id: id }).delete()
      await trx('day_events').where({ student_id: id }).delete()
      await trx('student_links').where({ student_id: id }).delete()
      for (const day of (await trx('days').select('id', 'version', 'plan')) as { id: string; version: number; plan: string }[]) {
        const plan = JSON.parse(day.plan) as DayPlan
        if (!plan.studentIds.includes(id) && !plan.slots.some((s) => s.studentId === id)) continue
        const without: DayPlan = {
          ...plan,
          studentIds: plan.studentIds.filter((s) => s !== id),
          slots: plan.slots.filter((s) => s.studentId !== id),
        }
        await trx('days')
          .where({ id: day.id })
          .update({ version: day.version + 1, plan: JSON.stringify(without) })
      }
      await trx('students').where({ id }).delete()
    })
  },
})
export type StudentStore = ReturnType<typeof studentStore>
