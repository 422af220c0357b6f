import { dayEventSchema, runEventSchema, studentEventSchema } from '@ochote/contract'
import type { DayEvent, RunEvent, StudentEvent } from '@ochote/core'
import type { Knex } from 'knex'
import type { z } from 'zod'
import { serverNow, serverTime } from '../clock/clock.ts'
import { clashOn } from './dialect.ts'
import { tellOthers } from './happenings.ts'
import { readListed } from './stored.ts'

/** Tables of events. */
export type EventTable = 'run_events' | 'day_events' | 'student_events'

/** An event as it is kept: `clock_ms` is how far the clock that stamped it ran ahead of the server's. */
export type EventRow = { id: string; account_id: string | null; received_at: string; clock_ms: number; doc: string }

/** Maximum difference at which a device's clock counts as right (ms); transmission takes some of it. */
const TRUSTED_MS = 2000

/** Lead of a device's clock (ms), by the moment it stated as it sent; 0 for a clock that is right or says nothing. */
export const clockAhead = (deviceNow: string | undefined, now = serverNow()): number => {
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

/** What became of events that were to be appended: new ones, and those whose id belongs to another event already. */
export type Appended<E> = { fresh: E[]; clashing: E[] }

type KnownRow = EventRow & Record<string, unknown>

/** True if a stored row holds this very event, whatever release wrote it. */
const isSame = (table: EventTable, row: KnownRow, event: { id: string }, columns: Record<string, unknown>): boolean => {
  const stored = eventOf(table, { ...row, clock_ms: 0 })
  return (
    JSON.stringify(stored) === JSON.stringify(schemas[table].parse(event)) &&
    Object.entries(columns).every(([name, value]) => row[name] === value)
  )
}

/** Kinds that no screen waits for: a student answered by a link. */
const quiet: ReadonlySet<string> = new Set(['quiz-answer', 'recalled'])

/** What other processes are told of new events: their screens show it, and one of them may have the cars. */
const toldOf = (table: EventTable, fresh: readonly { id: string }[], by: string | null) =>
  table === 'student_events'
    ? []
    : fresh
        .filter((event) => !quiet.has((event as { kind?: string }).kind ?? ''))
        .map((event) => ({ event: { kind: table === 'run_events' ? 'run-event' : 'day-event', event }, by }))

/**
 * Appends events in one transaction. An event that is known changes nothing; an id that belongs to another event is not appended,
 * but named. `columns` gives the table's other columns.
 */
export const appendEvents = async <E extends { id: string }>(
  db: Knex,
  table: EventTable,
  events: readonly E[],
  common: { account_id: string | null; clock_ms: number },
  columns: (event: E) => Record<string, unknown>,
): Promise<Appended<E>> => {
  const received_at = serverTime()
  return db.transaction(async (trx) => {
    const appended: Appended<E> = { fresh: [], clashing: [] }
    for (const event of events) {
      const own = columns(event)
      const row = { id: event.id, received_at, ...common, ...own, doc: JSON.stringify(event) }
      const added = (await trx(table).insert(row).onConflict(clashOn(trx, 'id')).ignore().returning('id')) as unknown[]
      if (added.length > 0) appended.fresh.push(event)
      else {
        const known = (await trx(table).where({ id: event.id }).first()) as KnownRow
        if (!isSame(table, known, event, own)) appended.clashing.push(event)
      }
    }
    await tellOthers(trx, toldOf(table, appended.fresh, common.account_id))
    return appended
  })
}
