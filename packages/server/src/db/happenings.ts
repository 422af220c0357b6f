import type { Knex } from 'knex'
import { serverTime } from '../clock/clock.ts'
import { isPostgres, oneAtATime } from './dialect.ts'
import { tellSchool } from './schools.ts'

/** The channel on which processes are told that there is something new to read. */
export const HAPPENED = 'ochote_happened'

/** Something that happened, as processes of one server tell each other. */
type Happening = { event: { kind: string; dayId?: string }; dayId?: string | undefined; by?: string | null | undefined }

/** Who tells: the process whose connection this is, or its transaction. */
export const originOf = (db: Knex): string => String((db.userParams as { origin?: string }).origin)

/**
 * Writes what happened where other processes read it, within a transaction of what it tells of: both are there, or neither. Does nothing
 * for a school in a folder, which one process serves.
 */
export const tellOthers = async (trx: Knex, happenings: readonly Happening[]): Promise<void> => {
  if (!isPostgres(trx) || happenings.length === 0) return
  // Numbers are then seen in the order in which they are given.
  await oneAtATime(trx, 'happenings')
  const at = serverTime()
  await trx('happenings').insert(
    happenings.map(({ event, dayId, by }) => ({
      at,
      day_id: dayId ?? null,
      by: by ?? null,
      origin: originOf(trx),
      doc: JSON.stringify(event),
    })),
  )
  await tellSchool(trx, HAPPENED, '')
}

/** Tells that runs were started or ended, or are not as they were. */
export const tellRuns = (trx: Knex): Promise<void> => tellOthers(trx, [{ event: { kind: 'runs' } }])

/** Tells that a day is not as it was. */
export const tellDay = (trx: Knex, dayId: string): Promise<void> => tellOthers(trx, [{ event: { kind: 'day', dayId } }])
