import { api, type StudentRecord } from '@ochote/contract'
import type { Response } from 'express'
import type { Mount } from '../http/mount.ts'
import { notFound } from '../http/problems.ts'
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

/** Writes all that is kept of a student as one JSON document, run by run, so that many logs are never in memory together. */
const writeExport = async (res: Response, { runs, debriefs }: Stores, record: StudentRecord): Promise<void> => {
  const name = record.student.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')
  res.type('application/json').attachment(`${name || 'student'}.json`)
  res.write(`{"record":${JSON.stringify(record)},"runs":[`)
  for (const [k, run] of record.runs.entries()) {
    const whole = { id: run.id, events: await runs.events(run.id), debrief: await debriefs.byRun(run.id), log: await debriefs.csv(run.id) }
    res.write(`${k === 0 ? '' : ','}${JSON.stringify(whole)}`)
  }
  res.end(']}')
}
