import { api, type RunEvent } from '@ochote/contract'
import { call } from '../../app/api-client.ts'
import { eventQueue } from '../../shared/events/event-queue.ts'

/** Events of runs on this device. */
export const runQueue = eventQueue<RunEvent>(
  'runEvents',
  (e) => e.runId,
  async (events) => (await call(api.addEvents, { body: { events } })).stored,
)
