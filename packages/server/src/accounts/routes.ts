import { type Account, api, type SessionState } from '@ochote/contract'
import type { Request } from 'express'
import { v7 as uuid } from 'uuid'
import type { Config } from '../config.ts'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, HttpProblem, notFound } from '../http/problems.ts'
import { hashPassword, passwordFits } from './password.ts'
import type { AccountStore } from './store.ts'

declare module 'express-session' {
  interface SessionData {
    accountId: string
  }
}

/** A fresh session id for every sign-in, so that one planted before is worthless. */
const open = (req: Request, accountId: string): Promise<void> =>
  new Promise((resolve, reject) =>
    req.session.regenerate((error) => {
      if (error) reject(error)
      else {
        req.session.accountId = accountId
        req.session.save((failed) => (failed ? reject(failed) : resolve()))
      }
    }),
  )

/** Accounts and sessions. `practice`: whether the school has switched simulated devices on. */
export const accountRoutes = (mount: Mount, config: Config, accounts: AccountStore, practice: () => Promise<boolean>): void => {
  const state = async (accountId: string | null): Promise<SessionState> => ({
    account: accountId ? await accounts.byId(accountId) : null,
    setUp: (await accounts.count()) > 0,
    demo: config.demo,
    simulated: config.demo || (await practice()),
  })

  mount(api.session, async ({ account }) => state(account?.id ?? null))

  mount(api.signIn, async ({ body, req }) => {
    const found = await accounts.byName(body.name)
    if (!(await passwordFits(body.password, found?.hash ?? null)) || !found?.account.canSignIn)
      throw new HttpProblem(
        401,
        'sign-in-failed',
        'Wrong name or password.',
        'Check both; after several wrong tries sign-in pauses for some minutes.',
      )
    await open(req, found.account.id)
    return state(found.account.id)
  })

  mount(api.signOut, async ({ req }) => {
    await new Promise<void>((resolve, reject) => req.session.destroy((error) => (error ? reject(error) : resolve())))
    return state(null)
  })

  mount(api.signInDemo, async ({ req }) => {
    if (!config.demo) throw new HttpProblem(404, 'not-found', 'There is no demo sign-in here.', 'Sign in with name and password.')
    const lead = await accounts.lead()
    if (!lead) throw new HttpProblem(409, 'no-demo-data', 'The demo data are not loaded.', 'Start again with bin/demo --reset.')
    await open(req, lead.id)
    return state(lead.id)
  })

  mount(api.firstAccount, async ({ body, req }) => {
    if ((await accounts.count()) > 0)
      throw new HttpProblem(409, 'already-set-up', 'The lead’s account exists already.', 'Sign in, or ask the lead for an account.')
    const id = uuid()
    await accounts.add({ id, name: body.name, role: 'lead', passwordHash: await hashPassword(body.password) })
    await open(req, id)
    return state(id)
  })

  mount(api.accounts, async () => accounts.all())

  mount(api.addAccount, async ({ body }) => {
    const id = body.id ?? uuid()
    const before = await accounts.byId(id)
    // The same form sent twice.
    if (before) return before
    await nameIsFree(accounts, body.name, id)
    await accounts.add({ id, name: body.name, role: body.role, teaching: body.teaching, passwordHash: await hashPassword(body.password) })
    return existingAccount(accounts, id)
  })

  mount(api.changeAccount, async ({ params, body, account }) => {
    const before = await existingAccount(accounts, params.accountId)
    await nameIsFree(accounts, body.name, before.id)
    if (before.role === 'lead' && (body.role !== 'lead' || body.archived) && (await accounts.otherLeads(before.id)) === 0)
      throw new HttpProblem(409, 'last-lead', 'A school needs a lead.', 'Make somebody else a lead first; nothing was changed.')
    if (body.archived && account?.id === before.id)
      throw new HttpProblem(409, 'own-account', 'Nobody can close the account they are signed in with.', 'Let another lead do it.')
    const changed = await accounts.change(before.id, body.version, {
      name: body.name,
      role: body.role,
      teaching: body.teaching,
      archivedAt: body.archived ? (before.archivedAt ?? new Date().toISOString()) : null,
      ...(body.password === undefined ? {} : { passwordHash: await hashPassword(body.password) }),
    })
    if (!changed) throw changedMeanwhile('account')
    return existingAccount(accounts, before.id)
  })
}

const existingAccount = async (accounts: AccountStore, id: string): Promise<Account> => {
  const account = await accounts.byId(id)
  if (!account) throw notFound('account')
  return account
}

/** @throws HttpProblem 409 where another account has the name */
const nameIsFree = async (accounts: AccountStore, name: string, id: string): Promise<void> => {
  const other = await accounts.byName(name)
  if (other && other.account.id !== id)
    throw new HttpProblem(409, 'name-taken', `There is an account named “${name}” already.`, 'Choose another name.', 'name')
}
