import type { Knex } from 'knex'
import { serverNow } from '../clock/clock.ts'
import { clashOn } from '../db/dialect.ts'
import { HttpProblem } from '../http/problems.ts'

/** How many wrong tries are let through within a time (ms). */
type Limit = { max: number; within_ms: number }

/** Limits by what is counted: tries from one address, at one account, and links that do not exist. */
export const limits = {
  address: { max: 10, within_ms: 5 * 60_000 },
  account: { max: 20, within_ms: 15 * 60_000 },
  link: { max: 30, within_ms: 5 * 60_000 },
} as const satisfies Record<string, Limit>

const pause = (until: number, now: number): HttpProblem =>
  new HttpProblem(
    429,
    'too-many-tries',
    'Too many tries in a short time.',
    `Wait ${Math.max(1, Math.ceil((until - now) / 60_000))} minutes, then try again.`,
  )

/** Wrong tries, kept in the database so that a restart forgives nobody. */
export const triesTable = (db: Knex, now: () => number = serverNow) => ({
  /** @throws HttpProblem 429 where a key has had its tries */
  check: async (kind: keyof typeof limits, key: string): Promise<void> => {
    const row = (await db('tries')
      .where({ key: `${kind} ${key}` })
      .first()) as { count: number; until: number } | undefined
    if (row && row.until > now() && row.count >= limits[kind].max) throw pause(row.until, now())
  },
  /** Counts one wrong try. */
  wrong: async (kind: keyof typeof limits, key: string): Promise<void> => {
    const at = now()
    await db.transaction(async (trx) => {
      await trx('tries').where('until', '<=', at).delete()
      await trx('tries')
        .insert({ key: `${kind} ${key}`, count: 1, until: at + limits[kind].within_ms })
        .onConflict(clashOn(trx, 'key'))
        .merge({ count: trx.raw('tries.count + 1') })
    })
  },
  /** Forgets the wrong tries of a key that got in. */
  right: async (kind: keyof typeof limits, key: string): Promise<void> => {
    await db('tries')
      .where({ key: `${kind} ${key}` })
      .delete()
  },
})
export type TriesTable = ReturnType<typeof triesTable>
