import { api } from '@ochote/contract'
import type { Mount } from '../http/mount.ts'
import { HttpProblem, notFound } from '../http/problems.ts'
import type { RunStore } from '../runs/store.ts'
import type { DebriefService } from './service.ts'
import type { DebriefStore } from './store.ts'

/** Debriefs: give a run its log, read laps, findings and traces. */
export const debriefRoutes = (mount: Mount, runs: RunStore, debriefs: DebriefStore, service: DebriefService): void => {
  mount(api.uploadLog, async ({ params, upload }) => {
    const run = await runs.byId(params.runId)
    if (!run) throw notFound('run')
    return service.takeLog(run, 'uploaded file', upload)
  })
  mount(api.debrief, async ({ params }) => {
    if (!(await runs.byId(params.runId))) throw notFound('run')
    const debrief = await debriefs.byRun(params.runId)
    if (!debrief) throw new HttpProblem(404, 'no-log', 'This run has no log yet.', 'End the run, or give it the logger’s CSV file.')
    return debrief
  })
  mount(api.trace, async ({ params }) => {
    const trace = await debriefs.trace(params.runId, params.lap)
    if (!trace) throw notFound('lap')
    return trace
  })
}
