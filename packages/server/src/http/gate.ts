import { type Account, type Day, type Endpoint, mayAs, type Permission, permissionOf, type Run } from '@ochote/contract'
import { LRUCache } from 'lru-cache'
import type { TriesTable } from '../accounts/tries.ts'
import type { Stores } from '../stores.ts'
import type { TrailTable } from '../trail/store.ts'
import type { Identity } from './identity.ts'
import { HttpProblem, linkWithdrawn, notFound } from './problems.ts'

/** Parameters of a path, as their schema has read them. */
type Params = Readonly<Record<string, unknown>>

/** What was looked up while a right was checked. */
type Admitted = { day: Day | null }

const notSignedIn = (): HttpProblem =>
  new HttpProblem(
    401,
    'not-signed-in',
    'You are not signed in.',
    'Sign in and try again. What was touched on the track is kept on its device.',
  )

const leadOnly = (): HttpProblem => new HttpProblem(403, 'lead-only', 'Only the lead may do this.', 'Ask the lead, or sign in as the lead.')

const notYours = (what: string, remedy: string): HttpProblem => new HttpProblem(403, 'not-yours', what, remedy)

const textOf = (params: Params, name: string): string | null => {
  const value = params[name]
  return typeof value === 'string' ? value : null
}

/** True where an instructor stands on the list of a day. */
export const isOnDay = (account: Account, day: Day): boolean => day.plan.instructorIds.includes(account.id)

/** How often the same thing that somebody looks at again is written into the trail. */
const SEEN_AGAIN_MS = 3600 * 1000

/** Kind and id of what a call is about, from its path. */
const aboutOf = (params: Params): string | null => {
  for (const [name, value] of Object.entries(params)) if (name.endsWith('Id')) return `${name.slice(0, -2)}:${String(value)}`
  return null
}

/**
 * Checks every call against the table of permissions, before its body is read, and writes the trail after it.
 */
export const gate = (stores: Stores, tries: TriesTable, trail: TrailTable) => {
  const seen = new LRUCache<string, true>({ max: 5000, ttl: SEEN_AGAIN_MS })
  const dayOf = async (id: string | null): Promise<Day> => {
    const day = id === null ? null : await stores.days.byId(id)
    if (!day) throw notFound('day')
    return day
  }
  const runOf = async (id: string | null): Promise<Run> => {
    const run = id === null ? null : await stores.runs.byId(id)
    if (!run) throw notFound('run')
    return run
  }

  /** True where a token opens something at this path. */
  const opens = async (path: string, token: string): Promise<boolean> => {
    if (path.startsWith('/api/portal/')) return (await stores.links.byToken(token)) !== null
    if (path.startsWith('/api/sheets/')) return (await stores.links.runOfSheet(token)) !== null
    return (await stores.days.byBoard(token, stores.links.boardToken)) !== null
  }
  const checkLink = async (path: string, token: string | null, address: string): Promise<void> => {
    await tries.check('link', address)
    if (token !== null && (await opens(path, token))) return
    await tries.wrong('link', address)
    throw linkWithdrawn()
  }

  /** A device that is bound to one day calls nothing of another. */
  const checkOwnDay = async (dayId: string, params: Params, query: Params): Promise<void> => {
    const other = (): HttpProblem => notYours('This device is signed in for another day.', 'Let the desk pair it for this day.')
    for (const named of [textOf(params, 'dayId'), textOf(query, 'dayId')]) if (named !== null && named !== dayId) throw other()
    const runId = textOf(params, 'runId')
    if (runId !== null && (await runOf(runId)).dayId !== dayId) throw other()
  }
  const checkWithin = async (account: Account, within: NonNullable<Permission['within']>, params: Params): Promise<Admitted> => {
    if (within === 'own-days') {
      const day = await dayOf(textOf(params, 'dayId'))
      if (account.role === 'lead' || isOnDay(account, day)) return { day }
      throw notYours('You are not on the list of this day.', 'Let the lead put you on it; then you may change it.')
    }
    if (account.role === 'lead') return { day: null }
    if (within === 'own-students') {
      const studentId = textOf(params, 'studentId') ?? ''
      if (!(await stores.days.isWith(account.id, studentId)))
        throw notYours('This student is on no day of yours.', 'Let the lead put both of you on a day, or ask the lead to change it.')
      return { day: null }
    }
    const run = await runOf(textOf(params, 'runId'))
    const own = run.instructorId === account.id || run.instructorId === null
    if (own || (within === 'runs-of-own-days' && isOnDay(account, await dayOf(run.dayId)))) return { day: null }
    throw notYours('This run is another instructor’s.', 'Let its instructor or the lead do it.')
  }

  return {
    /** Whether somebody like this may call at all; asked before anything else. @throws HttpProblem 401 for nobody, 403 for a lower role */
    rank: (endpoint: Endpoint, { account }: Identity): void => {
      const { who } = permissionOf(endpoint)
      if (who === 'anyone' || who === 'link') return
      if (!account) throw notSignedIn()
      if (!mayAs(account.role, who))
        throw who === 'lead' ? leadOnly() : notYours('Volunteers may not do this.', 'Ask an instructor of this day.')
    },
    /** Whether they may call this very thing. @throws HttpProblem 403 where not, 404 for a link or a thing that is not there */
    admit: async (endpoint: Endpoint, { account, dayId, key }: Identity, params: Params, query: Params): Promise<Admitted> => {
      const { who, within } = permissionOf(endpoint)
      if (who === 'link') await checkLink(endpoint.path, textOf(params, 'token'), key)
      if (who === 'anyone' || who === 'link' || !account) return { day: null }
      if (dayId !== null) await checkOwnDay(dayId, params, query)
      return within ? checkWithin(account, within, params) : { day: null }
    },
    /** Writes into the trail what a call did, once it has done it. */
    told: async (endpoint: Endpoint, { account }: Identity, params: Params): Promise<void> => {
      const { trail: what } = permissionOf(endpoint)
      if (!what || !account) return
      const about = aboutOf(params)
      const key = `${account.id} ${endpoint.id} ${about}`
      if (what === 'seen' && seen.has(key)) return
      if (what === 'seen') seen.set(key, true)
      await trail.add({ accountId: account.id, by: account.name, what, call: endpoint.id, about })
    },
  }
}
export type Gate = ReturnType<typeof gate>
