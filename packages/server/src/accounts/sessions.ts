import type { OpenSession } from '@ochote/contract'
import { type SessionData, Store } from 'express-session'
import type { Knex } from 'knex'
import { serverNow } from '../clock/clock.ts'
import { clashOn } from '../db/dialect.ts'
import { hashOfToken } from '../secrets/secrets.ts'

const DAY_MS = 24 * 3600 * 1000

/** A session ends this long after its last use, and this long after its beginning at the latest (ms). */
const IDLE_MS = 14 * DAY_MS
const ABSOLUTE_MS = 90 * DAY_MS

/** How long the cookie is kept by a browser; the server decides anyway. */
export const COOKIE_MS = ABSOLUTE_MS

/** Use is noted at most this often (ms), so that reading a page stays reading. */
const NOTED_EVERY_MS = 5 * 60_000

declare module 'express-session' {
  interface SessionData {
    accountId: string
    /** The pairing by which a device was signed in, and when that ends (ms). */
    pairingId?: string
    pairedUntil?: number
    /** Kind of device, as the list of sessions shows it. */
    device?: OpenSession['device']
    /** Secret of an authenticator that is being set up. */
    codesSecret?: string
  }
}

type Row = {
  sid_hash: string
  account_id: string | null
  data: string
  device: OpenSession['device']
  created_at: number
  used_at: number
  expires_at: number
  until: number
}

const toSession = (row: Row, currentHash: string): OpenSession => ({
  id: row.sid_hash,
  device: row.device,
  createdAt: new Date(row.created_at).toISOString(),
  usedAt: new Date(row.used_at).toISOString(),
  until: new Date(Math.min(row.until, row.expires_at)).toISOString(),
  current: row.sid_hash === currentHash,
})

/** Sessions in the database, by the hash of their id: the table opens none of them. */
export const sessionTable = (db: Knex) => {
  const alive = (now = serverNow()) => db('sessions').where('expires_at', '>', now).andWhere('until', '>', now)
  return {
    /** Where an account is signed in, last used first. */
    of: async (accountId: string, currentSid: string): Promise<OpenSession[]> =>
      ((await alive().where({ account_id: accountId }).orderBy('used_at', 'desc')) as Row[]).map((row) =>
        toSession(row, hashOfToken(currentSid)),
      ),
    /** Ends one session of an account. */
    end: async (accountId: string, sessionId: string): Promise<void> => {
      await db('sessions').where({ account_id: accountId, sid_hash: sessionId }).delete()
    },
    /** Ends all sessions of an account, but the one that asks for it. */
    endAll: async (accountId: string, butSid?: string): Promise<void> => {
      const query = db('sessions').where({ account_id: accountId })
      if (butSid !== undefined) query.whereNot({ sid_hash: hashOfToken(butSid) })
      await query.delete()
    },
    endPaired: async (pairingId: string): Promise<void> => {
      await db('sessions').where({ pairing_id: pairingId }).delete()
    },
  }
}
export type SessionTable = ReturnType<typeof sessionTable>

/** Server-side sessions in the database; a database error reaches the request that met it and nothing else. */
export class DatabaseSessionStore extends Store {
  readonly #db: Knex
  readonly #now: () => number

  constructor(db: Knex, now: () => number = serverNow) {
    super()
    this.#db = db
    this.#now = now
  }

  override get(sid: string, done: (error: unknown, session?: SessionData | null) => void): void {
    const now = this.#now()
    this.#db('sessions')
      .where({ sid_hash: hashOfToken(sid) })
      .andWhere('expires_at', '>', now)
      .andWhere('until', '>', now)
      .first('data')
      .then((row: { data: string } | undefined) => done(null, row ? (JSON.parse(row.data) as SessionData) : null), done)
  }

  override set(sid: string, session: SessionData, done?: (error?: unknown) => void): void {
    const now = this.#now()
    const until = Math.min(now + ABSOLUTE_MS, session.pairedUntil ?? Number.POSITIVE_INFINITY)
    const changed = { account_id: session.accountId ?? null, data: JSON.stringify(session), used_at: now, expires_at: now + IDLE_MS }
    const row = {
      ...changed,
      sid_hash: hashOfToken(sid),
      pairing_id: session.pairingId ?? null,
      device: session.device ?? 'unknown',
      created_at: now,
      until,
    }
    // The end of a session is fixed when it begins: use lengthens it only up to there.
    this.#db('sessions')
      .insert(row)
      .onConflict(clashOn(this.#db, 'sid_hash'))
      .merge(changed)
      .then(() => this.#db('sessions').where('expires_at', '<', now).orWhere('until', '<', now).delete())
      .then(() => done?.(), done)
  }

  /** Notes that a session is used, now and then. A disk that takes nothing signs nobody out. */
  override touch(sid: string, _session: SessionData, done?: (error?: unknown) => void): void {
    const now = this.#now()
    this.#db('sessions')
      .where({ sid_hash: hashOfToken(sid) })
      .andWhere('used_at', '<', now - NOTED_EVERY_MS)
      .update({ used_at: now, expires_at: now + IDLE_MS })
      .then(
        () => done?.(),
        () => done?.(),
      )
  }

  override destroy(sid: string, done?: (error?: unknown) => void): void {
    this.#db('sessions')
      .where({ sid_hash: hashOfToken(sid) })
      .delete()
      .then(() => done?.(), done)
  }
}

/** Kind of device that a request comes from, as far as its browser says. */
export const deviceOf = (userAgent: string | undefined): OpenSession['device'] =>
  userAgent === undefined ? 'unknown' : /mobi|tablet|touch/i.test(userAgent) ? 'handheld' : 'computer'
