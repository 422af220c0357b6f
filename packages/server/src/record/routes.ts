import { api, type StudentRecord } from '@ochote/contract'
import type { Response } from 'express'
import type { Mount } from '../http/mount.ts'
import { notFound } from '../http/problems.ts'
import { written } from '../http/written.ts'
import type { Stores } from '../stores.ts'
import { groupOf, recordOf } from './service.ts'

/** A student's record, everything that is kept of a student as a file, and the group of a day. */
export const recordRoutes = (mount: Mount, stores: Stores): void => {
  mount(api.record, async ({ params }) => {
    const record = await recordOf(stores, params.studentId)
    if (!record) throw notFound('student')
    return record
  })
  mount(api.group, async ({ params }) => groupOf(stores, params.dayId))
  mount(api.exportStudent, async ({ params, res }) => {
    const record = await recordOf(stores, params.studentId)
    if (!record) throw notFound('student')
    await writeExport(res, stores, record)
    return undefined
  })
}

/** One of a student's runs whole: with its events, log, findings, traces' log and stills. */
const wholeRun = async ({ runs, debriefs }: Stores, runId: string) => {
  const pictures: { id: string; jpeg: string }[] = []
  for (const id of await debriefs.pictureIds(runId)) {
    const jpeg = await debriefs.picture(runId, id)
    if (jpeg) pictures.push({ id, jpeg: jpeg.toString('base64') })
  }
  return {
    id: runId,
    run: await runs.byId(runId),
    events: await runs.events(runId),
    debrief: await debriefs.byRun(runId),
    log: await debriefs.csv(runId),
    pictures,
  }
}

/** Writes all that is kept of a student as one JSON document, run by run, so that many logs are never in memory together. */
const writeExport = async (res: Response, stores: Stores, record: StudentRecord): Promise<void> => {
  const { id } = record.student
  const name = record.student.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')
  res
    .type('application/json')
    .attachment(`${name || 'student'}.json`)
    .set('Cache-Control', 'no-store')
  await written(res, `{"record":${JSON.stringify(record)},"beside":${JSON.stringify(await stores.students.keptBeside(id))},"runs":[`)
  for (const [k, runId] of (await stores.students.runIdsOf(id)).entries())
    await written(res, `${k === 0 ? '' : ','}${JSON.stringify(await wholeRun(stores, runId))}`)
  res.end(']}')
}
