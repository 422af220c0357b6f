import type { Account, Role } from '@ochote/contract'
import type { Knex } from 'knex'

type Row = { id: string; name: string; role: Role; password_hash: string | null }

const toAccount = (row: Row): Account => ({ id: row.id, name: row.name, role: row.role, canSignIn: row.password_hash !== null })

/** Accounts in the database. */
export const accountStore = (db: Knex) => ({
  all: async (): Promise<Account[]> => ((await db('accounts').orderBy('created_at')) as Row[]).map(toAccount),
  byId: async (id: string): Promise<Account | null> => {
    const row = (await db('accounts').where({ id }).first()) as Row | undefined
    return row ? toAccount(row) : null
  },
  /** Account and hash by name, whatever its case. */
  byName: async (name: string): Promise<{ account: Account; hash: string | null } | null> => {
    const row = (await db('accounts').whereRaw('lower(name) = lower(?)', [name]).first()) as Row | undefined
    return row ? { account: toAccount(row), hash: row.password_hash } : null
  },
  lead: async (): Promise<Account | null> => {
    const row = (await db('accounts').where({ role: 'lead' }).orderBy('created_at').first()) as Row | undefined
    return row ? toAccount(row) : null
  },
  count: async (): Promise<number> => Number((await db('accounts').count({ n: '*' }).first())?.n ?? 0),
  add: async (account: { id: string; name: string; role: Role; passwordHash: string | null }): Promise<void> => {
    await db('accounts').insert({
      id: account.id,
      name: account.name,
      role: account.role,
      password_hash: account.passwordHash,
      created_at: new Date().toISOString(),
    })
  },
})
export type AccountStore = ReturnType<typeof accountStore>
