import { createHash } from 'node:crypto'
import type { Trail, TrailLine } from '@ochote/contract'
import type { Knex } from 'knex'
import { serverTime } from '../clock/clock.ts'
import { oneAtATime } from '../db/dialect.ts'

/** What is written of a call: who did what about what. `about` names kind and id, never a person's name. */
export type TrailEntry = {
  accountId: string | null
  by: string | null
  what: Trail | 'signed-in' | 'sign-in-failed'
  call: string
  about: string | null
}

type Row = {
  seq: number
  at: string
  account_id: string | null
  by: string | null
  what: TrailLine['what']
  call: string
  about: string | null
  hash: string
}

/** The hash of the line before the first one. */
const BEGINNING = ''

/** Lines shown on a page, and lines checked at a time. */
const PAGE = 100
const CHECKED = 1000

/** The hash that ties a line to the one before it. */
const hashOf = (before: string, { at, account_id, by, what, call, about }: Omit<Row, 'seq' | 'hash'>): string =>
  createHash('sha256')
    .update(JSON.stringify([before, at, account_id, by, what, call, about]))
    .digest('base64url')

/** The trail: lines are added, never changed; each holds the hash of itself and the one before. */
export const trailTable = (db: Knex) => {
  // One line after the other: each needs the hash of the last one.
  let writing: Promise<unknown> = Promise.resolve()
  const append = async ({ accountId, by, what, call, about }: TrailEntry): Promise<void> =>
    db.transaction(async (trx) => {
      await oneAtATime(trx, 'trail')
      const last = (await trx('trail').orderBy('seq', 'desc').first('seq', 'hash')) as Pick<Row, 'seq' | 'hash'> | undefined
      const line = { at: serverTime(), account_id: accountId, by, what, call, about }
      // Its number is counted here: a database that counts may leave one out after a write that failed.
      await trx('trail').insert({ seq: (last?.seq ?? 0) + 1, ...line, hash: hashOf(last?.hash ?? BEGINNING, line) })
    })
  /** The number of the first line that does not fit to the one before it; null where all do. Cost: linear in the lines. */
  const firstBroken = async (): Promise<number | null> => {
    let before = BEGINNING
    let seq = 0
    for (;;) {
      const rows = (await db('trail').where('seq', '>', seq).orderBy('seq').limit(CHECKED)) as Row[]
      for (const row of rows) {
        if (row.seq !== seq + 1 || row.hash !== hashOf(before, row)) return row.seq
        before = row.hash
        seq = row.seq
      }
      if (rows.length < CHECKED) return null
    }
  }
  return {
    add: (entry: TrailEntry): Promise<void> => {
      const adding = writing.then(() => append(entry))
      writing = adding.catch(() => {})
      return adding
    },
    /** Lines before a number (or the newest), of all or about one thing. */
    page: async (before?: number, about?: string): Promise<{ lines: TrailLine[]; next: number | null }> => {
      const query = db('trail').orderBy('seq', 'desc').limit(PAGE)
      if (before !== undefined) query.where('seq', '<', before)
      if (about) query.where({ about })
      const rows = (await query) as Row[]
      const lines = rows.map(({ seq, at, by, what, call, about }) => ({ seq, at, by, what, call, about }))
      return { lines, next: rows.length === PAGE ? rows[PAGE - 1].seq : null }
    },
    firstBroken,
  }
}
export type TrailTable = ReturnType<typeof trailTable>
