import { api, type RunEvent } from '@ochote/contract'
import Dexie, { type EntityTable, liveQuery } from 'dexie'
import { call } from '../../app/api-client.ts'

/** An event on this device; `sent`: 1 once the server has acknowledged it. */
export type KeptEvent = { id: string; runId: string; at: string; sent: 0 | 1; doc: RunEvent }

const database = new Dexie('ochote') as Dexie & { events: EntityTable<KeptEvent, 'id'> }
database.version(1).stores({ events: 'id, runId, sent' })

const RETRY_MS = 2000
const BATCH = 100
let timer: ReturnType<typeof setTimeout> | null = null
let sending = false

/** Keeps an event on this device first, then sends it. */
export const logEvent = async (doc: RunEvent): Promise<void> => {
  await database.events.put({ id: doc.id, runId: doc.runId, at: doc.at, sent: 0, doc })
  void sendWaiting()
}

/** Sends what waits, oldest first; ids are the client's own, so that a resend never doubles. Tries again until all is there. */
export const sendWaiting = async (): Promise<void> => {
  if (sending) return
  sending = true
  if (timer) clearTimeout(timer)
  timer = null
  try {
    for (;;) {
      const waiting = await database.events.where('sent').equals(0).limit(BATCH).sortBy('at')
      if (waiting.length === 0) break
      const { stored } = await call(api.addEvents, { body: { events: waiting.map((e) => e.doc) } })
      await database.events.where('id').anyOf(stored).modify({ sent: 1 })
    }
  } catch {
    timer = setTimeout(() => void sendWaiting(), RETRY_MS)
  } finally {
    sending = false
  }
}

/** Takes over what other devices logged for a run. */
export const adoptEvents = async (events: readonly RunEvent[]): Promise<void> => {
  await database.events.bulkPut(events.map((doc) => ({ id: doc.id, runId: doc.runId, at: doc.at, sent: 1, doc })))
}

/** Tells of a run's events on this device now and after each change; returns how to stop. */
export const watchEvents = (runId: string, onChange: (events: KeptEvent[]) => void): (() => void) => {
  const subscription = liveQuery(() => database.events.where('runId').equals(runId).sortBy('at')).subscribe({ next: onChange })
  return () => subscription.unsubscribe()
}
