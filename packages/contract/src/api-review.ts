import { z } from 'zod'
import { debriefSchema, logLookSchema, referenceLapSchema, traceSchema, uploadLogQuery } from './debrief.ts'
import { endpoint } from './endpoint.ts'
import { groupSchema } from './record.ts'
import { sheetLinkSchema, sheetSchema } from './sheet.ts'
import { studentEventSchema, toldOfStudentSchema } from './student-event.ts'

const id = z.string().min(1).max(80)
const runId = z.object({ runId: id })

/** Calls by which a run is looked back on: its log, laps and findings, the sheet and its link, the group of a day. */
export const reviewApi = {
  uploadLog: endpoint({
    id: 'uploadLog',
    method: 'put',
    path: '/api/runs/:runId/log',
    summary: 'Give a run its log (a table of any header, GPX, NMEA 0183 or JSON lines; gzip too), or add a file to it',
    access: 'signed-in',
    params: runId,
    query: uploadLogQuery,
    upload: true,
    response: debriefSchema,
  }),
  group: endpoint({
    id: 'group',
    method: 'get',
    path: '/api/days/:dayId/group',
    summary: 'What was seen of all who drove on a day',
    access: 'signed-in',
    params: z.object({ dayId: id }),
    response: groupSchema,
  }),
  tellOfStudent: endpoint({
    id: 'tellOfStudent',
    method: 'post',
    path: '/api/students/:studentId/events',
    summary: 'Decide something about a student: a skill, a level, the focus, the hand-over',
    access: 'signed-in',
    params: z.object({ studentId: id }),
    body: studentEventSchema,
    response: z.array(toldOfStudentSchema),
  }),
  exportStudent: endpoint({
    id: 'exportStudent',
    method: 'get',
    path: '/api/students/:studentId/export',
    summary: 'Everything that is kept of a student, logs too, as one JSON file',
    access: 'signed-in',
    params: z.object({ studentId: id }),
    response: z.unknown(),
    stream: true,
  }),
  references: endpoint({
    id: 'references',
    method: 'get',
    path: '/api/runs/:runId/references',
    summary: 'Laps of other runs that this one may be held against: own, instructors’, and of students who agreed',
    access: 'signed-in',
    params: runId,
    response: z.array(referenceLapSchema),
  }),
  lookAtLog: endpoint({
    id: 'lookAtLog',
    method: 'post',
    path: '/api/logs/look',
    summary: 'The columns of a log file and what they are taken for; nothing is stored',
    access: 'signed-in',
    upload: true,
    response: logLookSchema,
  }),
  sheetLink: endpoint({
    id: 'sheetLink',
    method: 'get',
    path: '/api/runs/:runId/sheet-link',
    summary: 'The link to a student’s sheet, if one is out',
    access: 'signed-in',
    params: runId,
    response: sheetLinkSchema,
  }),
  giveSheet: endpoint({
    id: 'giveSheet',
    method: 'post',
    path: '/api/runs/:runId/sheet-link',
    summary: 'Give out a link to a student’s sheet',
    access: 'signed-in',
    params: runId,
    response: sheetLinkSchema,
  }),
  withdrawSheet: endpoint({
    id: 'withdrawSheet',
    method: 'delete',
    path: '/api/runs/:runId/sheet-link',
    summary: 'Withdraw the link to a student’s sheet',
    access: 'signed-in',
    params: runId,
    response: sheetLinkSchema,
  }),
  runSheet: endpoint({
    id: 'runSheet',
    method: 'get',
    path: '/api/runs/:runId/sheet',
    summary: 'A student’s sheet of one run',
    access: 'signed-in',
    params: runId,
    response: sheetSchema,
  }),
  sheet: endpoint({
    id: 'sheet',
    method: 'get',
    path: '/api/sheets/:token',
    summary: 'A student’s sheet by its link',
    access: 'link',
    params: z.object({ token: z.string().min(20).max(80) }),
    response: sheetSchema,
  }),
  debrief: endpoint({
    id: 'debrief',
    method: 'get',
    path: '/api/runs/:runId/debrief',
    summary: 'Laps and findings of a run',
    access: 'signed-in',
    params: runId,
    response: debriefSchema,
  }),
  trace: endpoint({
    id: 'trace',
    method: 'get',
    path: '/api/runs/:runId/laps/:lap',
    summary: 'One lap at the circuit’s stations',
    access: 'signed-in',
    params: z.object({ runId: id, lap: z.coerce.number().int().min(1) }),
    response: traceSchema,
  }),
} as const
