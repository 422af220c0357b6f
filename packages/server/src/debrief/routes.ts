import { api, type Run } from '@ochote/contract'
import type { Mount } from '../http/mount.ts'
import { HttpProblem, linkWithdrawn, notFound } from '../http/problems.ts'
import type { Jobs } from '../jobs/jobs.ts'
import { MOST_LISTED } from '../runs/store.ts'
import type { Stores } from '../stores.ts'
import type { ImportProgressBoard } from './import-progress.ts'
import { referencesOf } from './references.ts'
import type { DebriefService } from './service.ts'
import { sheetOf } from './sheet.ts'

/** Debriefs: give a run its log, read laps, findings and traces; students' sheets and their links. */
export const debriefRoutes = (mount: Mount, stores: Stores, jobs: Jobs, service: DebriefService, imports: ImportProgressBoard): void => {
  mountLogs(mount, stores, service, imports)
  mountPictures(mount, stores)
  mountSheets(mount, stores, jobs)
}

/** @throws HttpProblem 404 where there is no such run */
const existing = async ({ runs }: Pick<Stores, 'runs'>, id: string): Promise<Run> => {
  const run = await runs.byId(id)
  if (!run) throw notFound('run')
  return run
}

/** @throws HttpProblem 404 where a lap is not among those that a run may be compared with */
const offered = async (stores: Stores, run: Run, { runId, lap }: { runId: string; lap: number }): Promise<void> => {
  const laps = await referencesOf(stores, run)
  if (!laps.some((other) => other.runId === runId && other.lap === lap)) throw notFound('lap')
}

const mountLogs = (mount: Mount, stores: Stores, service: DebriefService, imports: ImportProgressBoard): void => {
  const { debriefs } = stores
  mount(api.lookAtLog, async ({ query, upload, identity }) =>
    imports.during(query.reading, (onProgress) => service.previewLog({ path: upload.path }, { person: identity.key, onProgress })),
  )
  mount(api.reading, async ({ params }) => imports.of(params.importId))
  mount(api.uploadLog, async ({ params, query, upload }) => {
    const run = await existing(stores, params.runId)
    const log = { source: { path: upload.path }, mapping: query.mapping }
    return imports.during(query.reading, (onProgress) =>
      service.takeLog(run, { source: query.name ?? 'uploaded file', log, add: query.add, onProgress }),
    )
  })
  mount(api.judgeAgain, async ({ params, body }) => {
    const run = await existing(stores, params.runId)
    const { heldAgainst = run.heldAgainst, ...settings } = body
    if (heldAgainst.kind === 'run') await offered(stores, run, heldAgainst)
    // A log that cannot be judged by them leaves the settings as they were.
    return service.judgeAgain(run.id, { settings: heldAgainst.kind === 'auto' ? run.settings : settings, heldAgainst })
  })
  mount(api.debrief, async ({ params }) => {
    await existing(stores, params.runId)
    const debrief = await debriefs.byRun(params.runId)
    if (!debrief) throw new HttpProblem(404, 'no-log', 'This run has no log yet.', 'End the run, or add a log file.')
    return debrief
  })
  mount(api.trace, async ({ params }) => {
    const trace = await debriefs.trace(params.runId, params.lap)
    if (!trace) throw notFound('lap')
    return trace
  })
  mount(api.references, async ({ params }) => referencesOf(stores, await existing(stores, params.runId)))
}

/** True for the first bytes of a JPEG file. */
const isJpeg = (file: Buffer): boolean => file[0] === 0xff && file[1] === 0xd8 && file[2] === 0xff

const mountPictures = (mount: Mount, stores: Stores): void => {
  const { debriefs } = stores
  mount(api.addPicture, async ({ params, body }) => {
    await existing(stores, params.runId)
    const jpeg = Buffer.from(body.jpeg, 'base64')
    // A picture is shown to others later: nothing else may pass for one.
    if (!isJpeg(jpeg))
      throw new HttpProblem(400, 'invalid', 'This is not a JPEG picture.', 'Save the frame from the debrief page again.', 'jpeg')
    await debriefs.addPicture(params.runId, body.id, jpeg)
    return { id: body.id }
  })
  mount(api.picture, async ({ params, res }) => {
    const jpeg = await debriefs.picture(params.runId, params.pictureId)
    if (!jpeg) throw notFound('picture')
    res.set('Cache-Control', 'private, max-age=31536000, immutable').type('image/jpeg').send(jpeg)
    return undefined
  })
}

const mountSheets = (mount: Mount, stores: Stores, jobs: Jobs): void => {
  const { debriefs, links } = stores
  mount(api.sheetLink, async ({ params }) => ({ token: await links.sheetToken(params.runId) }))
  const toBeGiven = async (runId: string): Promise<Run> => {
    const run = await existing(stores, runId)
    if (run.practice)
      throw new HttpProblem(409, 'practice-off', 'A practice drive has no sheet.', 'Give the sheet of a drive with a real log.')
    return run
  }
  mount(api.giveSheet, async ({ params }) => {
    const { id, date } = await toBeGiven(params.runId)
    const token = await links.giveSheet(id, date)
    await debriefs.sheetGiven(id)
    return { token }
  })
  mount(api.sheetPrinted, async ({ params }) => {
    await toBeGiven(params.runId)
    return { sheetGivenAt: await debriefs.sheetGiven(params.runId) }
  })
  mount(api.debriefLines, () => debriefs.lines(MOST_LISTED))
  mount(api.withdrawSheet, async ({ params }) => {
    await links.withdrawSheet(params.runId)
    return { token: null }
  })
  mount(api.runSheet, async ({ params }) => sheetOf(stores, jobs, params.runId))
  mount(api.sheet, async ({ params }) => {
    const runId = await links.runOfSheet(params.token)
    if (!runId) throw linkWithdrawn()
    return sheetOf(stores, jobs, runId)
  })
}
