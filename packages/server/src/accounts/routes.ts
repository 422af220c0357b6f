import { api, type SessionState } from '@ochote/contract'
import type { Request } from 'express'
import { v7 as uuid } from 'uuid'
import type { Config } from '../config.ts'
import type { Mount } from '../http/mount.ts'
import { HttpProblem } from '../http/problems.ts'
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

/** Accounts and sessions. */
export const accountRoutes = (mount: Mount, config: Config, accounts: AccountStore): void => {
  const state = async (accountId: string | null): Promise<SessionState> => ({
    account: accountId ? await accounts.byId(accountId) : null,
    setUp: (await accounts.count()) > 0,
    demo: config.demo,
  })

  mount(api.session, async ({ account }) => state(account?.id ?? null))

  mount(api.signIn, async ({ body, req }) => {
    const found = await accounts.byName(body.name)
    if (!(await passwordFits(body.password, found?.hash ?? null)) || !found)
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
    if (await accounts.byName(body.name))
      throw new HttpProblem(409, 'name-taken', `There is an account named “${body.name}” already.`, 'Choose another name.', 'name')
    const id = uuid()
    await accounts.add({ id, name: body.name, role: body.role, passwordHash: await hashPassword(body.password) })
    return { id, name: body.name, role: body.role, canSignIn: true }
  })
}
