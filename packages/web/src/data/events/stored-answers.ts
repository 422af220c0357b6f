import type { QueryClient, QueryKey } from '@tanstack/react-query'
import { storedAnswers } from './event-queue.ts'

/** Answers by which a page opens without the server; plans are computed anew, logs are looked at online. */
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

const isKept = (key: QueryKey): boolean => keptRoots.has(key[0]) && !key.some((part) => left.has(part))

const WRITE_AFTER_MS = 500
/** The form of the answers of this release. Raised when an answer's shape changes, so that pages never meet an older one. */
const FORM = 3
type Kept = { form: number; queryKey: QueryKey; data: unknown; at: number }

/**
 * Fills the cache with what this device holds from last time; all of it is asked for anew as soon as it is looked at.
 * Answers of another form are dropped.
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
    // A device without room keeps no answers; what is logged is told of by the queue itself.
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

/** Forgets what this device holds of a school, e.g. when somebody signs out. What was logged and not sent stays. */
export const forgetAnswers = (): Promise<void> => storedAnswers.clear()
