import { type SessionData, Store } from 'express-session'
import type { Knex } from 'knex'

/** A session lives this long after its last use (ms). */
export const SESSION_MS = 14 * 24 * 3600 * 1000

/** Server-side sessions in the database; a database error reaches the request that met it and nothing else. */
export class DatabaseSessionStore extends Store {
  readonly #db: Knex

  constructor(db: Knex) {
    super()
    this.#db = db
  }

  override get(sid: string, done: (error: unknown, session?: SessionData | null) => void): void {
    this.#db('sessions')
      .where({ sid })
      .andWhere('expires_at', '>', Date.now())
      .first('data')
      .then((row: { data: string } | undefined) => done(null, row ? (JSON.parse(row.data) as SessionData) : null), done)
  }

  override set(sid: string, session: SessionData, done?: (error?: unknown) => void): void {
    const row = { sid, data: JSON.stringify(session), expires_at: Date.now() + SESSION_MS }
    this.#db('sessions')
      .insert(row)
      .onConflict('sid')
      .merge()
      .then(() => this.#db('sessions').where('expires_at', '<', Date.now()).delete())
      .then(() => done?.(), done)
  }

  override destroy(sid: string, done?: (error?: unknown) => void): void {
    this.#db('sessions')
      .where({ sid })
      .delete()
      .then(() => done?.(), done)
  }
}
