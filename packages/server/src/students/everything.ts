import { dayPlanSchema } from '@ochote/contract'
import type { Knex } from 'knex'
import { inJson, readListed } from '../db/stored.ts'

/** What is kept of a student beside their runs. */
export type KeptBeside = {
  /** What was entered on days about them, and what they answered and acknowledged. */
  dayEvents: unknown[]
  /** Decisions about them. */
  decisions: unknown[]
  /** Links that they were given, without what opens them. */
  links: unknown[]
  /** Where days name them: group, sessions, wishes. */
  days: { id: string; date: string; title: string; groups: string[]; slots: unknown[]; wishes: unknown }[]
}

type EventRow = { doc: string; received_at: string; by: string | null }

const eventsOf = async (db: Knex, table: 'day_events' | 'student_events', studentId: string): Promise<unknown[]> =>
  (
    (await db(table)
      .leftJoin('accounts', 'accounts.id', `${table}.account_id`)
      .where({ student_id: studentId })
      .orderBy(`${table}.seq`)
      .select(`${table}.doc`, `${table}.received_at`, 'accounts.name as by')) as EventRow[]
  ).map(({ doc, received_at, by }) => ({ ...(JSON.parse(doc) as object), receivedAt: received_at, by }))

/** Everything beside runs that names a student. Cost: linear in the days, which are searched for the name. */
export const keptBeside = async (db: Knex, studentId: string): Promise<KeptBeside> => {
  const rows = (await db('days')
    .whereLike('plan', `%${inJson(studentId)}%`)
    .orderBy('date')) as { id: string; date: string; plan: string }[]
  const days = rows.flatMap(({ id, date, plan: text }) => {
    const plan = readListed(dayPlanSchema, text, 'days', id)
    if (!plan) return []
    const { people } = plan.planning
    return [
      {
        id,
        date,
        title: plan.title,
        groups: plan.groups.filter((group) => group.studentIds.includes(studentId)).map((group) => group.name),
        slots: plan.slots.filter((slot) => slot.studentId === studentId),
        wishes: people[studentId] ?? null,
      },
    ]
  })
  const links = await db('student_links')
    .where({ student_id: studentId })
    .select('day_id as dayId', 'created_at as createdAt', 'expires_at as expiresAt', 'used_at as usedAt')
  return { dayEvents: await eventsOf(db, 'day_events', studentId), decisions: await eventsOf(db, 'student_events', studentId), links, days }
}

/** Ids of all runs of a student, practice too, oldest first. */
export const runIdsOf = async (db: Knex, studentId: string): Promise<string[]> =>
  ((await db('runs').where({ student_id: studentId }).orderBy('started_at').select('id')) as { id: string }[]).map((run) => run.id)
