import { z } from 'zod'
import {
  codeSchema,
  codesStateSchema,
  newCodesSchema,
  newPairingSchema,
  openSessionSchema,
  ownPasswordSchema,
  pairingSchema,
  typedCodeSchema,
} from './access.ts'
import { accountSchema, sessionSchema } from './account.ts'
import { backupSchema, restoreSchema } from './backup.ts'
import { endpoint } from './endpoint.ts'
import { serverHealthSchema } from './health.ts'
import { trailSchema } from './trail.ts'

const id = z.string().min(1).max(80)
const dayId = z.object({ dayId: id })
const backupName = z.object({ name: z.string().regex(/^[\w.-]{1,100}$/) })

/** Calls about access and safety: passwords, sessions, paired devices, backups, the trail. */
export const trustApi = {
  serverHealth: endpoint({
    id: 'serverHealth',
    method: 'get',
    path: '/api/health/details',
    summary: 'State of database, disk, backups and jobs, for the lead',
    response: serverHealthSchema,
  }),
  metrics: endpoint({
    id: 'metrics',
    method: 'get',
    path: '/api/metrics',
    summary: 'Numbers of the running server in Prometheus’ text form; also over the socket in the data folder',
    response: z.unknown(),
    stream: true,
  }),
  pairDevice: endpoint({
    id: 'pairDevice',
    method: 'post',
    path: '/api/session/paired',
    summary: 'Sign a device in with the code that is shown at the desk',
    body: typedCodeSchema,
    response: sessionSchema,
  }),
  changeOwnPassword: endpoint({
    id: 'changeOwnPassword',
    method: 'put',
    path: '/api/session/password',
    summary: 'Change the own password; every other session of the account ends',
    body: ownPasswordSchema,
    response: sessionSchema,
  }),
  ownSessions: endpoint({
    id: 'ownSessions',
    method: 'get',
    path: '/api/sessions',
    summary: 'Where the account is signed in',
    response: z.array(openSessionSchema),
  }),
  endOwnSession: endpoint({
    id: 'endOwnSession',
    method: 'delete',
    path: '/api/sessions/:sessionId',
    summary: 'Sign the account out on one device, or with “others” on all but this one',
    params: z.object({ sessionId: id }),
    response: z.array(openSessionSchema),
  }),
  beginCodes: endpoint({
    id: 'beginCodes',
    method: 'post',
    path: '/api/session/codes',
    summary: 'A secret for an authenticator; nothing changes until a code of it is given',
    response: newCodesSchema,
  }),
  confirmCodes: endpoint({
    id: 'confirmCodes',
    method: 'put',
    path: '/api/session/codes',
    summary: 'Ask for time-based codes at every sign-in from now on',
    body: z.object({ code: codeSchema }),
    response: codesStateSchema,
  }),
  endCodes: endpoint({
    id: 'endCodes',
    method: 'delete',
    path: '/api/session/codes',
    summary: 'Ask for no codes any more',
    body: z.object({ password: z.string().min(1).max(200) }),
    response: codesStateSchema,
  }),
  signOutAccount: endpoint({
    id: 'signOutAccount',
    method: 'post',
    path: '/api/accounts/:accountId/sign-out',
    summary: 'Sign an account out on all its devices; “codes” takes away its authenticator, which was lost',
    params: z.object({ accountId: id }),
    body: z.object({ codes: z.boolean().default(false) }),
    response: z.array(accountSchema),
  }),
  pairings: endpoint({
    id: 'pairings',
    method: 'get',
    path: '/api/days/:dayId/devices',
    summary: 'Devices paired for a day, and codes that wait for one',
    params: dayId,
    response: z.array(pairingSchema),
  }),
  pair: endpoint({
    id: 'pair',
    method: 'post',
    path: '/api/days/:dayId/devices',
    summary: 'A code by which a tablet or a volunteer’s phone is signed in for this day',
    params: dayId,
    body: newPairingSchema,
    response: z.array(pairingSchema),
  }),
  unpair: endpoint({
    id: 'unpair',
    method: 'delete',
    path: '/api/days/:dayId/devices/:deviceId',
    summary: 'Sign a paired device out for good, or withdraw its code',
    params: dayId.extend({ deviceId: id }),
    response: z.array(pairingSchema),
  }),
  backups: endpoint({
    id: 'backups',
    method: 'get',
    path: '/api/backups',
    summary: 'Backups of the school, newest first',
    response: z.array(backupSchema),
  }),
  makeBackup: endpoint({
    id: 'makeBackup',
    method: 'post',
    path: '/api/backups',
    summary: 'Make a backup now, and read it whole to check it',
    response: backupSchema,
  }),
  compareBackup: endpoint({
    id: 'compareBackup',
    method: 'get',
    path: '/api/backups/:name',
    summary: 'What restoring a backup would change, table by table; nothing is changed',
    params: backupName,
    response: restoreSchema,
  }),
  restoreBackup: endpoint({
    id: 'restoreBackup',
    method: 'post',
    path: '/api/backups/:name/restored',
    summary: 'Restore a backup, all of it or nothing; the school as it is now becomes a backup first',
    params: backupName,
    response: restoreSchema,
  }),
  trail: endpoint({
    id: 'trail',
    method: 'get',
    path: '/api/trail',
    summary: 'Who saw, changed, took out or erased what, newest first',
    query: z.object({ before: z.coerce.number().int().min(1).optional(), about: z.string().max(120).optional() }),
    response: trailSchema,
  }),
} as const
