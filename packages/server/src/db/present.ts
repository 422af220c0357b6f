import { randomUUID } from 'node:crypto'
import type { Knex } from 'knex'
import { LRUCache } from 'lru-cache'
import { serverNow } from '../clock/clock.ts'
import { clashOn, isPostgres, oneAtATime } from './dialect.ts'

/** What is counted by name, and how much of it may be. */
type Counted = readonly (readonly [key: string, most: number])[]

/** Counts what is under way and what was used up, so that there is an end to it: in all processes of a school together. */
export type Present = {
  /** Counts one more under each name, and gives back how it goes again; null, with nothing counted, where one has as many as it may. */
  enter: (counted: Counted) => Promise<(() => void) | null>
  /** Uses up an amount under each name within a day; false, with nothing used up, where one would have more than it may. */
  spend: (counted: Counted, amount: number) => Promise<boolean>
  close: () => void
}

const DAY_MS = 24 * 3600 * 1000

/** The counts of a school that one process serves: in its memory. */
export const ofOneProcess = (): Present => {
  const here = new Map<string, number>()
  const spent = new LRUCache<string, number>({ max: 10_000, ttl: DAY_MS, noUpdateTTL: true })
  const change = (key: string, by: number): void => {
    const next = (here.get(key) ?? 0) + by
    if (next > 0) here.set(key, next)
    else here.delete(key)
  }
  return {
    enter: async (counted) => {
      if (counted.some(([key, most]) => (here.get(key) ?? 0) >= most)) return null
      for (const [key] of counted) change(key, 1)
      return () => {
        for (const [key] of counted) change(key, -1)
      }
    },
    spend: async (counted, amount) => {
      if (counted.some(([key, most]) => (spent.get(key) ?? 0) + amount > most)) return false
      for (const [key] of counted) spent.set(key, (spent.get(key) ?? 0) + amount)
      return true
    },
    close: () => {},
  }
}

/** What a process counts is counted for so long after it was last heard of, and how often it is heard of (ms). */
const KEPT_MS = 45_000
const HEARD_EVERY_MS = 15_000

/** The counts of a school that several processes serve: in their database. Those of a process that is gone go by themselves. */
const ofSeveral = (db: Knex, onFailure: (error: unknown) => void): Present => {
  const own = new Set<string>()
  const timer = setInterval(() => {
    const until = serverNow() + KEPT_MS
    if (own.size > 0)
      void db('present')
        .whereIn('id', [...own])
        .update({ until })
        .catch(onFailure)
  }, HEARD_EVERY_MS)
  timer.unref()
  const countOf = async (trx: Knex, key: string): Promise<number> =>
    Number(((await trx('present').where({ key }).count({ n: '*' }).first()) as { n: number }).n)
  return {
    enter: (counted) =>
      db.transaction(async (trx) => {
        await oneAtATime(trx, 'present')
        await trx('present').where('until', '<=', serverNow()).delete()
        for (const [key, most] of counted) if ((await countOf(trx, key)) >= most) return null
        const rows = counted.map(([key]) => ({ id: randomUUID(), key, until: serverNow() + KEPT_MS }))
        await trx('present').insert(rows)
        for (const { id } of rows) own.add(id)
        return () => {
          const ids = rows.map(({ id }) => id)
          for (const id of ids) own.delete(id)
          void db('present').whereIn('id', ids).delete().catch(onFailure)
        }
      }),
    spend: (counted, amount) =>
      db.transaction(async (trx) => {
        await oneAtATime(trx, 'spent')
        const at = serverNow()
        await trx('tries').where('until', '<=', at).delete()
        const keys = counted.map(([key]) => `spent ${key}`)
        const rows = (await trx('tries').whereIn('key', keys)) as { key: string; count: number; until: number }[]
        const before = (key: string) => rows.find((row) => row.key === key)
        if (counted.some(([, most], n) => (before(keys[n])?.count ?? 0) + amount > most)) return false
        for (const key of keys)
          await trx('tries')
            .insert({ key, count: (before(key)?.count ?? 0) + amount, until: before(key)?.until ?? at + DAY_MS })
            .onConflict(clashOn(trx, 'key'))
            .merge()
        return true
      }),
    close: () => clearInterval(timer),
  }
}

/** The counts of a school. */
export const present = (db: Knex, onFailure: (error: unknown) => void): Present =>
  isPostgres(db) ? ofSeveral(db, onFailure) : ofOneProcess()
