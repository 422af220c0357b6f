import { api, type Group, type StudentRecord, standingObservations } from '@ochote/contract'
import type { DebriefStore } from '../debrief/store.ts'
import type { Mount } from '../http/mount.ts'
import { notFound } from '../http/problems.ts'
import type { RunStore } from '../runs/store.ts'
import type { StudentStore } from '../students/store.ts'

/** A student's record: runs with what people saw and what logs showed. */
export const recordRoutes = (mount: Mount, students: StudentStore, runs: RunStore, debriefs: DebriefStore): void => {
  mount(api.record, async ({ params }) => {
    const student = await students.byId(String(params.studentId))
    if (!student) throw notFound('student')
    const ofStudent = (await runs.list({ studentId: student.id })).reverse()
    const best = await debriefs.bestLaps(ofStudent.map((r) => r.id))
    const seen: StudentRecord['seen'] = []
    for (const [k, run] of ofStudent.entries()) {
      const place = { circuitId: run.settings.circuitId, run: k + 1, runId: run.id }
      for (const o of standingObservations(await runs.events(run.id)))
        seen.push({ ...place, cornerId: o.cornerId, code: o.code, lap: o.lap, by: 'hand' })
      const debrief = run.hasLog ? await debriefs.byRun(run.id) : null
      for (const f of debrief?.findings ?? [])
        if (f.root) seen.push({ ...place, cornerId: f.cornerId, code: f.code, lap: f.lap, by: 'log', lossTime_s: f.lossTime_s })
    }
    return { student, runs: ofStudent.map((run) => ({ ...run, bestLap_s: best.get(run.id) ?? null })), seen }
  })
  mount(api.group, async ({ params }) => {
    const ofDay = await runs.list({ dayId: String(params.dayId) })
    const seen: Group['seen'] = []
    for (const run of ofDay) {
      const { studentId } = run
      for (const { cornerId, code } of standingObservations(await runs.events(run.id))) seen.push({ studentId, cornerId, code })
      const debrief = run.hasLog ? await debriefs.byRun(run.id) : null
      for (const { cornerId, code, root } of debrief?.findings ?? []) if (root) seen.push({ studentId, cornerId, code })
    }
    return { drove: [...new Set(ofDay.map((run) => run.studentId))], seen }
  })
}
