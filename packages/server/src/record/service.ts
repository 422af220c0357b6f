import type { Debrief, Group, Run, StudentRecord } from '@ochote/contract'
import {
  bestLapTime,
  correctionFor,
  countedLaps,
  joinRun,
  type RunEvent,
  type RunKnown,
  runStateOf,
  type SeenAt,
  standing,
  worthOf,
} from '@ochote/core'
import type { Stores } from '../stores.ts'
import type { LeftBehind } from '../students/store.ts'

type Debriefs = Awaited<ReturnType<Stores['debriefs']['byRuns']>>
type Events = ReadonlyMap<string, RunEvent[]>

/** One run for the record; only what counts. */
const knownOf = (run: Run, number: number, events: readonly RunEvent[], debriefs: Debriefs): RunKnown => {
  const debrief = debriefs.get(run.id)
  const { counts } = countedLaps(events)
  const { observations, heldWell } = runStateOf(events)
  return {
    run: number,
    date: run.date,
    pace: run.settings.pace,
    findings: (debrief?.findings ?? []).filter(counts).map((f) => ({ ...f, worth_s: worthOf(f) })),
    observations: observations.filter(counts),
    heldWell: heldWell.filter(counts),
    marks: (debrief?.review.passes ?? []).filter(counts),
  }
}

/** Corrections of a run: what was logged in the car was said there too; what was said in the debrief is kept in its words. */
const saidIn = (
  seen: readonly SeenAt[],
  events: readonly RunEvent[],
  run: number,
): Omit<StudentRecord['said'][number], 'circuitId' | 'runId'>[] => [
  ...seen.filter((s) => s.by !== 'log').map(({ cornerId, code, lap }) => ({ cornerId, code, run, lap, words: correctionFor(code) })),
  ...standing(events).flatMap((e) => (e.kind === 'said' ? [{ cornerId: e.cornerId, code: e.code, run, lap: null, words: e.words }] : [])),
]

/** Start of a lap by the run's log; no lap starts after its run ended. Without a log: the start of the run. */
const lapAt = (run: Run, debrief: Debrief | null, lap: number): string => {
  const start_s = debrief?.laps.find((l) => l.lap === lap)?.start_s ?? 0
  const began_ms = Date.parse(run.startedAt) + 1000 * start_s
  return new Date(Math.min(began_ms, run.endedAt ? Date.parse(run.endedAt) : began_ms)).toISOString()
}

/** Results of a run with a log: the laps that count, and its most frequent mistake. */
const cameTo = (
  debrief: Debrief,
  events: readonly RunEvent[],
  seen: readonly SeenAt[],
  isShared: boolean,
): Omit<Group['runs'][number], 'runId' | 'studentId'> => {
  const ownLaps = debrief.laps.filter(countedLaps(events).counts)
  const times = new Map<string, { cornerId: string; code: SeenAt['code']; times: number }>()
  for (const { cornerId, code } of seen.filter((s) => s.by !== 'hand')) {
    const key = `${cornerId} ${code}`
    times.set(key, { cornerId, code, times: (times.get(key)?.times ?? 0) + 1 })
  }
  const [max = null] = [...times.values()].sort((a, b) => b.times - a.times)
  const best_s = bestLapTime(ownLaps)
  const sharedLap = isShared ? (ownLaps.find((l) => l.time_s === best_s)?.lap ?? null) : null
  return { laps: ownLaps.length, best_s, sharedLap, most: max }
}

/** Number of laps that count, and the best of them. */
const lapsOf = (debrief: Debrief | null, events: readonly RunEvent[]): { bestLap_s: number | null; laps: number } => {
  const counted = (debrief?.laps ?? []).filter(countedLaps(events).counts)
  return { bestLap_s: bestLapTime(counted), laps: counted.length }
}

/** Runs with what people logged and what logs show joined together. Cost: two queries, however many runs. */
const joinedRuns = async ({ runs, debriefs }: Stores, list: readonly Run[]) => {
  const ids = list.map((run) => run.id)
  const eventsByRun: Events = await runs.eventsOf(ids)
  const reviewed: Debriefs = await debriefs.byRuns(ids)
  return list.map((run, k) => {
    const events = eventsByRun.get(run.id) ?? []
    return { run, events, debrief: reviewed.get(run.id) ?? null, ...joinRun(knownOf(run, k + 1, events, reviewed)) }
  })
}

/** The whole record of a student; null where there is no such student. Cost: seven queries. */
export const recordOf = async (stores: Stores, studentId: string): Promise<StudentRecord | null> => {
  const { students, runs, dayEvents } = stores
  const student = await students.byId(studentId)
  if (!student) return null
  const list = (await runs.list({ studentId, counting: true })).reverse()
  const joined = await joinedRuns(stores, list)
  const where = ({ id, settings }: Run) => ({ runId: id, circuitId: settings.circuitId })
  return {
    student,
    runs: joined.map(({ run, debrief, events }) => ({
      ...run,
      ...lapsOf(debrief, events),
      paces: standing(events).flatMap((e) => (e.kind === 'pace' ? [e.pace] : [])),
    })),
    seen: joined.flatMap(({ run, seen }) => seen.map((s) => ({ ...s, ...where(run) }))),
    passes: joined.flatMap(({ run, passes }) => passes.map((p) => ({ ...p, codes: [...p.codes], ...where(run) }))),
    said: joined.flatMap(({ run, seen, events }, k) => saidIn(seen, events, k + 1).map((s) => ({ ...s, ...where(run) }))),
    incidents: (await dayEvents.incidentsOf(list)).map(({ date, event: { what, cornerId, action } }) => ({ date, what, cornerId, action })),
    decisions: await students.decisions(studentId),
    pad: await dayEvents.padOf(studentId),
    recall: await dayEvents.recallOf(studentId),
  }
}

/** Mistakes of all who drove on a day; logs sent in from elsewhere are left out. */
export const groupOf = async (stores: Stores, dayId: string): Promise<Group> => {
  const joined = await joinedRuns(
    stores,
    (await stores.runs.list({ dayId, counting: true })).filter((run) => !run.submitted),
  )
  const former = await stores.students.former(dayId)
  const sharing = await stores.students.sharing()
  return {
    drove: [...new Set(joined.map(({ run }) => run.studentId))],
    formerDrove: former.drove,
    seen: joined.flatMap(({ run, seen }) => seen.map(({ cornerId, code }) => ({ studentId: run.studentId, cornerId, code }))),
    former: former.seen,
    passes: joined.flatMap(({ run, passes, debrief }) =>
      passes.map(({ cornerId, codes, lap, off }) => ({
        at: lapAt(run, debrief, lap),
        studentId: run.studentId,
        cornerId,
        codes: [...codes],
        turnIn_m: off?.turnIn_m ?? null,
      })),
    ),
    runs: joined.flatMap(({ run, debrief, events, seen }) =>
      debrief ? [{ runId: run.id, studentId: run.studentId, ...cameTo(debrief, events, seen, sharing.has(run.studentId)) }] : [],
    ),
  }
}

/** Counts that a student leaves in each day's group. */
export const leftBehindBy = async (stores: Stores, studentId: string): Promise<LeftBehind[]> => {
  const byDay = new Map<string, Map<string, LeftBehind['seen'][number]>>()
  for (const { run, seen } of await joinedRuns(stores, await stores.runs.list({ studentId, counting: true }))) {
    const ofDay = byDay.get(run.dayId) ?? new Map()
    for (const { cornerId, code } of seen) ofDay.set(`${cornerId} ${code}`, { cornerId, code })
    byDay.set(run.dayId, ofDay)
  }
  return [...byDay.entries()].map(([dayId, seen]) => ({ dayId, seen: [...seen.values()] }))
}
