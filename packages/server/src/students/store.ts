import { type DayPlan, dayPlanSchema, profileSchema, type StudentDecision } from '@ochote/contract'
import type { MistakeCode, Student, StudentEvent } from '@ochote/core'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'
import { appendEvents, type EventRow, eventOf } from '../db/events.ts'
import { readListed, readStored } from '../db/stored.ts'

const columns = ['id', 'name', 'level', 'talk', 'units', 'profile']

type Row = Omit<Student, 'profile'> & { profile: string }
const toStudent = (row: Row): Student => ({ ...row, profile: readStored(profileSchema, row.profile, 'students', row.id) })
const listed = (row: Row): Student[] => {
  const profile = readListed(profileSchema, row.profile, 'students', row.id)
  return profile ? [{ ...row, profile }] : []
}
const toRow = ({ profile, ...student }: Student): Row => ({ ...student, profile: JSON.stringify(profile) })

/** An erased student's part in the group counts of a day: where which mistake was seen, without a name. */
export type LeftBehind = { dayId: string; seen: readonly { cornerId: string; code: MistakeCode }[] }

/** Anonymous counts left by erased students. */
type FormerOfDay = { drove: number; seen: { cornerId: string; code: MistakeCode; students: number }[] }

const all = async (db: Knex): Promise<Student[]> => ((await db('students').orderBy('name').select(columns)) as Row[]).flatMap(listed)

const byId = async (db: Knex, id: string): Promise<Student | null> => {
  const row = (await db('students').where({ id }).first(columns)) as Row | undefined
  return row ? toStudent(row) : null
}

/** Adds a student; the same id sent again changes nothing. */
const add = async (db: Knex, student: Student): Promise<void> => {
  await db('students')
    .insert({ ...toRow(student), created_at: new Date().toISOString() })
    .onConflict('id')
    .ignore()
}

const change = async (db: Knex, student: Student): Promise<void> => {
  const { id, ...row } = toRow(student)
  await db('students').where({ id }).update(row)
}

/** Decisions about a student, in order, with who made them. */
const decisions = async (db: Knex, id: string): Promise<StudentDecision[]> =>
  (
    (await db('student_events')
      .leftJoin('accounts', 'accounts.id', 'student_events.account_id')
      .where({ student_id: id })
      .orderBy('student_events.seq')
      .select('student_events.id', 'student_events.doc', 'student_events.clock_ms', 'accounts.name as by')) as (EventRow & {
      by: string | null
    })[]
  ).flatMap((row) => {
    const event = eventOf('student_events', row)
    return event ? [{ by: row.by, event }] : []
  })

/** Appends what was decided; a level that was set becomes the student's, both or neither. */
const tell = async (db: Knex, accountId: string | null, event: StudentEvent): Promise<void> => {
  await db.transaction(async (trx) => {
    const fresh = await appendEvents(trx, 'student_events', [event], { account_id: accountId, clock_ms: 0 }, (e) => ({
      student_id: e.studentId,
    }))
    for (const e of fresh) if (e.kind === 'level-set') await trx('students').where({ id: e.studentId }).update({ level: e.level })
  })
}

/** Students who agreed that their laps are shown to others. */
const sharing = async (db: Knex): Promise<Set<string>> => {
  const rows = (await db('student_events')
    .whereRaw("json_extract(doc, '$.kind') = 'laps-shared'")
    .orderBy('seq')
    .select('student_id', 'doc')) as { student_id: string; doc: string }[]
  const agreed = new Set<string>()
  for (const { student_id, doc } of rows)
    (JSON.parse(doc) as { agreed: boolean }).agreed ? agreed.add(student_id) : agreed.delete(student_id)
  return agreed
}

/** Counts left on one day by students erased since. */
const former = async (db: Knex, dayId: string): Promise<FormerOfDay> => {
  const drove = (await db('former_drove').where({ day_id: dayId }).first('students')) as { students: number } | undefined
  const seen = (await db('former_seen').where({ day_id: dayId }).select('corner_id', 'code', 'students')) as {
    corner_id: string
    code: MistakeCode
    students: number
  }[]
  return { drove: drove?.students ?? 0, seen: seen.map(({ corner_id, code, students }) => ({ cornerId: corner_id, code, students })) }
}

/**
 * Erases a student with runs, logs, observations, answers, decisions and links, and takes the name out of every day, all or
 * nothing. `left`: what remains in the counts of the group, without a name.
 */
const erase = async (db: Knex, id: string, left: readonly LeftBehind[]): Promise<void> => {
  await db.transaction(async (trx) => {
    for (const { dayId, seen } of left) {
      const more = { students: trx.raw('students + 1') }
      await trx('former_drove').insert({ day_id: dayId, students: 1 }).onConflict('day_id').merge(more)
      for (const { cornerId, code } of seen)
        await trx('former_seen')
          .insert({ day_id: dayId, corner_id: cornerId, code, students: 1 })
          .onConflict(['day_id', 'corner_id', 'code'])
          .merge(more)
    }
    await trx('student_events').where({ student_id: id }).delete()
    const runs = trx('runs').where({ student_id: id }).select('id')
    await trx('run_events').whereIn('run_id', runs.clone()).delete()
    await trx('pictures').whereIn('run_id', runs.clone()).delete()
    await trx('logs').whereIn('run_id', runs.clone()).delete()
    await trx('runs').where({ student_id: id }).delete()
    await trx('day_events').where({ student_id: id }).delete()
    await trx('student_links').where({ student_id: id }).delete()
    for (const day of (await trx('days').select('id', 'version', 'plan')) as { id: string; version: number; plan: string }[]) {
      const plan = readListed(dayPlanSchema, day.plan, 'days', day.id)
      if (!plan) continue
      if (!plan.studentIds.includes(id) && !plan.slots.some((s) => s.studentId === id)) continue
      const without: DayPlan = {
        ...plan,
        studentIds: plan.studentIds.filter((s) => s !== id),
        slots: plan.slots.filter((s) => s.studentId !== id),
      }
      await trx('days')
        .where({ id: day.id })
        .update({ version: day.version + 1, plan: JSON.stringify(without) })
    }
    await trx('students').where({ id }).delete()
  })
}

/** Students in the database. */
export const studentStore = (db: Knex) => bindTo(db, { all, byId, add, change, decisions, tell, sharing, former, erase })
export type StudentStore = ReturnType<typeof studentStore>
