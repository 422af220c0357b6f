import type { Knex } from 'knex'

/** An event as it is kept: `clock_ms` is how far the clock that stamped it ran ahead of the server's. */
export type EventRow = { id: string; account_id: string | null; received_at: string; clock_ms: number; doc: string }

/** A device's clock is taken as right within this (ms); the way to the server alone takes some of it. */
const TRUSTED_MS = 2000

/** How far a device's clock is ahead (ms), by what it said as it sent; 0 for one that is right or says nothing. */
export const clockAhead = (deviceNow: string | undefined, now = Date.now()): number => {
  const ahead = deviceNow ? Date.parse(deviceNow) - now : 0
  return Math.abs(ahead) > TRUSTED_MS ? ahead : 0
}

/** A stored event with its moment by the server's clock. */
export const eventOf = <E extends { at: string }>({ doc, clock_ms }: Pick<EventRow, 'doc' | 'clock_ms'>): E => {
  const event = JSON.parse(doc) as E
  return clock_ms === 0 ? event : { ...event, at: new Date(Date.parse(event.at) - clock_ms).toISOString() }
}

/**
 * Appends events in one transaction and returns those that are new; ids already there are left as they are. `columns` gives what
 * the table holds beside the common ones.
 */
export const appendEvents = async <E extends { id: string }>(
  db: Knex,
  table: 'run_events' | 'day_events' | 'student_events',
  events: readonly E[],
  common: { account_id: string | null; clock_ms: number },
  columns: (event: E) => Record<string, unknown>,
): Promise<E[]> => {
  const received_at = new Date().toISOString()
  return db.transaction(async (trx) => {
    const known = new Set(
      (
        (await trx(table)
          .whereIn(
            'id',
            events.map((e) => e.id),
          )
          .select('id')) as { id: string }[]
      ).map((row) => row.id),
    )
    const fresh = events.filter((e, i) => !known.has(e.id) && events.findIndex((o) => o.id === e.id) === i)
    for (const event of fresh)
      await trx(table).insert({ id: event.id, received_at, ...common, ...columns(event), doc: JSON.stringify(event) })
    return fresh
  })
}
