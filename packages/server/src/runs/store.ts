import type { CarCondition, PlanChoice, Run, RunEvent, Simulation } from '@ochote/contract'
import type { Knex } from 'knex'

type Row = {
  id: string
  day_id: string
  slot_id: string | null
  student_id: string
  student_name: string
  instructor_id: string | null
  settings: string
  started_at: string
  ended_at: string | null
  simulation: string | null
  log_run: string | null
  date: string
}

/** A run as it is written. */
export type NewRun = {
  id: string
  dayId: string
  slotId: string | null
  studentId: string
  instructorId: string | null
  settings: PlanChoice
  startedAt: string
}

const toRun = (row: Row): Run => ({
  id: row.id,
  dayId: row.day_id,
  slotId: row.slot_id,
  studentId: row.student_id,
  studentName: row.student_name,
  instructorId: row.instructor_id,
  settings: JSON.parse(row.settings) as PlanChoice,
  startedAt: row.started_at,
  endedAt: row.ended_at,
  simulation: row.simulation ? (JSON.parse(row.simulation) as Simulation) : null,
  hasLog: row.log_run !== null,
  date: row.date,
})

/** Runs and their events in the database. Events are appended and never changed. */
export const runStore = (db: Knex) => {
  const select = () =>
    db('runs')
      .join('students', 'students.id', 'runs.student_id')
      .join('days', 'days.id', 'runs.day_id')
      .leftJoin('logs', 'logs.run_id', 'runs.id')
      .select('runs.*', 'students.name as student_name', 'days.date as date', 'logs.run_id as log_run')
  return {
    byId: async (id: string): Promise<Run | null> => {
      const row = (await select().where('runs.id', id).first()) as Row | undefined
      return row ? toRun(row) : null
    },
    list: async (filter: { dayId?: string | undefined; studentId?: string | undefined }): Promise<Run[]> => {
      const query = select().orderBy('runs.started_at', 'desc').limit(500)
      if (filter.dayId) query.where('runs.day_id', filter.dayId)
      if (filter.studentId) query.where('runs.student_id', filter.studentId)
      return ((await query) as Row[]).map(toRun)
    },
    /** Adds a run; the same id sent again changes nothing. */
    add: async (run: NewRun): Promise<void> => {
      await db('runs')
        .insert({
          id: run.id,
          day_id: run.dayId,
          slot_id: run.slotId,
          student_id: run.studentId,
          instructor_id: run.instructorId,
          settings: JSON.stringify(run.settings),
          started_at: run.startedAt,
        })
        .onConflict('id')
        .ignore()
    },
    setSimulation: async (id: string, simulation: Simulation): Promise<void> => {
      await db('runs')
        .where({ id })
        .update({ simulation: JSON.stringify(simulation) })
    },
    end: async (id: string, endedAt: string): Promise<void> => {
      await db('runs').where({ id }).whereNull('ended_at').update({ ended_at: endedAt })
    },
    events: async (runId: string): Promise<RunEvent[]> =>
      ((await db('run_events').where({ run_id: runId }).orderBy('seq').select('doc')) as { doc: string }[]).map(
        (row) => JSON.parse(row.doc) as RunEvent,
      ),
    /** The last word on each car among the runs of a day. */
    carConditions: async (dayId: string): Promise<CarCondition[]> => {
      const rows = (await db('run_events')
        .join('runs', 'runs.id', 'run_events.run_id')
        .where('runs.day_id', dayId)
        .whereRaw("json_extract(run_events.doc, '$.kind') = 'car'")
        .orderBy('run_events.seq')
        .select('run_events.doc')) as { doc: string }[]
      const last = new Map<string, CarCondition>()
      for (const row of rows) {
        const { kind: _, id: __, ...condition } = JSON.parse(row.doc) as Extract<RunEvent, { kind: 'car' }>
        last.set(condition.carId, condition)
      }
      return [...last.values()]
    },
    /** Appends events in one transaction; ids already there are left as they are. */
    append: async (accountId: string, events: readonly RunEvent[]): Promise<void> => {
      const received_at = new Date().toISOString()
      await db.transaction(async (trx) => {
        for (const event of events)
          await trx('run_events')
            .insert({ id: event.id, run_id: event.runId, account_id: accountId, at: event.at, received_at, doc: JSON.stringify(event) })
            .onConflict('id')
            .ignore()
      })
    },
  }
}
export type RunStore = ReturnType<typeof runStore>
