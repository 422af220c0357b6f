import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { devicesSchema, historyRowSchema, liveFrameSchema, receiverPortSchema, receiverSchema } from './live.ts'

const dayId = z.object({ dayId: z.string().min(1).max(80) })

/** Calls of the running day: positions, devices, history. */
export const liveApi = {
  live: endpoint({
    id: 'live',
    method: 'get',
    path: '/api/days/:dayId/live',
    summary: 'Positions (event “frame”) and numbered happenings (event “happened”) as server-sent events; “after” or Last-Event-ID resumes',
    params: dayId,
    query: z.object({ after: z.coerce.number().int().min(0).optional() }),
    response: liveFrameSchema,
    stream: true,
  }),
  history: endpoint({
    id: 'history',
    method: 'get',
    path: '/api/days/:dayId/history',
    summary: 'Everything that was logged in a day, newest first, with who logged it when',
    params: dayId,
    response: z.array(historyRowSchema),
  }),
  receivers: endpoint({
    id: 'receivers',
    method: 'get',
    path: '/api/receivers',
    summary: 'Ports of the gateway: which car, checksum errors, rate',
    response: z.array(receiverSchema),
  }),
  assignReceiver: endpoint({
    id: 'assignReceiver',
    method: 'put',
    path: '/api/receivers/:port',
    summary: 'Say which car’s receiver sends to a port; refused when another car stands there than the sender saw',
    params: z.object({ port: z.coerce.number().int() }),
    body: receiverPortSchema.omit({ port: true }).extend({ before: receiverPortSchema.shape.carNumber }),
    response: z.array(receiverSchema),
  }),
  devices: endpoint({
    id: 'devices',
    method: 'get',
    path: '/api/simulated-devices',
    summary: 'State of the simulated radio, timing beam and weather station',
    response: devicesSchema,
  }),
  setDevices: endpoint({
    id: 'setDevices',
    method: 'put',
    path: '/api/simulated-devices',
    summary: 'Start, stop and set the simulated radio, timing beam and weather station; refused when made from an older version',
    body: devicesSchema,
    response: devicesSchema,
  }),
} as const
