import {
  type CarCondition,
  type HeldAgainstWish,
  type HistoryRow,
  heldAgainstSchema,
  type NewRun,
  planSettingsSchema,
  type Run,
  type Simulation,
  simulationSchema,
} from '@ochote/contract'
import type { PlanChoice, RunEvent } from '@ochote/core'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'
import { clashOn, field } from '../db/dialect.ts'
import { type Appended, appendEvents, type EventRow, eventOf, eventsOf as eventsOfTable } from '../db/events.ts'
import { groupByRun } from '../db/group-by-run.ts'
import { tellRuns } from '../db/happenings.ts'
import { readListed, readStored } from '../db/stored.ts'

type Row = {
  id: string
  day_id: string
  slot_id: string | null
  student_id: string
  student_name: string
  instructor_id: string | null
  car_id: string | null
  settings: string
  started_at: string
  ended_at: string | null
  simulation: string | null
  log_run: string | null
  sent_in: number
  practice: number
  held_against: string | null
  date: string
}

const toRun = (row: Row): Run => withSettings(row, readStored(planSettingsSchema, row.settings, 'runs', row.id))
/** A row of a list; none for one whose settings cannot be read. */
const listed = (row: Row): Run[] => {
  const settings = readListed(planSettingsSchema, row.settings, 'runs', row.id)
  return settings ? [withSettings(row, settings)] : []
}
const withSettings = (row: Row, settings: PlanChoice): Run => ({
  id: row.id,
  dayId: row.day_id,
  slotId: row.slot_id,
  studentId: row.student_id,
  studentName: row.student_name,
  instructorId: row.instructor_id,
  carId: row.car_id,
  settings,
  startedAt: row.started_at,
  endedAt: row.ended_at,
  simulation: row.simulation ? readListed(simulationSchema, row.simulation, 'runs', row.id) : null,
  hasLog: row.log_run !== null,
  heldAgainst: heldAgainstOf(row),
  submitted: row.sent_in === 1,
  practice: row.practice === 1,
  // What was sent in was driven elsewhere, on a day of its own.
  date: row.sent_in === 1 ? row.started_at.slice(0, 10) : row.date,
})

/** What somebody chose; what was sent in from elsewhere is held against whatever explains it best. */
const heldAgainstOf = (row: Row): HeldAgainstWish =>
  (row.held_against ? readListed(heldAgainstSchema, row.held_against, 'runs', row.id) : null) ??
  (row.sent_in === 1 ? { kind: 'auto' } : { kind: 'plan' })

/** Runs with the names and the date that go with them. */
const select = (db: Knex) =>
  db('runs')
    .join('students', 'students.id', 'runs.student_id')
    .join('days', 'days.id', 'runs.day_id')
    .leftJoin('logs', 'logs.run_id', 'runs.id')
    .select('runs.*', 'students.name as student_name', 'days.date as date', 'logs.run_id as log_run')
/** Events of several runs at once, by run, each in its order; runs without any have an empty list. */
const eventsOf = async (db: Knex, runIds: readonly string[]): Promise<Map<string, RunEvent[]>> => {
  const rows = (await db('run_events')
    .whereIn('run_id', runIds)
    .orderBy(['run_id', 'seq'])
    .select('id', 'run_id', 'doc', 'clock_ms')) as (EventRow & { run_id: string })[]
  const groups = groupByRun(rows)
  return new Map(runIds.map((id) => [id, eventsOfTable('run_events', groups.get(id) ?? [])]))
}

const byId = async (db: Knex, id: string): Promise<Run | null> => {
  const row = (await select(db).where('runs.id', id).first()) as Row | undefined
  return row ? toRun(row) : null
}

/** Maximum number of runs in a list, the newest. */
export const MOST_LISTED = 500

/** Runs of a list; `counting`: without those that were practice. */
type RunFilter = { dayId?: string | undefined; studentId?: string | undefined; counting?: boolean }

const list = async (db: Knex, filter: RunFilter): Promise<Run[]> => {
  const query = select(db).orderBy('runs.started_at', 'desc').limit(MOST_LISTED)
  if (filter.dayId) query.where('runs.day_id', filter.dayId)
  if (filter.studentId) query.where('runs.student_id', filter.studentId)
  if (filter.counting) query.where('runs.practice', false)
  return ((await query) as Row[]).flatMap(listed)
}

/** Runs with a log on one circuit, the newest first; practice is left out. */
const ofCircuit = async (db: Knex, circuitId: string, max: number): Promise<Run[]> =>
  (
    (await select(db)
      .whereNotNull('logs.run_id')
      .where('runs.practice', false)
      .whereRaw(`${field(db, 'runs.settings', 'circuitId')} = ?`, [circuitId])
      .orderBy('runs.started_at', 'desc')
      .limit(max)) as Row[]
  ).flatMap(listed)

/** Adds a run; the same id sent again changes nothing. */
const add = (db: Knex, run: NewRun & { instructorId: string | null; submitted?: boolean; practice?: boolean }): Promise<void> =>
  db.transaction(async (trx) => {
    await trx('runs')
      .insert({
        id: run.id,
        day_id: run.dayId,
        slot_id: run.slotId,
        car_id: run.carId ?? null,
        student_id: run.studentId,
        instructor_id: run.instructorId,
        settings: JSON.stringify(run.settings),
        started_at: run.startedAt,
        sent_in: run.submitted ?? false,
        practice: run.practice ?? false,
      })
      .onConflict(clashOn(trx, 'id'))
      .ignore()
    await tellRuns(trx)
  })

/** The runs that have not ended, of one day or of all, oldest first. */
const open = async (db: Knex, dayId?: string): Promise<Run[]> => {
  const query = select(db).whereNull('runs.ended_at').orderBy('runs.started_at')
  if (dayId) query.where('runs.day_id', dayId)
  return ((await query) as Row[]).flatMap(listed)
}

/** Gives a run its simulated logger; `practice`: what it drives counts in no record. */
const setSimulation = (db: Knex, id: string, simulation: Simulation, practice: boolean): Promise<void> =>
  db.transaction(async (trx) => {
    await trx('runs')
      .where({ id })
      .update({ simulation: JSON.stringify(simulation), practice })
    await tellRuns(trx)
  })

const setSettings = async (db: Knex, id: string, settings: PlanChoice): Promise<void> => {
  await db('runs')
    .where({ id })
    .update({ settings: JSON.stringify(settings) })
}

/** Settings that a log is judged by, and what it is held against. */
const setReference = async (db: Knex, id: string, { settings, heldAgainst }: Pick<Run, 'settings' | 'heldAgainst'>): Promise<void> => {
  await db('runs')
    .where({ id })
    .update({ settings: JSON.stringify(settings), held_against: JSON.stringify(heldAgainst) })
}

/** Ends a run; its log is due from now on. */
const end = (db: Knex, id: string, endedAt: string): Promise<void> =>
  db.transaction(async (trx) => {
    await trx('runs').where({ id }).whereNull('ended_at').update({ ended_at: endedAt, log_due: true })
    await tellRuns(trx)
  })

/** Runs that have ended and whose log is still to be read, oldest first. */
const withLogDue = async (db: Knex): Promise<Run[]> =>
  ((await select(db).where('runs.log_due', true).orderBy('runs.ended_at')) as Row[]).flatMap(listed)

/** A run has no log to wait for any more. */
const logSettled = (db: Knex, id: string): Promise<void> =>
  db.transaction(async (trx) => {
    await trx('runs').where({ id }).update({ log_due: false })
    await tellRuns(trx)
  })

/** Open runs in which somebody said that they have ended: their end was not carried out. */
const saidToEnd = async (db: Knex): Promise<Run[]> =>
  (
    (await select(db)
      .whereNull('runs.ended_at')
      .whereExists(
        db('run_events')
          .whereRaw('run_events.run_id = runs.id')
          .whereRaw(`${field(db, 'run_events.doc', 'kind')} = 'ended'`),
      )) as Row[]
  ).flatMap(listed)

const events = async (db: Knex, runId: string): Promise<RunEvent[]> => (await eventsOf(db, [runId])).get(runId) ?? []

/** The last word on each car, of whatever day: a car that came back bad yesterday is still that car. */
const carConditions = async (db: Knex): Promise<CarCondition[]> => {
  const rows = (await db('run_events')
    .whereRaw(`${field(db, 'run_events.doc', 'kind')} = 'car'`)
    .orderBy('run_events.seq')
    .select('run_events.id', 'run_events.doc', 'run_events.clock_ms')) as EventRow[]
  const last = new Map<string, CarCondition>()
  for (const event of eventsOfTable('run_events', rows)) {
    if (event.kind !== 'car') continue
    const { kind: _, id: __, ...condition } = event
    last.set(condition.carId, condition)
  }
  return [...last.values()]
}

/** Appends events; says which are new, and which have an id that belongs to another. */
const append = (db: Knex, accountId: string, events: readonly RunEvent[], clock_ms = 0): Promise<Appended<RunEvent>> =>
  appendEvents(db, 'run_events', events, { account_id: accountId, clock_ms }, (event) => ({ run_id: event.runId, at: event.at }))

type LoggedRow = EventRow & { by: string | null; student: string | null }
const loggedColumns = (table: 'run_events' | 'day_events'): string[] => [
  ...['id', 'doc', 'clock_ms', 'received_at'].map((column) => `${table}.${column}`),
  'accounts.name as by',
  'students.name as student',
]
const loggedInRuns = async (db: Knex, dayId: string): Promise<LoggedRow[]> =>
  db('run_events')
    .leftJoin('accounts', 'accounts.id', 'run_events.account_id')
    .join('runs', 'runs.id', 'run_events.run_id')
    .join('students', 'students.id', 'runs.student_id')
    .where('runs.day_id', dayId)
    .select(loggedColumns('run_events'))
const loggedBesideRuns = async (db: Knex, dayId: string): Promise<LoggedRow[]> =>
  db('day_events')
    .leftJoin('accounts', 'accounts.id', 'day_events.account_id')
    .leftJoin('students', 'students.id', 'day_events.student_id')
    .where('day_events.day_id', dayId)
    .select(loggedColumns('day_events'))

/** Everything that was logged in a day, in runs and beside them, newest first. */
const history = async (db: Knex, dayId: string): Promise<HistoryRow[]> => {
  const withEvents = (table: 'run_events' | 'day_events', rows: readonly LoggedRow[]) =>
    rows.flatMap((row) => {
      const event = eventOf(table, row)
      return event ? [{ row, event }] : []
    })
  const logged = [
    ...withEvents('run_events', await loggedInRuns(db, dayId)),
    ...withEvents('day_events', await loggedBesideRuns(db, dayId)),
  ]
  const undone = new Set(logged.flatMap(({ event }) => (event.kind === 'undo' ? [event.undoes] : [])))
  return logged
    .map(({ row, event }) => ({
      id: event.id,
      at: event.at,
      receivedAt: row.received_at,
      by: row.by,
      clockAhead_s: row.clock_ms / 1000,
      undone: undone.has(event.id),
      studentName: row.student,
      event,
    }))
    .sort((a, b) => (a.at < b.at ? 1 : -1))
}

/** Runs and their events in the database. Events are appended and never changed. */
export const runStore = (db: Knex) =>
  bindTo(db, {
    byId,
    list,
    ofCircuit,
    add,
    open,
    setSimulation,
    setSettings,
    setReference,
    end,
    withLogDue,
    logSettled,
    saidToEnd,
    events,
    eventsOf,
    carConditions,
    append,
    history,
  })
export type RunStore = ReturnType<typeof runStore>
