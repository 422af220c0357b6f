import type { Acknowledged } from '@ochote/contract'
import Dexie, { type EntityTable, liveQuery } from 'dexie'
import { checkStorage, registerQueue, reportSync, reportWaiting } from './sync-state.ts'

/** An event on this device; `about`: the run or day it belongs to, `sent`: 1 once the server has it, 2 where it can never have it; `own`: logged here. */
export type QueuedEvent<E> = { id: string; about: string; at: string; sent: 0 | 1 | 2; doc: E; own?: boolean }

type Tables = {
  runEvents: EntityTable<QueuedEvent<unknown>, 'id'>
  dayEvents: EntityTable<QueuedEvent<unknown>, 'id'>
  /** Answers of the server kept for a start without it. */
  answers: EntityTable<{ key: string; value: unknown }, 'key'>
  /** Runs started here that the server does not know yet. */
  starts: EntityTable<{ id: string; body: unknown }, 'id'>
  /** Rounds that a student drove from memory by a link. */
  recalled: EntityTable<QueuedEvent<unknown>, 'id'>
  /** What an account left here unsent when it signed out, sealed with a key that only the server gives it again. */
  sealed: EntityTable<Sealed, 'id'>
}

/** Unsent entries of an account: its name and how many can be read by anybody, the entries by nobody without the key. */
export type Sealed = { id: string; accountId: string; name: string; count: number; iv: Uint8Array<ArrayBuffer>; data: ArrayBuffer }

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

database.version(4).stores({
  events: 'id, runId, sent',
  runEvents: 'id, about, sent',
  dayEvents: 'id, about, sent',
  answers: 'key',
  starts: 'id',
  sealed: 'id, accountId',
})

// Tables that are not named stay as the version before has them.
database.version(5).stores({ recalled: 'id, about, sent' })

/** Other things that this device keeps. */
export const { answers: storedAnswers, starts: queuedStarts, sealed: sealedEntries } = database

/** Tables of entries, as they are emptied and filled again when somebody signs out and in. */
export const entryTables = { runEvents: database.runEvents, dayEvents: database.dayEvents, starts: database.starts } as const

const RETRY_MS = 2000
const BATCH = 100

/** Keeps events on this device first and sends them when it can. */
export type EventQueue<E> = {
  log: (doc: E) => Promise<void>
  sendWaiting: () => Promise<void>
  adopt: (events: readonly E[]) => Promise<void>
  /** Takes off this device what the server does not know, and what is not on its way there. */
  forget: (ids: readonly string[]) => Promise<void>
  /** Gives what was logged about one thing to another, to be sent for that. */
  move: (from: string, to: (doc: E) => E) => Promise<void>
  watch: (about: string | readonly string[], onChange: (events: QueuedEvent<E>[]) => void) => () => void
}

/** The status of a refusal by the server; undefined for anything else. */
const statusOf = (error: unknown): number | undefined => (error as { problem?: { status?: number } }).problem?.status

type QueueTable<E> = EntityTable<QueuedEvent<E>, 'id'>
type Send<E> = (events: E[], deviceNow: string) => Promise<Acknowledged>

const setSent = <E>(table: QueueTable<E>, ids: readonly string[], sent: 1 | 2): Promise<unknown> =>
  table
    .where('id')
    .anyOf([...ids])
    .modify((event) => {
      event.sent = sent
    })

/** Sends what waits, batch by batch, until nothing does. @throws when the server does not answer, or acknowledges nothing */
const sendBatches = async <E>(tableName: keyof Tables, table: QueueTable<E>, send: Send<E>): Promise<void> => {
  for (;;) {
    const waiting = await table.where('sent').equals(0).limit(BATCH).sortBy('at')
    if (waiting.length === 0) return
    const docs = waiting.map((e) => e.doc)
    const { stored, refused, clockAhead_s } = await send(docs, new Date().toISOString())
    await setSent(table, stored, 1)
    const refusedIds = refused.map((r) => r.id)
    if (refused.length > 0) await setSent(table, refusedIds, 2)
    await reportCount(tableName, table)
    reportSync(tableName, { signedOut: false, clockAhead_s, ...(refused.length > 0 ? { refused } : {}) })
    // An answer that mentions none of them would be asked for again and again.
    if (stored.length + refused.length === 0) throw new Error('Nothing was acknowledged')
  }
}

/** Sends what waits now, and again later where that fails; calls during a send lead to one more. */
const senderOf = <E>(tableName: keyof Tables, table: QueueTable<E>, send: Send<E>): (() => Promise<void>) => {
  let timer: ReturnType<typeof setTimeout> | null = null
  let sending = false
  let again = false
  const sendWaiting = async (): Promise<void> => {
    if (sending) {
      again = true
      return
    }
    sending = true
    if (timer) clearTimeout(timer)
    timer = null
    try {
      await reportCount(tableName, table)
      do {
        again = false
        await sendBatches(tableName, table, send)
      } while (again)
    } catch (error) {
      if (statusOf(error) === 401) reportSync(tableName, { signedOut: true })
      timer = setTimeout(() => void sendWaiting(), RETRY_MS)
    } finally {
      sending = false
      await reportCount(tableName, table).catch(() => {})
    }
  }
  return sendWaiting
}

const reportCount = async <E>(tableName: keyof Tables, table: QueueTable<E>): Promise<void> =>
  reportSync(tableName, { waiting: await table.where('sent').equals(0).count() })

/** Calls back with the stored events about some things, and at once with each that is logged here. */
const watchTable = <E>(
  table: QueueTable<E>,
  watchers: Set<(event: QueuedEvent<E>) => void>,
  abouts: readonly string[],
  onChange: (events: QueuedEvent<E>[]) => void,
): (() => void) => {
  let events: QueuedEvent<E>[] = []
  const show = (next: QueuedEvent<E>[]): void => {
    events = next
    onChange(next)
  }
  const add = (event: QueuedEvent<E>): void => {
    if (abouts.includes(event.about) && !events.some((e) => e.id === event.id)) show([...events, event])
  }
  watchers.add(add)
  const subscription = liveQuery(() =>
    table
      .where('about')
      .anyOf([...abouts])
      .sortBy('at'),
  ).subscribe({ next: show })
  return () => {
    watchers.delete(add)
    subscription.unsubscribe()
  }
}

const withOwn = <E>(event: QueuedEvent<E>, own: boolean | undefined): QueuedEvent<E> => (own ? { ...event, own } : event)

/** A send queue over one table. `send` returns the ids the server has stored; ids are client-generated, so a resend creates no duplicates. */
export const eventQueue = <E extends { id: string; at: string }>(
  tableName: keyof Tables,
  aboutOf: (doc: E) => string,
  send: Send<E>,
): EventQueue<E> => {
  const table = database[tableName] as unknown as QueueTable<E>
  const watchers = new Set<(event: QueuedEvent<E>) => void>()
  registerQueue(tableName)
  // Pages may show the state without ever sending from this queue.
  if (typeof indexedDB !== 'undefined') void reportCount(tableName, table).catch(() => {})
  const sendWaiting = senderOf(tableName, table, send)
  const queued = (doc: E, sent: 0 | 1): QueuedEvent<E> => ({ id: doc.id, about: aboutOf(doc), at: doc.at, sent, doc })
  return {
    sendWaiting,
    log: async (doc) => {
      try {
        await table.put(withOwn(queued(doc, 0), true))
      } catch (error) {
        reportSync(tableName, { full: true })
        throw error
      }
      // It is on the disk: watchers see it at once, and only then the rest is done.
      reportWaiting(tableName)
      for (const watcher of watchers) watcher(withOwn(queued(doc, 0), true))
      setTimeout(() => {
        void checkStorage()
        void reportCount(tableName, table)
        void sendWaiting()
      })
    },
    adopt: async (events) => {
      const before = await table.bulkGet(events.map((e) => e.id))
      await table.bulkPut(events.map((doc, k) => withOwn(queued(doc, 1), before[k]?.own)))
    },
    forget: async (ids) => {
      await table
        .where('id')
        .anyOf([...ids])
        .and((e) => e.sent !== 0)
        .delete()
    },
    move: async (from, to) => {
      const events = await table.where('about').equals(from).toArray()
      await table.bulkPut(events.map((e) => withOwn(queued(to(e.doc), 0), e.own)))
      void sendWaiting()
    },
    watch: (about, onChange) => watchTable(table, watchers, typeof about === 'string' ? [about] : about, onChange),
  }
}
