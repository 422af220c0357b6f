import type { Knex } from 'knex'
import { isPostgres } from '../db/dialect.ts'
import { countOn } from '../db/postgres.ts'
import { derivedColumns } from '../db/schools.ts'

/**
 * All tables of a school, those that others refer to first. What belongs to one machine alone is not among them: sessions, wrong tries,
 * paired devices, ports of receivers, simulated devices.
 */
export const tables = [
  'accounts',
  'venues',
  'circuits',
  'vehicles',
  'students',
  'days',
  'cars',
  'school_settings',
  'questions',
  'student_links',
  'log_mappings',
  'runs',
  'run_events',
  'day_events',
  'student_events',
  'logs',
  'laps',
  'findings',
  'pictures',
  'sheet_links',
  'former_drove',
  'former_seen',
  'trail',
] as const

/** What belongs to one machine, and goes along where a school moves with its data folder. */
export const ofMachine = ['settings', 'sessions', 'pairings', 'receivers', 'tries', 'clock_jumps'] as const
type Table = (typeof tables)[number] | (typeof ofMachine)[number]

/** Rows read and written at a time; of tables whose rows may each hold a whole log, or a picture, fewer. */
const ROWS = 250
const LARGE_ROWS = 20
const large: ReadonlySet<Table> = new Set(['logs', 'pictures', 'days', 'circuits'])

/** Columns by which rows of a table are told apart, where that is not `id`; counted ones are in the order in which they were written. */
const keys: Partial<Record<Table, readonly string[]>> = {
  run_events: ['seq'],
  day_events: ['seq'],
  student_events: ['seq'],
  trail: ['seq'],
  logs: ['run_id'],
  laps: ['run_id', 'lap'],
  log_mappings: ['signature'],
  former_drove: ['day_id'],
  former_seen: ['day_id', 'corner_id', 'code'],
  settings: ['name'],
  sessions: ['sid_hash'],
  receivers: ['port'],
  tries: ['key'],
}

/** Tables whose rows are counted, with the column that counts them. */
const counted = { run_events: 'seq', day_events: 'seq', student_events: 'seq', trail: 'seq', findings: 'id', clock_jumps: 'id' } as const

/** Rows of a table in pieces, in the order of their keys, without what only says whose they are. */
export const piecesOf = async function* (db: Knex, table: Table): AsyncGenerator<Record<string, unknown>[]> {
  const key = keys[table] ?? ['id']
  const most = large.has(table) ? LARGE_ROWS : ROWS
  for (let after: Record<string, unknown> | null = null; ; ) {
    const rows = (await db(table)
      .modify((query) => {
        if (after === null) return
        const marks = (mark: string): string => key.map(() => mark).join(', ')
        query.whereRaw(`(${marks('??')}) > (${marks('?')})`, [...key, ...key.map((column) => after?.[column] as string)])
      })
      .orderBy([...key])
      .limit(most)) as Record<string, unknown>[]
    if (rows.length > 0) yield rows.map((row) => Object.fromEntries(Object.entries(row).filter(([column]) => !derivedColumns.has(column))))
    if (rows.length < most) return
    after = rows[rows.length - 1]
  }
}

/** The same one by one. */
export const rowsOf = async function* (db: Knex, table: Table): AsyncGenerator<Record<string, unknown>> {
  for await (const rows of piecesOf(db, table)) yield* rows
}

/** Lets counted tables go on after the rows that were written with their numbers. */
export const countFromHere = async (trx: Knex): Promise<void> => {
  if (isPostgres(trx)) for (const [table, column] of Object.entries(counted)) await countOn(trx, table, column)
}
