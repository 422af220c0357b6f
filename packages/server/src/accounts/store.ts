import { type Account, type Role, type Teaching, teachingSchema } from '@ochote/contract'
import type { Knex } from 'knex'
import { serverTime } from '../clock/clock.ts'
import { bindTo } from '../db/bind.ts'
import { clashOn, oneAtATime } from '../db/dialect.ts'
import { readStored } from '../db/stored.ts'
import { nameKey } from './names.ts'

type Row = {
  id: string
  name: string
  role: Role
  password_hash: string | null
  teaching: string
  version: number
  archived_at: string | null
  codes_sealed: string | null
}

const toAccount = (row: Row): Account => ({
  id: row.id,
  name: row.name,
  role: row.role,
  canSignIn: row.password_hash !== null && row.archived_at === null,
  teaching: readStored(teachingSchema, row.teaching, 'accounts', row.id),
  version: row.version,
  archivedAt: row.archived_at,
  codes: row.codes_sealed !== null,
})

const all = async (db: Knex): Promise<Account[]> => ((await db('accounts').orderBy('created_at')) as Row[]).map(toAccount)

const byId = async (db: Knex, id: string): Promise<Account | null> => {
  const row = (await db('accounts').where({ id }).first()) as Row | undefined
  return row ? toAccount(row) : null
}

/** What signing in needs of an account: its hash, and the sealed secret of its authenticator, if it has one. */
type WithSecrets = { account: Account; hash: string | null; codesSealed: string | null }

const withSecrets = (row: Row | undefined): WithSecrets | null =>
  row ? { account: toAccount(row), hash: row.password_hash, codesSealed: row.codes_sealed } : null

/** An account by name, whatever its case and its spelling in Unicode. */
const byName = async (db: Knex, name: string): Promise<WithSecrets | null> =>
  withSecrets(
    await db('accounts')
      .where({ name_key: nameKey(name) })
      .first(),
  )

const secretsById = async (db: Knex, id: string): Promise<WithSecrets | null> => withSecrets(await db('accounts').where({ id }).first())

const lead = async (db: Knex): Promise<Account | null> => {
  const row = (await db('accounts').where({ role: 'lead' }).orderBy('created_at').first()) as Row | undefined
  return row ? toAccount(row) : null
}

const count = async (db: Knex): Promise<number> => Number((await db('accounts').count({ n: '*' }).first())?.n ?? 0)

type NewAccount = { id: string; name: string; role: Role; passwordHash: string | null; teaching?: Teaching }

const toRow = (account: NewAccount) => ({
  id: account.id,
  name: account.name,
  name_key: nameKey(account.name),
  role: account.role,
  password_hash: account.passwordHash,
  teaching: JSON.stringify(account.teaching ?? {}),
  created_at: serverTime(),
})

const add = async (db: Knex, account: NewAccount): Promise<void> => {
  await db('accounts').insert(toRow(account))
}

/** Adds the very first account; false where there is one already, however many ask at the same time. */
const addFirst = async (db: Knex, account: NewAccount): Promise<boolean> =>
  db.transaction(async (trx) => {
    await oneAtATime(trx, 'first account')
    if (await trx('accounts').first('id')) return false
    await trx('accounts').insert(toRow(account))
    return true
  })

/** A volunteer of a day: no password, and a name that need not be the only one. */
const addVolunteer = async (db: Knex, id: string, name: string): Promise<void> => {
  await db('accounts')
    .insert({ ...toRow({ id, name, role: 'volunteer', passwordHash: null }), name_key: `volunteer ${id}` })
    .onConflict(clashOn(db, 'id'))
    .ignore()
}

/** An account as changed; without a hash the password stays. */
type AccountChange = { name: string; role: Role; teaching: Teaching; archivedAt: string | null; passwordHash?: string }

/** Writes a new version if the stored one is still the version it was made from; false otherwise. */
const change = async (db: Knex, id: string, fromVersion: number, account: AccountChange): Promise<boolean> =>
  (await db('accounts')
    .where({ id, version: fromVersion })
    .update({
      name: account.name,
      name_key: nameKey(account.name),
      role: account.role,
      teaching: JSON.stringify(account.teaching),
      archived_at: account.archivedAt,
      version: fromVersion + 1,
      ...(account.passwordHash === undefined ? {} : { password_hash: account.passwordHash }),
    })) === 1

/** Uses the code of a half minute (counted since 1970): false where the account has used it, or a later one, already. */
const useCodeStep = async (db: Knex, id: string, step: number): Promise<boolean> =>
  (await db('accounts').where({ id }).andWhere('code_step', '<', step).update({ code_step: step })) === 1

/** Sets or takes away the sealed secret of an account's authenticator. */
const setCodes = async (db: Knex, id: string, sealed: string | null): Promise<void> => {
  await db('accounts').where({ id }).update({ codes_sealed: sealed })
}

const setPassword = async (db: Knex, id: string, passwordHash: string): Promise<void> => {
  await db('accounts').where({ id }).update({ password_hash: passwordHash })
}

/** Leads who can sign in, beside one account. */
const otherLeads = async (db: Knex, id: string): Promise<number> =>
  Number((await db('accounts').where({ role: 'lead' }).whereNull('archived_at').whereNot({ id }).count({ n: '*' }).first())?.n ?? 0)

/** Accounts in the database. */
export const accountStore = (db: Knex) =>
  bindTo(db, {
    all,
    byId,
    byName,
    secretsById,
    lead,
    count,
    add,
    addFirst,
    addVolunteer,
    change,
    setCodes,
    useCodeStep,
    setPassword,
    otherLeads,
  })
export type AccountStore = ReturnType<typeof accountStore>
