import type { Day, Portal, PortalRun, Run } from '@ochote/contract'
import { bestLapTime, isOwnLap, type RunEvent, runStateOf, type Student } from '@ochote/core'
import type { DebriefService } from '../debrief/service.ts'
import { HttpProblem, notFound } from '../http/problems.ts'
import type { OnProgress } from '../jobs/tasks.ts'
import type { Stores } from '../stores.ts'

/** By one link no more logs are taken than this: it is a door without a lock. */
const MAX_SENT = 20

/** What of a run is shown to its student: what was pinned, logged and said, not how the day was run. */
const shownKinds: ReadonlySet<RunEvent['kind']> = new Set(['note', 'account', 'observation', 'lap-driver', 'undo'])

/** A student's own drives by the link: the list, one of them whole, a still, and sending a log in. */
export const drivesOf = ({ runs, debriefs, circuits, vehicles }: Stores, service: DebriefService) => {
  const own = async (student: Student, runId: string): Promise<Run> => {
    const run = await runs.byId(runId)
    if (!run || run.studentId !== student.id) throw notFound('run')
    return run
  }
  return {
    list: async (student: Student): Promise<Portal['drives']> => {
      const list = (await runs.list({ studentId: student.id })).filter((run) => run.hasLog)
      const ids = list.map((run) => run.id)
      const laps = await debriefs.lapsOf(ids)
      const events = await runs.eventsOf(ids)
      return Promise.all(
        list.map(async (run) => {
          const onProgress = events.get(run.id) ?? []
          const own = (laps.get(run.id) ?? []).filter(isOwnLap(onProgress))
          return {
            runId: run.id,
            date: run.date,
            submitted: run.submitted,
            laps: own.length,
            best_s: bestLapTime(own),
            words: runStateOf(onProgress).notes.length,
            sheet: await debriefs.sheetToken(run.id),
          }
        }),
      )
    },
    whole: async (student: Student, runId: string): Promise<PortalRun> => {
      const run = await own(student, runId)
      const debrief = await debriefs.byRun(run.id)
      if (!debrief) throw notFound('log')
      const circuit = await circuits.byId(run.settings.circuitId)
      const vehicle = await vehicles.byId(run.settings.vehicleId)
      if (!circuit || !vehicle) throw notFound(circuit ? 'vehicle' : 'circuit')
      const traces = await Promise.all(debrief.laps.map(({ lap }) => debriefs.trace(run.id, lap)))
      const events = (await runs.events(run.id)).filter((e) => shownKinds.has(e.kind))
      return { run, circuit, vehicle, debrief, traces: traces.filter((t) => t !== null), events }
    },
    picture: async (student: Student, runId: string, pictureId: string): Promise<Buffer> => {
      const jpeg = await debriefs.picture((await own(student, runId)).id, pictureId)
      if (!jpeg) throw notFound('picture')
      return jpeg
    },
    /** Takes a log from afar: the drive and its log are both kept, or nothing. */
    take: async (
      student: Student,
      day: Day,
      vehicleId: string,
      sent: { id: string; name: string; date: string; path: string; onProgress?: OnProgress | undefined },
    ): Promise<void> => {
      const known = await runs.byId(sent.id)
      if (known && (known.studentId !== student.id || known.hasLog)) return
      const before = (await runs.list({ studentId: student.id, dayId: day.id })).filter((run) => run.submitted)
      if (before.length >= MAX_SENT)
        throw new HttpProblem(
          429,
          'too-many-logs',
          'This link has reached its limit of logs.',
          'Ask your instructor for a new link; those sent in are kept.',
        )
      const settings = { ...day.plan.settings, vehicleId }
      const startedAt = `${sent.date}T12:00:00.000Z`
      await runs.add({
        id: sent.id,
        dayId: day.id,
        slotId: null,
        studentId: student.id,
        carId: null,
        instructorId: null,
        settings,
        startedAt,
        submitted: true,
      })
      await runs.end(sent.id, startedAt)
      try {
        const run = await own(student, sent.id)
        await service.takeLog(run, { source: `sent in: ${sent.name}`, log: { source: { path: sent.path } }, onProgress: sent.onProgress })
      } catch (error) {
        await runs.remove(sent.id)
        throw error
      }
    },
  }
}
