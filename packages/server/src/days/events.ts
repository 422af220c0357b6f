import { type DayEvent, type PadAttempt, type RecallRound, standing } from '@ochote/core'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'
import { field } from '../db/dialect.ts'
import { type Appended, appendEvents, type EventRow, eventOf, eventsOf } from '../db/events.ts'

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
    .whereRaw(`${field(db, 'day_events.doc', 'kind')} = 'incident'`)
    .orderBy('day_events.seq')
    .select('day_events.id', 'day_events.doc', 'day_events.clock_ms', 'days.date')) as (EventRow & { date: string })[]
  const ids = new Set(runs.map((run) => run.id))
  return rows.flatMap((row) => {
    const event = eventOf('day_events', row)
    return event?.kind === 'incident' && event.runId !== null && ids.has(event.runId) ? [{ date: row.date, event }] : []
  })
}

/** A student's attempts on the pad that nobody took back, oldest first. Cost: one query by index, and one for the days that it finds. */
const padOf = async (db: Knex, studentId: string): Promise<PadAttempt[]> => {
  const select = ['day_events.id', 'day_events.doc', 'day_events.clock_ms', 'day_events.day_id', 'days.date'] as const
  type Row = EventRow & { day_id: string; date: string }
  const own = (await db('day_events')
    .join('days', 'days.id', 'day_events.day_id')
    .where({ 'day_events.student_id': studentId })
    .whereRaw(`${field(db, 'day_events.doc', 'kind')} in ('drill', 'drill-said')`)
    .orderBy('day_events.seq')
    .select(...select)) as Row[]
  if (own.length === 0) return []
  const undos = (await db('day_events')
    .whereIn('day_id', [...new Set(own.map((row) => row.day_id))])
    .whereRaw(`${field(db, 'doc', 'kind')} = 'undo'`)
    .select('id', 'doc', 'clock_ms')) as EventRow[]
  const dates = new Map(own.map((row) => [row.id, row.date]))
  const left = standing(eventsOf('day_events', [...own, ...undos]))
  const said = new Map(left.flatMap((e) => (e.kind === 'drill-said' ? [[e.drillId, e.sentence] as const] : [])))
  return left.flatMap((e) =>
    e.kind === 'drill' ? [{ date: dates.get(e.id) ?? '', drill: e.drill, result: e.result, said: said.get(e.id) ?? null }] : [],
  )
}

/** A student's rounds driven from memory, oldest first, with the circuit of their day. Cost: one query by index. */
const recallOf = async (db: Knex, studentId: string): Promise<(RecallRound & { circuitId: string })[]> => {
  const rows = (await db('day_events')
    .join('days', 'days.id', 'day_events.day_id')
    .where({ 'day_events.student_id': studentId })
    .whereRaw(`${field(db, 'day_events.doc', 'kind')} = 'recalled'`)
    .orderBy('day_events.seq')
    .select(
      'day_events.id',
      'day_events.doc',
      'day_events.clock_ms',
      db.raw(`${field(db, 'days.plan', 'settings.circuitId')} as circuit`),
    )) as (EventRow & { circuit: string })[]
  return rows.flatMap((row) => {
    const event = eventOf('day_events', row)
    if (event?.kind !== 'recalled') return []
    const { id, at, mode, marks, lap_s } = event
    return [{ id, at, mode, marks, lap_s, circuitId: row.circuit }]
  })
}

/** Appends events; says which are new, and which have an id that belongs to another. */
const append = (db: Knex, accountId: string | null, events: readonly DayEvent[], clock_ms = 0): Promise<Appended<DayEvent>> =>
  appendEvents(db, 'day_events', events, { account_id: accountId, clock_ms }, (event) => ({
    day_id: event.dayId,
    student_id: 'studentId' in event ? event.studentId : null,
  }))

/** Events of days in the database, appended and never changed. */
export const dayEventStore = (db: Knex) => bindTo(db, { of, incidentsOf, padOf, recallOf, append })
export type DayEventStore = ReturnType<typeof dayEventStore>
