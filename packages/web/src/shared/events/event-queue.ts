import Dexie, { type EntityTable, liveQuery } from 'dexie'

/** An event on this device; `about`: the run or day it belongs to, `sent`: 1 once the server has acknowledged it. */
export type KeptEvent<E> = { id: string; about: string; at: string; sent: 0 | 1; doc: E }

type Tables = {
  runEvents: EntityTable<KeptEvent<unknown>, 'id'>
  dayEvents: EntityTable<KeptEvent<unknown>, 'id'>
}

const database = new Dexie('ochote') as Dexie & Tables
database.version(1).stores({ events: 'id, runId, sent' })
database
  .version(2)
  .stores({ events: 'id, runId, sent', runEvents: 'id, about, sent', dayEvents: 'id, about, sent' })
  .upgrade(async (tx) => {
    const old = (await tx.table('events').toArray()) as (Omit<KeptEvent<unknown>, 'about'> & { runId: string })[]
    await tx.table('runEvents').bulkPut(old.map(({ runId, ...event }) => ({ ...event, about: runId })))
  })

const RETRY_MS = 2000
const BATCH = 100

/** Keeps events on this device first and sends them when it can. */
export type EventQueue<E> = {
  log: (doc: E) => Promise<void>
  sendWaiting: () => Promise<void>
  adopt: (events: readonly E[]) => Promise<void>
  watch: (about: string, onChange: (events: KeptEvent<E>[]) => void) => () => void
}

/** A queue over one table. `send` gives back the ids that the server has now; ids are the client's own, so that a resend never doubles. */
export const eventQueue = <E extends { id: string; at: string }>(
  tableName: keyof Tables,
  aboutOf: (doc: E) => string,
  send: (events: E[]) => Promise<string[]>,
): EventQueue<E> => {
  const table = database[tableName] as unknown as EntityTable<KeptEvent<E>, 'id'>
  let timer: ReturnType<typeof setTimeout> | null = null
  let sending = false
  const sendWaiting = async (): Promise<void> => {
    if (sending) return
    sending = true
    if (timer) clearTimeout(timer)
    timer = null
    try {
      for (;;) {
        const waiting = await table.where('sent').equals(0).limit(BATCH).sortBy('at')
        if (waiting.length === 0) break
        const stored = await send(waiting.map((e) => e.doc))
        await table
          .where('id')
          .anyOf(stored)
          .modify((event) => {
            event.sent = 1
          })
      }
    } catch {
      timer = setTimeout(() => void sendWaiting(), RETRY_MS)
    } finally {
      sending = false
    }
  }
  const kept = (doc: E, sent: 0 | 1): KeptEvent<E> => ({ id: doc.id, about: aboutOf(doc), at: doc.at, sent, doc })
  return {
    sendWaiting,
    log: async (doc) => {
      await table.put(kept(doc, 0))
      void sendWaiting()
    },
    adopt: async (events) => {
      await table.bulkPut(events.map((doc) => kept(doc, 1)))
    },
    watch: (about, onChange) => {
      const subscription = liveQuery(() => table.where('about').equals(about).sortBy('at')).subscribe({ next: onChange })
      return () => subscription.unsubscribe()
    },
  }
}
