import type { ReferenceLap, Run } from '@ochote/contract'
import { countedLaps } from '@ochote/core'
import type { Stores } from '../stores.ts'

/** Maximum number of laps offered from each other run, the quickest first. */
const LAPS_PER_RUN = 2
/** Maximum number of runs that are looked through, the newest first. */
const MAX_RUNS = 200

/** Laps of other runs of the same circuit: the student's own, any that an instructor drove, and those of students who agreed. */
export const referencesOf = async ({ runs, debriefs, students }: Stores, run: Run): Promise<ReferenceLap[]> => {
  const sharing = await students.sharing()
  const others = (await runs.ofCircuit(run.settings.circuitId, MAX_RUNS)).filter(({ id }) => id !== run.id)
  const ids = others.map(({ id }) => id)
  const laps = await debriefs.lapsOf(ids)
  const events = await runs.eventsOf(ids)
  return others.flatMap((other) => {
    const { of } = countedLaps(events.get(other.id) ?? [])
    const offered = (kind: ReferenceLap['kind'], lapsOfKind: readonly { lap: number; time_s: number }[]): ReferenceLap[] =>
      lapsOfKind.map((lap) => ({
        runId: other.id,
        ...lap,
        date: other.date,
        vehicleId: other.settings.vehicleId,
        kind,
        studentName: other.studentName,
      }))
    const quickestFirst = (laps.get(other.id) ?? []).sort((a, b) => a.time_s - b.time_s)
    const instructors = quickestFirst.filter(({ lap }) => of(lap).aside === 'instructor')
    const students = quickestFirst.filter(({ lap }) => of(lap).counts).slice(0, LAPS_PER_RUN)
    if (other.studentId === run.studentId) return [...offered('instructor', instructors), ...offered('own', students)]
    return [...offered('instructor', instructors), ...(sharing.has(other.studentId) ? offered('other', students) : [])]
  })
}
