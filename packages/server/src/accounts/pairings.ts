import type { Pairing } from '@ochote/contract'
import type { Knex } from 'knex'
import { serverNow } from '../clock/clock.ts'
import { clashOn } from '../db/dialect.ts'
import { readableCode } from '../secrets/readable-code.ts'
import { hashOfToken, type Secrets } from '../secrets/secrets.ts'

/** Signs of a code: 31^8, about 40 bits, valid for minutes and behind a limit of tries. */
const LENGTH = 8

/** How long a code waits for its device (ms). */
const CODE_MS = 15 * 60_000

/** The code as it is compared: without blanks and dashes, in capitals. */
const typed = (code: string): string => code.toUpperCase().replace(/[^A-Z0-9]/g, '')

type Row = {
  id: string
  day_id: string
  account_id: string
  name: string
  role: Pairing['role']
  code_sealed: string | null
  code_until: number
  until: number
  used_at: string | null
}

const select = (db: Knex) =>
  db('pairings').join('accounts', 'accounts.id', 'pairings.account_id').select('pairings.*', 'accounts.name', 'accounts.role')

/** Devices signed in for one day by a short code. */
export const pairingTable = (db: Knex, secrets: Secrets, now: () => number = serverNow) => {
  const toPairing = (row: Row): Pairing => ({
    id: row.id,
    accountId: row.account_id,
    name: row.name,
    role: row.role,
    code: row.used_at === null && row.code_sealed !== null && row.code_until > now() ? secrets.unseal('codes', row.code_sealed) : null,
    codeUntil: new Date(row.code_until).toISOString(),
    usedAt: row.used_at,
    until: new Date(row.until).toISOString(),
  })
  return {
    /** The devices of a day that were not signed out. */
    of: async (dayId: string): Promise<Pairing[]> =>
      ((await select(db).where({ day_id: dayId }).whereNull('revoked_at').orderBy('pairings.code_until')) as Row[]).map(toPairing),
    /** A code for one device; the same id sent again changes nothing. */
    add: async (id: string, dayId: string, accountId: string, until: number): Promise<void> => {
      const code = readableCode(LENGTH)
      await db('pairings')
        .insert({
          id,
          day_id: dayId,
          account_id: accountId,
          code_hash: hashOfToken(code),
          code_sealed: secrets.seal('codes', code),
          code_until: now() + CODE_MS,
          until,
        })
        .onConflict(clashOn(db, 'id'))
        .ignore()
    },
    /** Uses a code, once; null for one that is wrong, was used, withdrawn, or is too old. */
    use: async (code: string): Promise<{ id: string; accountId: string; until: number } | null> => {
      const row = (await db('pairings')
        .where({ code_hash: hashOfToken(typed(code)) })
        .whereNull('used_at')
        .whereNull('revoked_at')
        .andWhere('code_until', '>', now())
        .andWhere('until', '>', now())
        .first()) as Row | undefined
      if (!row) return null
      const used = await db('pairings')
        .where({ id: row.id })
        .whereNull('used_at')
        .update({ used_at: new Date(now()).toISOString(), code_hash: null, code_sealed: null })
      return used === 1 ? { id: row.id, accountId: row.account_id, until: row.until } : null
    },
    /** The day that a pairing is limited to; null once it was withdrawn or its day is over. */
    dayOf: async (id: string): Promise<string | null> => {
      const row = (await db('pairings').where({ id }).whereNull('revoked_at').andWhere('until', '>', now()).first('day_id')) as
        | { day_id: string }
        | undefined
      return row?.day_id ?? null
    },
    revoke: async (id: string, dayId: string): Promise<void> => {
      await db('pairings')
        .where({ id, day_id: dayId })
        .update({ revoked_at: new Date(now()).toISOString(), code_hash: null, code_sealed: null })
    },
  }
}
export type PairingTable = ReturnType<typeof pairingTable>
