import { api, type ReferenceLap, type Run } from '@ochote/contract'
import type { Mount } from '../http/mount.ts'
import { HttpProblem, notFound } from '../http/problems.ts'
import type { RunStore } from '../runs/store.ts'
import type { ImportProgressBoard } from './import-progress.ts'
import type { DebriefService } from './service.ts'
import type { SheetService } from './sheet.ts'
import type { DebriefStore } from './store.ts'

/** Debriefs: give a run its log, read laps, findings and traces; students' sheets and their links. */
export const debriefRoutes = (
  mount: Mount,
  runs: RunStore,
  debriefs: DebriefStore,
  service: DebriefService,
  sheets: SheetService,
  references: (run: Run) => Promise<ReferenceLap[]>,
  imports: ImportProgressBoard,
): void => {
  mount(api.lookAtLog, async ({ query, upload }) =>
    imports.during(query.reading, (onProgress) => service.previewLog({ path: upload.path }, onProgress)),
  )
  mount(api.reading, async ({ params }) => imports.of(params.importId))
  mount(api.uploadLog, async ({ params, query, upload }) => {
    const run = await runs.byId(params.runId)
    if (!run) throw notFound('run')
    const log = { source: { path: upload.path }, mapping: query.mapping }
    return imports.during(query.reading, (onProgress) =>
      service.takeLog(run, { source: query.name ?? 'uploaded file', log, add: query.add, onProgress }),
    )
  })
  mount(api.judgeAgain, async ({ params, body }) => {
    const run = await runs.byId(params.runId)
    if (!run) throw notFound('run')
    const debrief = await service.judgeAgain({ ...run, settings: body })
    await runs.setSettings(run.id, body)
    return debrief
  })
  mount(api.debrief, async ({ params }) => {
    if (!(await runs.byId(params.runId))) throw notFound('run')
    const debrief = await debriefs.byRun(params.runId)
    if (!debrief) throw new HttpProblem(404, 'no-log', 'This run has no log yet.', 'End the run, or give it a log file.')
    return debrief
  })
  mount(api.trace, async ({ params }) => {
    const trace = await debriefs.trace(params.runId, params.lap)
    if (!trace) throw notFound('lap')
    return trace
  })

  mount(api.addPicture, async ({ params, body }) => {
    if (!(await runs.byId(params.runId))) throw notFound('run')
    const jpeg = Buffer.from(body.jpeg, 'base64')
    // Only what it says it is: it is shown to others later.
    if (jpeg[0] !== 0xff || jpeg[1] !== 0xd8 || jpeg[2] !== 0xff)
      throw new HttpProblem(400, 'invalid', 'This is not a JPEG picture.', 'Keep the still from the debrief page again.', 'jpeg')
    await debriefs.addPicture(params.runId, body.id, jpeg)
    return { id: body.id }
  })
  mount(api.picture, async ({ params, res }) => {
    const jpeg = await debriefs.picture(params.runId, params.pictureId)
    if (!jpeg) throw notFound('picture')
    res.set('Cache-Control', 'private, max-age=31536000, immutable').type('image/jpeg').send(jpeg)
    return undefined
  })
  mount(api.references, async ({ params }) => {
    const run = await runs.byId(params.runId)
    if (!run) throw notFound('run')
    return references(run)
  })

  mount(api.sheetLink, async ({ params }) => ({ token: await debriefs.sheetToken(params.runId) }))
  mount(api.giveSheet, async ({ params }) => {
    if (!(await runs.byId(params.runId))) throw notFound('run')
    return { token: await debriefs.giveSheet(params.runId) }
  })
  mount(api.withdrawSheet, async ({ params }) => {
    await debriefs.withdrawSheet(params.runId)
    return { token: null }
  })
  mount(api.runSheet, async ({ params }) => sheets.of(params.runId))
  mount(api.sheet, async ({ params }) => {
    const runId = await debriefs.runOfSheet(params.token)
    if (!runId)
      throw new HttpProblem(
        404,
        'link-withdrawn',
        'This link is not valid any more.',
        'Ask your instructor for a new one; nothing else is lost.',
      )
    return sheets.of(runId)
  })
}
