import { api, type DayEvent } from '@ochote/contract'
import type { Knex } from 'knex'
import type { Mount } from '../http/mount.ts'
import { HttpProblem, notFound } from '../http/problems.ts'
import type { DayStore } from './store.ts'

/** Events of days in the database, appended and never changed. */
export const dayEventStore = (db: Knex) => ({
  of: async (dayId: string): Promise<DayEvent[]> =>
    ((await db('day_events').where({ day_id: dayId }).orderBy('seq').select('doc')) as { doc: string }[]).map(
      (row) => JSON.parse(row.doc) as DayEvent,
    ),
  /** Appends events in one transaction; ids already there are left as they are. */
  append: async (accountId: string | null, events: readonly DayEvent[]): Promise<void> => {
    const received_at = new Date().toISOString()
    await db.transaction(async (trx) => {
      for (const event of events)
        await trx('day_events')
          .insert({
            id: event.id,
            day_id: event.dayId,
            student_id: 'studentId' in event ? event.studentId : null,
            account_id: accountId,
            received_at,
            doc: JSON.stringify(event),
          })
          .onConflict('id')
          .ignore()
    })
  },
})
export type DayEventStore = ReturnType<typeof dayEventStore>

/** Events of a day: list, append. What students answered comes by their links alone. */
export const dayEventRoutes = (mount: Mount, days: DayStore, events: DayEventStore): void => {
  mount(api.dayEvents, async ({ params }) => events.of(params.dayId))
  mount(api.addDayEvents, async ({ body, account }) => {
    if (body.events.some((e) => e.kind === 'quiz-answer'))
      throw new HttpProblem(400, 'invalid', 'Answers to a quiz come from the student.', 'Give the student a link to the quiz.', 'kind')
    for (const dayId of new Set(body.events.map((e) => e.dayId))) if (!(await days.byId(dayId))) throw notFound('day')
    await events.append(account?.id ?? null, body.events)
    return { stored: body.events.map((e) => e.id) }
  })
}
