import { timingSafeEqual } from 'node:crypto'
import { type Account, api, type SessionState } from '@ochote/contract'
import type { Request } from 'express'
import { v7 as uuid } from 'uuid'
import { serverNow, serverTime } from '../clock/clock.ts'
import type { Config } from '../config.ts'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, HttpProblem, notFound } from '../http/problems.ts'
import { hashOfToken, type Secrets } from '../secrets/secrets.ts'
import type { TrailTable } from '../trail/store.ts'
import { codeStep, newCodesSecret } from './codes.ts'
import { checkPassword } from './common-passwords.ts'
import { nameKey } from './names.ts'
import type { PairingTable } from './pairings.ts'
import { hashPassword, passwordFits } from './password.ts'
import { deviceOf, type SessionTable } from './sessions.ts'
import type { AccountStore } from './store.ts'
import type { TriesTable } from './tries.ts'

/** What accounts and sessions need beside the accounts themselves. `practice`: whether the school has switched simulated devices on. */
export type AccountWork = {
  config: Config
  accounts: AccountStore
  sessions: SessionTable
  pairings: PairingTable
  tries: TriesTable
  trail: TrailTable
  secrets: Secrets
  practice: () => Promise<boolean>
}

/** A fresh session id for every sign-in, so that one planted before is worthless. */
const open = (req: Request, accountId: string, paired?: { id: string; until: number }): Promise<void> =>
  new Promise((resolve, reject) =>
    req.session.regenerate((error) => {
      if (error) reject(error)
      else {
        req.session.accountId = accountId
        req.session.device = deviceOf(req.get('User-Agent'))
        if (paired) Object.assign(req.session, { pairingId: paired.id, pairedUntil: paired.until })
        req.session.save((failed) => (failed ? reject(failed) : resolve()))
      }
    }),
  )

/** Accounts, sessions and paired devices. */
export const accountRoutes = (mount: Mount, work: AccountWork): void => {
  const state = stateOf(work)
  mountSignIn(mount, work, state)
  mountPaired(mount, work, state)
  mountOwn(mount, work, state)
  mountCodes(mount, work)
  mountAccounts(mount, work)
}

type StateOf = (accountId: string | null, dayId?: string | null) => Promise<SessionState>

const stateOf =
  ({ config, accounts, practice, secrets }: AccountWork): StateOf =>
  async (accountId, dayId = null) => {
    const setUp = (await accounts.count()) > 0
    return {
      account: accountId ? await accounts.byId(accountId) : null,
      setUp,
      demo: config.demo,
      simulated: config.demo || (await practice()),
      dayId,
      sealKey: accountId ? secrets.keyFor('seal', accountId) : null,
      setUpCode: !setUp && config.setUpCode !== null,
    }
  }

const signInFailed = (): HttpProblem =>
  new HttpProblem(
    401,
    'sign-in-failed',
    'Wrong name or password.',
    'Check both; after several wrong tries sign-in pauses for some minutes.',
  )

/**
 * A code counts once: one that somebody saw over a shoulder opens nothing.
 * @throws HttpProblem 401 where an account asks for a code and this is none of its
 */
const checkCode = async (
  { secrets, accounts }: AccountWork,
  account: Account,
  sealed: string | null,
  code: string | undefined,
): Promise<void> => {
  if (sealed === null) return
  if (!code)
    throw new HttpProblem(401, 'code-needed', 'This account asks for a code too.', 'Type the six digits that your authenticator shows.')
  const secret = secrets.unseal('codes', sealed)
  if (secret === null)
    throw new HttpProblem(
      401,
      'code-unreadable',
      'The code cannot be checked: the server has another key than before.',
      'Let a lead take away the authenticator of this account, or bring the old secret.key back.',
    )
  const step = codeStep(secret, code)
  if (step === null || !(await accounts.useCodeStep(account.id, step)))
    throw new HttpProblem(401, 'code-wrong', 'This code is wrong, or was used already.', 'Wait for the next one and type that.')
}

const mountSignIn = (mount: Mount, work: AccountWork, state: StateOf): void => {
  const { config, accounts, tries, trail } = work
  mount(api.session, async ({ identity }) => state(identity.account?.id ?? null, identity.dayId))

  mount(api.signIn, async ({ body, req }) => {
    const address = req.ip ?? ''
    const name = nameKey(body.name)
    await tries.check('address', address)
    await tries.check('account', name)
    const found = await accounts.byName(body.name)
    try {
      if (!(await passwordFits(body.password, found?.hash ?? null)) || !found?.account.canSignIn) throw signInFailed()
      await checkCode(work, found.account, found.codesSealed, body.code)
    } catch (error) {
      if (!(error instanceof HttpProblem && error.code === 'code-needed')) {
        await tries.wrong('address', address)
        await tries.wrong('account', name)
        const account = found?.account ?? null
        await trail.add({ accountId: account?.id ?? null, by: account?.name ?? null, what: 'sign-in-failed', call: 'signIn', about: null })
      }
      throw error
    }
    const { id, name: by } = found.account
    await tries.right('account', name)
    await open(req, id)
    await trail.add({ accountId: id, by, what: 'signed-in', call: 'signIn', about: null })
    return state(id)
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
    const address = req.ip ?? ''
    await tries.check('address', address)
    if ((await accounts.count()) > 0) throw alreadySetUp()
    if (config.setUpCode !== null && !sameText(body.code ?? '', config.setUpCode)) {
      await tries.wrong('address', address)
      throw new HttpProblem(
        403,
        'set-up-code',
        'This needs the code that was printed where the server was started.',
        'Read it there and type it here; it keeps others in the network from taking the school.',
      )
    }
    checkPassword(body.password, body.name)
    const id = uuid()
    const added = await accounts.addFirst({ id, name: body.name, role: 'lead', passwordHash: await hashPassword(body.password) })
    if (!added) throw alreadySetUp()
    await open(req, id)
    return state(id)
  })
}

const alreadySetUp = (): HttpProblem =>
  new HttpProblem(409, 'already-set-up', 'The lead’s account exists already.', 'Sign in, or ask the lead for an account.')

/** Compares two texts in a time that says nothing of where they differ. */
const sameText = (one: string, other: string): boolean =>
  timingSafeEqual(Buffer.from(hashOfToken(one.trim().toUpperCase())), Buffer.from(hashOfToken(other.trim().toUpperCase())))

const mountPaired = (mount: Mount, { accounts, pairings, sessions, tries, trail }: AccountWork, state: StateOf): void => {
  mount(api.pairDevice, async ({ body, req }) => {
    const address = req.ip ?? ''
    await tries.check('address', address)
    const paired = await pairings.use(body.code)
    if (!paired) {
      await tries.wrong('address', address)
      throw new HttpProblem(
        401,
        'code-wrong',
        'This code is wrong, was used, or is too old.',
        'Let the desk show a new one; each works once, for a quarter of an hour.',
      )
    }
    await open(req, paired.accountId, paired)
    const account = await accounts.byId(paired.accountId)
    await trail.add({ accountId: paired.accountId, by: account?.name ?? null, what: 'signed-in', call: 'pairDevice', about: null })
    return state(paired.accountId, await pairings.dayOf(paired.id))
  })
  mount(api.pairings, async ({ params }) => pairings.of(params.dayId))
  mount(api.pair, async ({ params, body, day }) => {
    if (!day) throw notFound('day')
    let accountId: string
    if ('volunteer' in body) {
      accountId = body.id
      await accounts.addVolunteer(accountId, body.volunteer)
    } else {
      const account = await existingAccount(accounts, body.accountId)
      // A code at the desk must not make a lead of whoever picks it up.
      if (account.archivedAt || account.role !== 'instructor')
        throw new HttpProblem(
          409,
          'not-an-instructor',
          'Only tablets of instructors are paired by a code.',
          'A lead signs in with name and password.',
          'accountId',
        )
      accountId = account.id
    }
    await pairings.add(body.id, params.dayId, accountId, endOf(day.plan.date))
    return pairings.of(params.dayId)
  })
  mount(api.unpair, async ({ params }) => {
    await pairings.revoke(params.deviceId, params.dayId)
    await sessions.endPaired(params.deviceId)
    return pairings.of(params.dayId)
  })
}

/** The last moment of a date where this server stands, or of today for a date that is over (ms). */
const endOf = (date: string): number => Math.max(new Date(`${date}T23:59:59`).getTime() || 0, new Date(serverNow()).setHours(23, 59, 59, 0))

const mountOwn = (mount: Mount, { accounts, sessions }: AccountWork, state: StateOf): void => {
  mount(api.changeOwnPassword, async ({ body, account, req }) => {
    const own = account && (await accounts.secretsById(account.id))
    if (!own || !(await passwordFits(body.old, own.hash)))
      throw new HttpProblem(403, 'sign-in-failed', 'The old password is wrong.', 'Type the one you signed in with.', 'old')
    checkPassword(body.password, own.account.name)
    await accounts.setPassword(own.account.id, await hashPassword(body.password))
    await sessions.endAll(own.account.id, req.sessionID)
    return state(own.account.id)
  })
  mount(api.ownSessions, async ({ account, req }) => (account ? sessions.of(account.id, req.sessionID) : []))
  mount(api.endOwnSession, async ({ params, account, req }) => {
    if (!account) return []
    if (params.sessionId === 'others') await sessions.endAll(account.id, req.sessionID)
    else await sessions.end(account.id, params.sessionId)
    return sessions.of(account.id, req.sessionID)
  })
}

const mountCodes = (mount: Mount, { accounts, secrets }: AccountWork): void => {
  mount(api.beginCodes, async ({ account, req }) => {
    const made = newCodesSecret(account?.name ?? '')
    req.session.codesSecret = secrets.seal('codes', made.secret)
    return made
  })
  mount(api.confirmCodes, async ({ body, account, req }) => {
    const sealed = req.session.codesSecret
    const secret = sealed === undefined ? null : secrets.unseal('codes', sealed)
    if (!account || !sealed || secret === null || codeStep(secret, body.code) === null)
      throw new HttpProblem(
        400,
        'code-wrong',
        'This code is wrong.',
        'Check that the clock of your phone is right, and type the next one.',
        'code',
      )
    await accounts.setCodes(account.id, sealed)
    delete req.session.codesSecret
    return { on: true }
  })
  mount(api.endCodes, async ({ body, account }) => {
    const own = account && (await accounts.secretsById(account.id))
    if (!own || !(await passwordFits(body.password, own.hash)))
      throw new HttpProblem(403, 'sign-in-failed', 'The password is wrong.', 'Type the one you signed in with.', 'password')
    await accounts.setCodes(own.account.id, null)
    return { on: false }
  })
}

const mountAccounts = (mount: Mount, { accounts, sessions }: AccountWork): void => {
  /** Accounts of people: volunteers of single days are listed with their day. */
  const listed = async (): Promise<Account[]> => (await accounts.all()).filter((account) => account.role !== 'volunteer')

  mount(api.accounts, listed)

  mount(api.addAccount, async ({ body }) => {
    const id = body.id ?? uuid()
    const before = await accounts.byId(id)
    // The same form sent twice.
    if (before) return before
    notAVolunteer(body.role)
    await nameIsFree(accounts, body.name, id)
    checkPassword(body.password, body.name)
    await accounts.add({ id, name: body.name, role: body.role, teaching: body.teaching, passwordHash: await hashPassword(body.password) })
    return existingAccount(accounts, id)
  })

  mount(api.changeAccount, async ({ params, body, account }) => {
    const before = await existingAccount(accounts, params.accountId)
    notAVolunteer(body.role)
    await nameIsFree(accounts, body.name, before.id)
    if (before.role === 'lead' && (body.role !== 'lead' || body.archived) && (await accounts.otherLeads(before.id)) === 0)
      throw new HttpProblem(409, 'last-lead', 'A school needs a lead.', 'Make somebody else a lead first; nothing was changed.')
    if (body.archived && account?.id === before.id)
      throw new HttpProblem(409, 'own-account', 'Nobody can close the account they are signed in with.', 'Let another lead do it.')
    if (body.password !== undefined) checkPassword(body.password, body.name)
    const changed = await accounts.change(before.id, body.version, {
      name: body.name,
      role: body.role,
      teaching: body.teaching,
      archivedAt: body.archived ? (before.archivedAt ?? serverTime()) : null,
      ...(body.password === undefined ? {} : { passwordHash: await hashPassword(body.password) }),
    })
    if (!changed) throw changedMeanwhile('account')
    // Whoever had the old password, or the right to be here, is out at once.
    if (body.archived || (body.password !== undefined && account?.id !== before.id)) await sessions.endAll(before.id)
    return existingAccount(accounts, before.id)
  })

  mount(api.signOutAccount, async ({ params, body }) => {
    const { id } = await existingAccount(accounts, params.accountId)
    if (body.codes) await accounts.setCodes(id, null)
    await sessions.endAll(id)
    return listed()
  })
}

/** @throws HttpProblem 400 for a role that is only given by pairing a device */
const notAVolunteer = (role: Account['role']): void => {
  if (role === 'volunteer')
    throw new HttpProblem(400, 'invalid', 'Volunteers have no account.', 'Pair their phone for the day instead.', 'role')
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
