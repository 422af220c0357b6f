import {
  type DayPlan,
  dayPlanSchema,
  profileSchema,
  type StoredStudent,
  type StudentDecision,
  type StudentLine,
  schoolCarSchema,
} from '@ochote/contract'
import { type MistakeCode, type Slot, type StudentEvent, withPeople } from '@ochote/core'
import type { Knex } from 'knex'
import { serverTime } from '../clock/clock.ts'
import { bindTo } from '../db/bind.ts'
import { clashOn, field, overwriteErased } from '../db/dialect.ts'
import { appendEvents, type EventRow, eventOf } from '../db/events.ts'
import { tellRuns } from '../db/happenings.ts'
import { inJson, keptAsRead, readListed, readStored } from '../db/stored.ts'
import { keptBeside, runIdsOf } from './everything.ts'

const columns = ['id', 'name', 'level', 'talk', 'units', 'profile', 'version', 'archived_at']

const profileRead = keptAsRead(profileSchema)

type Row = Omit<StoredStudent, 'profile' | 'archivedAt'> & { profile: string; archived_at: string | null }
const withProfile = ({ archived_at, ...row }: Row, profile: StoredStudent['profile']): StoredStudent => ({
  ...row,
  archivedAt: archived_at,
  profile,
})
const toStudent = (row: Row): StoredStudent => withProfile(row, readStored(profileRead, row.profile, 'students', row.id))
const listed = (row: Row): StoredStudent[] => {
  const profile = readListed(profileRead, row.profile, 'students', row.id)
  return profile ? [withProfile(row, profile)] : []
}
/** What a person changes of a student. */
type StudentFields = Pick<StoredStudent, 'name' | 'level' | 'talk' | 'units' | 'profile'>
const toRow = ({ name, level, talk, units, profile }: StudentFields) => ({ name, level, talk, units, profile: JSON.stringify(profile) })

/** An erased student's part in the group counts of a day: where which mistake was seen, without a name. */
export type LeftBehind = { dayId: string; seen: readonly { cornerId: string; code: MistakeCode }[] }

/** Anonymous counts left by erased students. */
type FormerOfDay = { drove: number; seen: { cornerId: string; code: MistakeCode; students: number }[] }

const all = async (db: Knex): Promise<StoredStudent[]> => ((await db('students').orderBy('name').select(columns)) as Row[]).flatMap(listed)

const byId = async (db: Knex, id: string): Promise<StoredStudent | null> => {
  const row = (await db('students').where({ id }).first(columns)) as Row | undefined
  return row ? toStudent(row) : null
}

/** Some students, by name; those that there are not are left out. */
const byIds = async (db: Knex, ids: readonly string[]): Promise<StoredStudent[]> =>
  ((await db('students').whereIn('id', ids).orderBy('name').select(columns)) as Row[]).flatMap(listed)

/** Adds students, all or none; the same id sent again changes nothing. */
const add = async (db: Knex, students: readonly (StudentFields & { id: string })[]): Promise<void> => {
  const created_at = serverTime()
  await db.transaction(async (trx) => {
    for (const student of students)
      await trx('students')
        .insert({ id: student.id, ...toRow(student), created_at })
        .onConflict(clashOn(trx, 'id'))
        .ignore()
  })
}

/** Writes a new version if the stored one is still the version it was made from; false otherwise. */
const change = async (db: Knex, id: string, fromVersion: number, student: StudentFields): Promise<boolean> =>
  (await db('students')
    .where({ id, version: fromVersion })
    .update({ ...toRow(student), version: fromVersion + 1 })) === 1

/** Puts a student away or back, over the version that it was decided from; false where somebody else was faster. */
const setArchived = async (db: Knex, id: string, fromVersion: number | undefined, archivedAt: string | null): Promise<boolean> =>
  (await db('students')
    .where({ id, ...(fromVersion === undefined ? {} : { version: fromVersion }) })
    .update({ archived_at: archivedAt, version: db.raw('version + 1') })) === 1

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
    const { fresh } = await appendEvents(trx, 'student_events', [event], { account_id: accountId, clock_ms: 0 }, (e) => ({
      student_id: e.studentId,
    }))
    for (const e of fresh)
      if (e.kind === 'level-set')
        await trx('students')
          .where({ id: e.studentId })
          .update({ level: e.level, version: trx.raw('version + 1') })
  })
}

/** Students who agreed that their laps are shown to others. */
const sharing = async (db: Knex): Promise<Set<string>> => {
  const rows = (await db('student_events')
    .whereRaw(`${field(db, 'doc', 'kind')} = 'laps-shared'`)
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
 * nothing. `left`: what remains in the counts of the group, without a name. Returns the ids of the runs that are gone.
 */
const erase = async (db: Knex, id: string, left: readonly LeftBehind[]): Promise<string[]> => {
  const runIds = ((await db('runs').where({ student_id: id }).select('id')) as { id: string }[]).map((run) => run.id)
  await db.transaction(async (trx) => {
    for (const { dayId, seen } of left) {
      const oneMore = (table: string) => ({ students: trx.raw('?? + 1', [`${table}.students`]) })
      await trx('former_drove').insert({ day_id: dayId, students: 1 }).onConflict(clashOn(trx, 'day_id')).merge(oneMore('former_drove'))
      for (const { cornerId, code } of seen)
        await trx('former_seen')
          .insert({ day_id: dayId, corner_id: cornerId, code, students: 1 })
          .onConflict(clashOn(trx, 'day_id', 'corner_id', 'code'))
          .merge(oneMore('former_seen'))
    }
    await trx('student_events').where({ student_id: id }).delete()
    // What was told of them to other processes is only looked at for a while, but it has their words in it.
    for (const text of [id, ...runIds])
      await trx('happenings')
        .whereLike('doc', `%${inJson(text)}%`)
        .delete()
    const runs = trx('runs').where({ student_id: id }).select('id')
    await trx('run_events').whereIn('run_id', runs.clone()).delete()
    await trx('pictures').whereIn('run_id', runs.clone()).delete()
    await trx('logs').whereIn('run_id', runs.clone()).delete()
    await trx('runs').where({ student_id: id }).delete()
    await trx('day_events').where({ student_id: id }).delete()
    await trx('student_links').where({ student_id: id }).delete()
    const name = await nameOf(trx, id)
    const gone: Swap = (s) => (s === id ? null : s)
    await changeDaysOf(trx, [id, name], (plan) => withStudents(withOwner(plan, name, ''), gone))
    await changeCarsOf(trx, id, gone)
    await trx('students').where({ id }).delete()
    await tellRuns(trx)
  })
  // What was overwritten in the database must not stay in the file beside it either.
  await overwriteErased(db)
  return runIds
}

/** Every student in one line, by two queries; practice does not count. Cost: linear in the students who drove, by an index on their runs. */
const lines = async (db: Knex): Promise<StudentLine[]> => {
  const driven = (await db
    .with('driven', (of) =>
      of
        .from('runs')
        .where('practice', false)
        .groupBy('student_id')
        .select('student_id')
        .count({ runs: '*' })
        .max({ last_at: 'started_at' }),
    )
    .from('driven')
    .join('runs', (on) => on.on('runs.student_id', 'driven.student_id').on('runs.started_at', 'driven.last_at'))
    .join('days', 'days.id', 'runs.day_id')
    .where('runs.practice', false)
    .orderBy('runs.id')
    .select('driven.student_id', 'driven.runs', 'runs.id', 'runs.sent_in', 'runs.started_at', 'days.date')) as {
    student_id: string
    runs: number
    id: string
    sent_in: number
    started_at: string
    date: string
  }[]
  const byStudent = new Map<string, StudentLine>()
  for (const { student_id: studentId, runs, id, sent_in, started_at, date } of driven)
    byStudent.set(studentId, { studentId, runs, lastDay: sent_in === 1 ? started_at.slice(0, 10) : date, lastRunId: id, focus: null })
  const lineOf = (studentId: string): StudentLine => {
    const line = byStudent.get(studentId) ?? { studentId, runs: 0, lastDay: null, lastRunId: null, focus: null }
    byStudent.set(studentId, line)
    return line
  }
  const rows = (await db('student_events')
    .whereRaw(`${field(db, 'doc', 'kind')} = 'focus-set'`)
    .orderBy('seq')
    .select('id', 'doc', 'clock_ms')) as EventRow[]
  for (const row of rows) {
    const event = eventOf('student_events', row)
    if (event?.kind === 'focus-set') lineOf(event.studentId).focus = event.focus
  }
  return [...byStudent.values()]
}

/** Tables that name a student, beside links, of which each day has one for each. */
const ofStudents = ['runs', 'day_events', 'student_events'] as const

/** Who stands where a student did; null: nobody. */
type Swap = (studentId: string) => string | null

const slotsWith = (slots: readonly Slot[], swap: Swap): Slot[] => {
  const swapped = slots.flatMap((slot): Slot[] => {
    if (slot.studentId === undefined) return [slot]
    const studentId = swap(slot.studentId)
    return studentId === null ? [] : [{ ...slot, studentId, id: slot.id.replace(slot.studentId, studentId) }]
  })
  // Two who were one may have been in one session: it is theirs once.
  return swapped.filter((slot, k) => swapped.findIndex((other) => other.id === slot.id) === k)
}

/** A plan in which other people stand where students did, or nobody; ids of planned lines name their student, and go along. */
const withStudents = (plan: DayPlan, swap: Swap): DayPlan => {
  const swapped = (ids: readonly string[]): string[] => [...new Set(ids.flatMap((id) => swap(id) ?? []))]
  const { announced } = plan
  return {
    ...plan,
    studentIds: swapped(plan.studentIds),
    groups: plan.groups.map((group) => ({ ...group, studentIds: swapped(group.studentIds) })),
    slots: slotsWith(plan.slots, swap),
    planning: withPeople(plan.planning, swap),
    announced: announced && {
      ...announced,
      slots: slotsWith(announced.slots, swap),
      before: announced.before && slotsWith(announced.before, swap),
    },
  }
}

/**
 * Changes the plan of every day in which one of some texts stands: a student's id, also where they are only in what was announced or
 * wished, or their name, by which days say whose car it is.
 */
const changeDaysOf = async (trx: Knex, texts: readonly string[], change: (plan: DayPlan) => DayPlan): Promise<void> => {
  for (const day of (await trx('days').forUpdate().select('id', 'version', 'plan')) as { id: string; version: number; plan: string }[]) {
    if (!texts.some((text) => day.plan.includes(inJson(text)))) continue
    const plan = readListed(dayPlanSchema, day.plan, 'days', day.id)
    if (!plan) continue
    await trx('days')
      .where({ id: day.id })
      .update({ version: day.version + 1, plan: JSON.stringify(change(plan)) })
  }
}

/** A plan in which cars of one student are another's, or nobody's. */
const withOwner = (plan: DayPlan, name: string, next: string): DayPlan => ({
  ...plan,
  cars: plan.cars.map((car) => (car.owner === name ? { ...car, owner: next } : car)),
})

/** Says of the school's cars that are a student's, or open to them, that they are another's, or nobody's. */
const changeCarsOf = async (trx: Knex, studentId: string, swap: Swap): Promise<void> => {
  for (const row of (await trx('cars')
    .forUpdate()
    .whereLike('doc', `%${inJson(studentId)}%`)) as { id: string; version: number; doc: string }[]) {
    const car = readListed(schoolCarSchema, row.doc, 'cars', row.id)
    if (!car) continue
    const doc = {
      ...car,
      studentId: car.studentId === null ? null : swap(car.studentId),
      mayDrive: { ...car.mayDrive, studentIds: [...new Set(car.mayDrive.studentIds.flatMap((id) => swap(id) ?? []))] },
    }
    await trx('cars')
      .where({ id: row.id })
      .update({ version: row.version + 1, doc: JSON.stringify(doc) })
  }
}

const nameOf = async (trx: Knex, id: string): Promise<string> =>
  ((await trx('students').where({ id }).first('name')) as { name: string } | undefined)?.name ?? ''

/** Gives everything of one student to another, who was entered twice, and takes the first one away, all or nothing. */
const merge = async (db: Knex, id: string, other: string): Promise<void> => {
  await db.transaction(async (trx) => {
    for (const table of ofStudents) await trx(table).where({ student_id: other }).update({ student_id: id })
    await trx('runs')
      .where({ student_id: id })
      .update({ slot_id: trx.raw('replace(slot_id, ?, ?)', [other, id]) })
    // What was logged names the student in its document too.
    const named = (studentId: string): string => `"studentId":${JSON.stringify(studentId)}`
    for (const table of ['day_events', 'student_events'] as const)
      await trx(table)
        .whereRaw(`${field(db, 'doc', 'studentId')} = ?`, [other])
        .update({ doc: trx.raw('replace(doc, ?, ?)', [named(other), named(id)]) })
    const taken = trx('student_links').where({ student_id: id }).select('day_id')
    await trx('student_links').where({ student_id: other }).whereIn('day_id', taken).delete()
    await trx('student_links').where({ student_id: other }).update({ student_id: id })
    const [name, otherName] = [await nameOf(trx, id), await nameOf(trx, other)]
    const joined: Swap = (s) => (s === other ? id : s)
    await changeDaysOf(trx, [other, otherName], (plan) => withStudents(withOwner(plan, otherName, name), joined))
    await changeCarsOf(trx, other, joined)
    await trx('students').where({ id: other }).delete()
  })
}

/** Students in the database. */
export const studentStore = (db: Knex) =>
  bindTo(db, { all, byId, byIds, add, change, lines, setArchived, merge, decisions, tell, sharing, former, erase, keptBeside, runIdsOf })
export type StudentStore = ReturnType<typeof studentStore>
