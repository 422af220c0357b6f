import { type Account, type Role, type Teaching, teachingSchema } from '@ochote/contract'
import type { Knex } from 'knex'
import { bindTo } from '../db/bind.ts'
import { readStored } from '../db/stored.ts'

type Row = {
  id: string
  name: string
  role: Role
  password_hash: string | null
  teaching: string
  version: number
  archived_at: string | null
}

const toAccount = (row: Row): Account => ({
  id: row.id,
  name: row.name,
  role: row.role,
  canSignIn: row.password_hash !== null && row.archived_at === null,
  teaching: readStored(teachingSchema, row.teaching, 'accounts', row.id),
  version: row.version,
  archivedAt: row.archived_at,
})

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

type NewAccount = { id: string; name: string; role: Role; passwordHash: string | null; teaching?: Teaching }

const add = async (db: Knex, account: NewAccount): Promise<void> => {
  await db('accounts').insert({
    id: account.id,
    name: account.name,
    role: account.role,
    password_hash: account.passwordHash,
    teaching: JSON.stringify(account.teaching ?? {}),
    created_at: new Date().toISOString(),
  })
}

/** An account as changed; without a hash the password stays. */
type AccountChange = { name: string; role: Role; teaching: Teaching; archivedAt: string | null; passwordHash?: string }

/** Writes a new version if the stored one is still the version it was made from; false otherwise. */
const change = async (db: Knex, id: string, fromVersion: number, account: AccountChange): Promise<boolean> =>
  (await db('accounts')
    .where({ id, version: fromVersion })
    .update({
      name: account.name,
      role: account.role,
      teaching: JSON.stringify(account.teaching),
      archived_at: account.archivedAt,
      version: fromVersion + 1,
      ...(account.passwordHash === undefined ? {} : { password_hash: account.passwordHash }),
    })) === 1

/** Leads who can sign in, beside one account. */
const otherLeads = async (db: Knex, id: string): Promise<number> =>
  Number((await db('accounts').where({ role: 'lead' }).whereNull('archived_at').whereNot({ id }).count({ n: '*' }).first())?.n ?? 0)

/** Accounts in the database. */
export const accountStore = (db: Knex) => bindTo(db, { all, byId, byName, lead, count, add, change, otherLeads })
export type AccountStore = ReturnType<typeof accountStore>
