import { dayEventSchema, runEventSchema, studentEventSchema } from '@ochote/contract'
import type { DayEvent, RunEvent, StudentEvent } from '@ochote/core'
import type { Knex } from 'knex'
import type { z } from 'zod'
import { readListed } from './stored.ts'

/** Tables of events. */
export type EventTable = 'run_events' | 'day_events' | 'student_events'

/** An event as it is kept: `clock_ms` is how far the clock that stamped it ran ahead of the server's. */
export type EventRow = { id: string; account_id: string | null; received_at: string; clock_ms: number; doc: string }

/** Maximum difference at which a device's clock counts as right (ms); transmission takes some of it. */
const TRUSTED_MS = 2000

/** Lead of a device's clock (ms), by the moment it stated as it sent; 0 for a clock that is right or says nothing. */
export const clockAhead = (deviceNow: string | undefined, now = Date.now()): number => {
  const ahead = deviceNow ? Date.parse(deviceNow) - now : 0
  return Math.abs(ahead) > TRUSTED_MS ? ahead : 0
}

const atServerTime = <E extends { at: string }>(event: E, clock_ms: number): E =>
  clock_ms === 0 ? event : { ...event, at: new Date(Date.parse(event.at) - clock_ms).toISOString() }

/** Schemas by which the events of each table are read back. */
type EventIn = { run_events: RunEvent; day_events: DayEvent; student_events: StudentEvent }
const schemas: { [T in EventTable]: z.ZodType<EventIn[T]> } = {
  run_events: runEventSchema,
  day_events: dayEventSchema,
  student_events: studentEventSchema,
}

/** A stored event with its moment by the server’s clock; null for one that cannot be read, which the server’s health names. */
export const eventOf = <T extends EventTable>(
  table: T,
  { id, doc, clock_ms }: Pick<EventRow, 'id' | 'doc' | 'clock_ms'>,
): EventIn[T] | null => {
  const event = readListed<z.ZodType<EventIn[T]>>(schemas[table], doc, table, id)
  return event && atServerTime(event, clock_ms)
}

/** Stored events in their order, without those that cannot be read. */
export const eventsOf = <T extends EventTable>(table: T, rows: readonly Pick<EventRow, 'id' | 'doc' | 'clock_ms'>[]): EventIn[T][] =>
  rows.flatMap((row) => eventOf(table, row) ?? [])

/**
 * Appends events in one transaction and returns those that are new; ids already there are left as they are. `columns` gives the
 * table's other columns.
 */
export const appendEvents = async <E extends { id: string }>(
  db: Knex,
  table: EventTable,
  events: readonly E[],
  common: { account_id: string | null; clock_ms: number },
  columns: (event: E) => Record<string, unknown>,
): Promise<E[]> => {
  const received_at = new Date().toISOString()
  return db.transaction(async (trx) => {
    const storedIds = new Set(
      (
        (await trx(table)
          .whereIn(
            'id',
            events.map((e) => e.id),
          )
          .select('id')) as { id: string }[]
      ).map((row) => row.id),
    )
    const fresh = events.filter((e, i) => !storedIds.has(e.id) && events.findIndex((o) => o.id === e.id) === i)
    for (const event of fresh)
      await trx(table).insert({ id: event.id, received_at, ...common, ...columns(event), doc: JSON.stringify(event) })
    return fresh
  })
}
