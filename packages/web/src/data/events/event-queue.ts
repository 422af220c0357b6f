import type { Acknowledged } from '@ochote/contract'
import Dexie, { type EntityTable, liveQuery } from 'dexie'
import { checkStorage, reportSync, reportWaiting } from './sync-state.ts'

/** An event on this device; `about`: the run or day it belongs to, `sent`: 1 once the server has it, 2 where it can never have it. */
export type QueuedEvent<E> = { id: string; about: string; at: string; sent: 0 | 1 | 2; doc: E }

type Tables = {
  runEvents: EntityTable<QueuedEvent<unknown>, 'id'>
  dayEvents: EntityTable<QueuedEvent<unknown>, 'id'>
  /** Answers of the server kept for a start without it. */
  answers: EntityTable<{ key: string; value: unknown }, 'key'>
  /** Runs started here that the server does not know yet. */
  starts: EntityTable<{ id: string; body: unknown }, 'id'>
}

// What was answered to a touch must be on the disk, not on its way there.
const database = new Dexie('ochote', { chromeTransactionDurability: 'strict' }) as Dexie & Tables
database.version(1).stores({ events: 'id, runId, sent' })
database
  .version(2)
  .stores({ events: 'id, runId, sent', runEvents: 'id, about, sent', dayEvents: 'id, about, sent' })
  .upgrade(async (tx) => {
    const old = (await tx.table('events').toArray()) as (Omit<QueuedEvent<unknown>, 'about'> & { runId: string })[]
    await tx.table('runEvents').bulkPut(old.map(({ runId, ...event }) => ({ ...event, about: runId })))
  })

database.version(3).stores({
  events: 'id, runId, sent',
  runEvents: 'id, about, sent',
  dayEvents: 'id, about, sent',
  answers: 'key',
  starts: 'id',
})

/** Other things that this device keeps. */
export const { answers: storedAnswers, starts: queuedStarts } = database

const RETRY_MS = 2000
const BATCH = 100

/** Keeps events on this device first and sends them when it can. */
export type EventQueue<E> = {
  log: (doc: E) => Promise<void>
  sendWaiting: () => Promise<void>
  adopt: (events: readonly E[]) => Promise<void>
  /** Gives what was logged about one thing to another, to be sent for that. */
  move: (from: string, to: (doc: E) => E) => Promise<void>
  watch: (about: string | readonly string[], onChange: (events: QueuedEvent<E>[]) => void) => () => void
}

/** The status of a refusal by the server; undefined for anything else. */
const statusOf = (error: unknown): number | undefined => (error as { problem?: { status?: number } }).problem?.status

/** A send queue over one table. `send` returns the ids the server has stored; ids are client-generated, so a resend creates no duplicates. */
export const eventQueue = <E extends { id: string; at: string }>(
  tableName: keyof Tables,
  aboutOf: (doc: E) => string,
  send: (events: E[], deviceNow: string) => Promise<Acknowledged>,
): EventQueue<E> => {
  const table = database[tableName] as unknown as EntityTable<QueuedEvent<E>, 'id'>
  let timer: ReturnType<typeof setTimeout> | null = null
  let sending = false
  let again = false
  const watchers = new Set<(event: QueuedEvent<E>) => void>()
  const mark = (ids: readonly string[], sent: 1 | 2): Promise<unknown> =>
    table
      .where('id')
      .anyOf([...ids])
      .modify((event) => {
        event.sent = sent
      })
  const count = async (): Promise<void> => reportSync(tableName, { waiting: await table.where('sent').equals(0).count() })
  const sendWaiting = async (): Promise<void> => {
    if (sending) {
      again = true
      return
    }
    sending = true
    if (timer) clearTimeout(timer)
    timer = null
    try {
      do {
        again = false
        for (;;) {
          const waiting = await table.where('sent').equals(0).limit(BATCH).sortBy('at')
          if (waiting.length === 0) break
          const { stored, refused, clockAhead_s } = await send(
            waiting.map((e) => e.doc),
            new Date().toISOString(),
          )
          await mark(stored, 1)
          if (refused.length > 0)
            await mark(
              refused.map((r) => r.id),
              2,
            )
          reportSync(tableName, { signedOut: false, clockAhead_s, ...(refused.length > 0 ? { refused } : {}) })
          // An answer that speaks of none of them would be asked for ever again.
          if (stored.length + refused.length === 0) throw new Error('Nothing was acknowledged')
        }
      } while (again)
    } catch (error) {
      if (statusOf(error) === 401) reportSync(tableName, { signedOut: true })
      timer = setTimeout(() => void sendWaiting(), RETRY_MS)
    } finally {
      sending = false
      await count().catch(() => {})
    }
  }
  const kept = (doc: E, sent: 0 | 1): QueuedEvent<E> => ({ id: doc.id, about: aboutOf(doc), at: doc.at, sent, doc })
  return {
    sendWaiting,
    log: async (doc) => {
      try {
        await table.put(kept(doc, 0))
      } catch (error) {
        reportSync(tableName, { full: true })
        throw error
      }
      // It is on the disk: whoever looks is told at once, and only then the rest is seen to.
      reportWaiting(tableName)
      for (const watcher of watchers) watcher(kept(doc, 0))
      setTimeout(() => {
        void checkStorage()
        void count()
        void sendWaiting()
      })
    },
    adopt: async (events) => {
      await table.bulkPut(events.map((doc) => kept(doc, 1)))
    },
    move: async (from, to) => {
      const events = await table.where('about').equals(from).toArray()
      await table.bulkPut(events.map((e) => to(e.doc)).map((doc) => kept(doc, 0)))
      void sendWaiting()
    },
    watch: (about, onChange) => {
      const abouts = typeof about === 'string' ? [about] : [...about]
      let now: QueuedEvent<E>[] = []
      const tell = (next: QueuedEvent<E>[]): void => {
        now = next
        onChange(next)
      }
      const add = (event: QueuedEvent<E>): void => {
        if (abouts.includes(event.about) && !now.some((e) => e.id === event.id)) tell([...now, event])
      }
      watchers.add(add)
      const subscription = liveQuery(() => table.where('about').anyOf(abouts).sortBy('at')).subscribe({ next: tell })
      return () => {
        watchers.delete(add)
        subscription.unsubscribe()
      }
    },
  }
}
