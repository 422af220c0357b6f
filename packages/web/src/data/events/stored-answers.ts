import type { QueryClient, QueryKey } from '@tanstack/react-query'
import { storedAnswers } from './event-queue.ts'

/** Answers by which a page opens without the server; plans are computed again, logs need the server. */
const keptRoots: ReadonlySet<unknown> = new Set([
  'session',
  'accounts',
  'circuits',
  'vehicles',
  'students',
  'days',
  'runs',
  'school-settings',
  'devices',
])
const left: ReadonlySet<unknown> = new Set(['debrief', 'laps', 'links'])

/** A student's own page and what it takes to drive from memory; not the drives, which need the server. */
const isOfStudent = (key: QueryKey): boolean => key[0] === 'portal' && (key.length === 2 || key[2] === 'recall')

const isKept = (key: QueryKey): boolean => isOfStudent(key) || (keptRoots.has(key[0]) && !key.some((part) => left.has(part)))

const WRITE_AFTER_MS = 500
/** The form of the answers of this release. Raised when an answer's shape changes, so that pages never meet an older one. */
const FORM = 3
type Kept = { form: number; queryKey: QueryKey; data: unknown; at: number }

/**
 * Fills the cache with what this device holds from last time; each answer is fetched again as soon as it is used. Answers of
 * another form are dropped.
 */
export const restoreAnswers = async (client: QueryClient): Promise<void> => {
  for (const { key, value } of await storedAnswers.toArray()) {
    const { form, queryKey, data, at } = value as Kept
    if (form === FORM) client.setQueryData(queryKey, data, { updatedAt: at })
    else await storedAnswers.delete(key)
  }
  await client.invalidateQueries({ refetchType: 'none' })
}

/** Keeps answers on this device as they come. */
export const keepAnswers = (client: QueryClient): void => {
  const changed = new Map<string, Kept>()
  let asked = false
  const write = async (): Promise<void> => {
    asked = false
    const rows = [...changed].map(([key, value]) => ({ key, value }))
    changed.clear()
    // A full device stores no answers; entries are reported by the queue itself.
    await storedAnswers.bulkPut(rows).catch(() => {})
  }
  client.getQueryCache().subscribe(({ type, query }) => {
    if (type === 'removed' && isKept(query.queryKey) && query.queryKey[0] !== 'runs')
      void storedAnswers.delete(query.queryHash).catch(() => {})
    if (type !== 'updated' || query.state.status !== 'success' || query.state.data === undefined || !isKept(query.queryKey)) return
    changed.set(query.queryHash, { form: FORM, queryKey: query.queryKey, data: query.state.data, at: query.state.dataUpdatedAt })
    if (asked) return
    asked = true
    setTimeout(() => void write(), WRITE_AFTER_MS)
  })
}

/** Deletes what a link that is gone left on this device. */
export const forgetLink = async (token: string): Promise<void> => {
  const rows = await storedAnswers.toArray()
  const own = rows.filter(({ value }) => (value as Kept).queryKey[0] === 'portal' && (value as Kept).queryKey[1] === token)
  await storedAnswers.bulkDelete(own.map(({ key }) => key))
}

/** Deletes a school's data from this device, e.g. at sign-out. Entries not sent yet stay. */
export const forgetAnswers = (): Promise<void> => storedAnswers.clear()
