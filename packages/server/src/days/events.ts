import { api, type Refused } from '@ochote/contract'
import type { DayEvent } from '@ochote/core'
import type { Knex } from 'knex'
import { acknowledge } from '../db/acknowledge.ts'
import { bindTo } from '../db/bind.ts'
import { appendEvents, type EventRow, eventOf, eventsOf } from '../db/events.ts'
import type { Mount } from '../http/mount.ts'
import { HttpProblem } from '../http/problems.ts'
import type { DayStore } from './store.ts'

const of = async (db: Knex, dayId: string): Promise<DayEvent[]> =>
  eventsOf('day_events', (await db('day_events').where({ day_id: dayId }).orderBy('seq').select('id', 'doc', 'clock_ms')) as EventRow[])

/** Incidents in which one of these runs had a part, with their day's date. */
const incidentsOf = async (
  db: Knex,
  runs: readonly { id: string; dayId: string }[],
): Promise<{ date: string; event: Extract<DayEvent, { kind: 'incident' }> }[]> => {
  const rows = (await db('day_events')
    .join('days', 'days.id', 'day_events.day_id')
    .whereIn('day_events.day_id', [...new Set(runs.map((run) => run.dayId))])
    .whereRaw("json_extract(day_events.doc, '$.kind') = 'incident'")
    .orderBy('day_events.seq')
    .select('day_events.id', 'day_events.doc', 'day_events.clock_ms', 'days.date')) as (EventRow & { date: string })[]
  const ids = new Set(runs.map((run) => run.id))
  return rows.flatMap((row) => {
    const event = eventOf('day_events', row)
    return event?.kind === 'incident' && event.runId !== null && ids.has(event.runId) ? [{ date: row.date, event }] : []
  })
}

/** Appends events and returns the new ones. */
const append = (db: Knex, accountId: string | null, events: readonly DayEvent[], clock_ms = 0): Promise<DayEvent[]> =>
  appendEvents(db, 'day_events', events, { account_id: accountId, clock_ms }, (event) => ({
    day_id: event.dayId,
    student_id: 'studentId' in event ? event.studentId : null,
  }))

/** Events of days in the database, appended and never changed. */
export const dayEventStore = (db: Knex) => bindTo(db, { of, incidentsOf, append })
export type DayEventStore = ReturnType<typeof dayEventStore>

/** Events of a day: list, append. Answers of students come by their links only. */
export const dayEventRoutes = (
  mount: Mount,
  days: DayStore,
  events: DayEventStore,
  hasStudent: (id: string) => Promise<boolean>,
  onEvent: (event: DayEvent, accountId: string | null) => void,
): void => {
  mount(api.dayEvents, async ({ params }) => events.of(params.dayId))
  mount(api.addDayEvents, async ({ body, account }) => {
    if (body.events.some((e) => e.kind === 'quiz-answer'))
      throw new HttpProblem(400, 'invalid', 'Answers to a quiz come from the student.', 'Give the student a link to the quiz.', 'kind')
    const dayExists = new Map<string, boolean>()
    for (const { dayId } of body.events) dayExists.set(dayId, dayExists.get(dayId) ?? (await days.byId(dayId)) !== null)
    const gone = new Set<string>()
    for (const id of new Set(body.events.flatMap((e) => ('studentId' in e ? [e.studentId] : [])))) if (!(await hasStudent(id))) gone.add(id)
    const reasonFor = (event: DayEvent): Omit<Refused, 'id'> | null => {
      if (!dayExists.get(event.dayId))
        return { title: 'This day does not exist any more.', remedy: 'What was logged stays on this device.' }
      if ('studentId' in event && gone.has(event.studentId))
        return { title: 'This student has been deleted.', remedy: 'What was logged stays on this device.' }
      return null
    }
    return acknowledge(body, reasonFor, async (good, clock_ms) => {
      const fresh = await events.append(account?.id ?? null, good, clock_ms)
      for (const event of fresh) onEvent(event, account?.id ?? null)
    })
  })
}
