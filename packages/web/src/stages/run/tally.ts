import type { DayEvent, MistakeCode } from '@ochote/core'
import type { TrackRun } from './use-track-day.ts'

/** Counts of the post's own touches at one corner over the day's runs; cars without a known run count by their number. `most`: more than half of the students, and at least three, do it. */
export type CornerTally = {
  passes: number
  held: number
  students: number
  mistakes: { code: MistakeCode; count: number; students: number; most: boolean }[]
}

/** Fewer students than this are no group. */
const MIN_STUDENTS = 3

/** Counts the touches at a corner by mistake, and by how many students make it, most students first. */
export const tallyAt = (runs: readonly Pick<TrackRun, 'run' | 'state'>[], events: readonly DayEvent[], cornerId: string): CornerTally => {
  const ofRuns = runs.flatMap(({ run, state }) => [
    ...state.touched
      .filter((o) => o.via === 'corner-post' && o.cornerId === cornerId)
      .map((o) => ({ studentId: run.studentId, code: o.code as MistakeCode | null })),
    ...state.heldWell
      .filter((h) => h.via === 'corner-post' && h.cornerId === cornerId)
      .map(() => ({ studentId: run.studentId, code: null })),
  ])
  const ofCars = events.flatMap((e) =>
    e.kind === 'car-seen' && e.cornerId === cornerId ? [{ studentId: `car ${e.carNumber}`, code: e.code }] : [],
  )
  const touched = [...ofRuns, ...ofCars]
  const students = new Set(touched.map((t) => t.studentId)).size
  const codes = [...new Set(touched.flatMap((t) => (t.code ? [t.code] : [])))]
  return {
    passes: touched.length,
    held: touched.filter((t) => t.code === null).length,
    students,
    mistakes: codes
      .map((code) => {
        const of = touched.filter((t) => t.code === code)
        const who = new Set(of.map((t) => t.studentId)).size
        return { code, count: of.length, students: who, most: who >= MIN_STUDENTS && who > students / 2 }
      })
      .sort((a, b) => b.students - a.students || b.count - a.count),
  }
}
