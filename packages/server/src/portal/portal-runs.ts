import type { Day, Portal, PortalRun, Run } from '@ochote/contract'
import { bestLapTime, countedLaps, type RunEvent, runStateOf, type Student, settingsOfStudent } from '@ochote/core'
import type { DebriefService } from '../debrief/service.ts'
import { HttpProblem, notFound } from '../http/problems.ts'
import type { OnProgress } from '../jobs/tasks.ts'
import type { Stores } from '../stores.ts'

/** Maximum number of logs taken by one link: it is a door without a lock. */
const MAX_SENT = 20

/** Kinds of event that a student sees of a run: what was pinned, logged and said, and which laps count. */
const shownKinds: ReadonlySet<RunEvent['kind']> = new Set([
  'note',
  'account',
  'observation',
  'lap-driver',
  'lap-kind',
  'sent-out',
  'set-aside',
  'passes-aside',
  'traffic',
  'undo',
])

/** @throws HttpProblem 404 where the run is not this student's */
const ownRun = async ({ runs }: Pick<Stores, 'runs'>, student: Student, runId: string): Promise<Run> => {
  const run = await runs.byId(runId)
  if (!run || run.studentId !== student.id) throw notFound('run')
  return run
}

/** A student's drives that have a log, the newest first. */
export const portalDrives = async ({ runs, debriefs, links }: Stores, student: Student): Promise<Portal['drives']> => {
  const withLog = (await runs.list({ studentId: student.id, counting: true })).filter((run) => run.hasLog)
  const ids = withLog.map((run) => run.id)
  const laps = await debriefs.lapsOf(ids)
  const eventsByRun = await runs.eventsOf(ids)
  return Promise.all(
    withLog.map(async (run) => {
      const events = eventsByRun.get(run.id) ?? []
      const ownLaps = (laps.get(run.id) ?? []).filter(countedLaps(events).counts)
      return {
        runId: run.id,
        date: run.date,
        submitted: run.submitted,
        laps: ownLaps.length,
        best_s: bestLapTime(ownLaps),
        words: runStateOf(events).notes.length,
        sheet: await links.sheetToken(run.id),
      }
    }),
  )
}

/** One of a student's drives whole. @throws HttpProblem 404 where it is not theirs or has no log */
export const portalDrive = async (stores: Stores, student: Student, runId: string): Promise<PortalRun> => {
  const { runs, debriefs, circuits, vehicles, schoolSettings } = stores
  const run = await ownRun(stores, student, runId)
  const debrief = await debriefs.byRun(run.id)
  if (!debrief) throw notFound('log')
  const circuit = await circuits.byId(run.settings.circuitId)
  const vehicle = await vehicles.byId(run.settings.vehicleId)
  if (!circuit || !vehicle) throw notFound(circuit ? 'vehicle' : 'circuit')
  const traces = await Promise.all(debrief.laps.map(({ lap }) => debriefs.trace(run.id, lap)))
  const events = await runs.events(run.id)
  const { sentInFindings } = (await schoolSettings.read()).schoolSettings
  const toBeLookedAt = run.submitted && sentInFindings === 'once-looked-at' && runStateOf(events).released === null
  return {
    run,
    circuit,
    vehicle,
    debrief: toBeLookedAt ? { ...debrief, findings: [] } : debrief,
    traces: traces.filter((t) => t !== null),
    events: events.filter((e) => shownKinds.has(e.kind)),
    toBeLookedAt,
  }
}

/** A still of one of a student's drives. */
export const portalPicture = async (stores: Stores, student: Student, runId: string, pictureId: string): Promise<Buffer> => {
  const jpeg = await stores.debriefs.picture((await ownRun(stores, student, runId)).id, pictureId)
  if (!jpeg) throw notFound('picture')
  return jpeg
}

/** A log that a student sends in from afar. */
type SentLog = { id: string; name: string; date: string; path: string; onProgress?: OnProgress | undefined }

/** Takes a log that a student sends in: the drive and its log are both kept, or nothing. */
export const takeSentLog = async (stores: Stores, service: DebriefService, student: Student, day: Day, sent: SentLog): Promise<void> => {
  const { runs } = stores
  const before = await runs.byId(sent.id)
  if (before) {
    // The same form sent twice.
    if (before.studentId === student.id && before.dayId === day.id && before.submitted) return
    throw new HttpProblem(
      409,
      'run-of-another',
      'This log has the id of another drive.',
      'Choose the file again and send it once more; nothing was stored.',
    )
  }
  const startedAt = `${sent.date}T12:00:00.000Z`
  const drive = {
    id: sent.id,
    dayId: day.id,
    slotId: null,
    studentId: student.id,
    carId: null,
    instructorId: null,
    settings: settingsOfStudent(student.id, day.plan),
    startedAt,
    submitted: true,
  }
  const run: Run = {
    ...drive,
    studentName: student.name,
    endedAt: startedAt,
    simulation: null,
    hasLog: false,
    heldAgainst: { kind: 'auto' },
    practice: false,
    date: sent.date,
  }
  const given = { source: `sent in: ${sent.name}`, log: { source: { path: sent.path } }, onProgress: sent.onProgress }
  await service.takeDrive(run, given, async (trx) => {
    await trx.runs.add(drive)
    await trx.runs.end(drive.id, startedAt)
  })
}

/** @throws HttpProblem 429 where a link has brought as many logs as one may */
export const checkLogsLeft = async ({ runs }: Pick<Stores, 'runs'>, student: Student, day: Day): Promise<void> => {
  const sentBefore = (await runs.list({ studentId: student.id, dayId: day.id })).filter((run) => run.submitted)
  if (sentBefore.length >= MAX_SENT)
    throw new HttpProblem(
      429,
      'too-many-logs',
      'This link has reached its limit of logs.',
      'Ask your instructor for a new link; those sent in are kept.',
    )
}
