import type { ReferenceLap, Run } from '@ochote/contract'
import { isOwnLap } from '@ochote/core'
import type { Stores } from '../stores.ts'

/** Of each other run so many laps are offered, the quickest first. */
const LAPS = 2
/** Runs that are looked through, the newest first. */
const RUNS = 200

/** Laps of other runs of the same circuit: the student's own, any that an instructor drove, and those of students who agreed. */
export const referencesOf =
  ({ runs, debriefs, students }: Stores) =>
  async (run: Run): Promise<ReferenceLap[]> => {
    const sharing = await students.sharing()
    const list = (await runs.ofCircuit(run.settings.circuitId, RUNS)).filter((one) => one.id !== run.id)
    const ids = list.map((one) => one.id)
    const laps = await debriefs.lapsOf(ids)
    const events = await runs.eventsOf(ids)
    return list.flatMap((one) => {
      const isOwn = isOwnLap(events.get(one.id) ?? [])
      const onProgress = (lap: { lap: number; time_s: number }, kind: ReferenceLap['kind']): ReferenceLap => ({
        runId: one.id,
        ...lap,
        date: one.date,
        vehicleId: one.settings.vehicleId,
        kind,
        studentName: one.studentName,
      })
      const all = (laps.get(one.id) ?? []).sort((a, b) => a.time_s - b.time_s)
      const instructors = all.filter((l) => !isOwn(l)).map((l) => onProgress(l, 'instructor'))
      const own = all.filter(isOwn).slice(0, LAPS)
      if (one.studentId === run.studentId) return [...instructors, ...own.map((l) => onProgress(l, 'own'))]
      return [...instructors, ...(sharing.has(one.studentId) ? own.map((l) => onProgress(l, 'other')) : [])]
    })
  }
