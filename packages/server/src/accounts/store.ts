import type { Account, Role } from '@ochote/contract'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'

type Row = { id: string; name: string; role: Role; password_hash: string | null }

const toAccount = (row: Row): Account => ({ id: row.id, name: row.name, role: row.role, canSignIn: row.password_hash !== null })

const all = async (db: Knex): Promise<Account[]> => ((await db('accounts').orderBy('created_at')) as Row[]).map(toAccount)

const byId = async (db: Knex, id: string): Promise<Account | null> => {
  const row = (await db('accounts').where({ id }).first()) as Row | undefined
  return row ? toAccount(row) : null
}

/** Account and hash by name, whatever its case. */
const byName = async (db: Knex, name: string): Promise<{ account: Account; hash: string | null } | null> => {
  const row = (await db('accounts').whereRaw('lower(name) = lower(?)', [name]).first()) as Row | undefined
  return row ? { account: toAccount(row), hash: row.password_hash } : null
}

const lead = async (db: Knex): Promise<Account | null> => {
  const row = (await db('accounts').where({ role: 'lead' }).orderBy('created_at').first()) as Row | undefined
  return row ? toAccount(row) : null
}

const count = async (db: Knex): Promise<number> => Number((await db('accounts').count({ n: '*' }).first())?.n ?? 0)

const add = async (db: Knex, account: { id: string; name: string; role: Role; passwordHash: string | null }): Promise<void> => {
  await db('accounts').insert({
    id: account.id,
    name: account.name,
    role: account.role,
    password_hash: account.passwordHash,
    created_at: new Date().toISOString(),
  })
}

/** Accounts in the database. */
export const accountStore = (db: Knex) => bindTo(db, { all, byId, byName, lead, count, add })
export type AccountStore = ReturnType<typeof accountStore>
