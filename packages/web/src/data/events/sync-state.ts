import type { Refused } from '@ochote/contract'
import { useSyncExternalStore } from 'react'
import { say } from '../../language/say.ts'

/** State between this device and the server: waiting and refused entries, clock and storage. */
export type SyncState = {
  /** Entries not sent yet; null until every queue on this device has been counted. */
  waiting: number | null
  refused: readonly Refused[]
  /** Lead of this device's clock over the server's (s); 0 where it is right. */
  clockAhead_s: number
  room: 'enough' | 'little' | 'none'
  /** The server does not know any more who sends: nothing is taken until somebody signs in. */
  signedOut: boolean
}

type Told = { waiting?: number; refused?: readonly Refused[]; clockAhead_s?: number; full?: boolean; signedOut?: boolean }

let state: SyncState = { waiting: null, refused: [], clockAhead_s: 0, room: 'enough', signedOut: false }
/** Number of entries waiting in each queue; null while a queue has not been counted. */
const waitingOf = new Map<string, number | null>()
const listeners = new Set<() => void>()

const change = (next: Partial<SyncState>): void => {
  const changed = (Object.keys(next) as (keyof SyncState)[]).some((key) => state[key] !== next[key])
  if (!changed) return
  state = { ...state, ...next }
  for (const listener of listeners) listener()
}

/** Makes a queue known before it is counted, so that nobody reads “all sent” too soon. */
export const registerQueue = (queue: string): void => void waitingOf.set(queue, null)

const totalWaiting = (): number | null => [...waitingOf.values()].reduce((sum, n) => (sum === null || n === null ? null : sum + n), 0)

/** One more waits in a queue: said at once, before the queue is counted. */
export const reportWaiting = (queue: string): void => reportSync(queue, { waiting: (waitingOf.get(queue) ?? 0) + 1 })

/** Reports a change of a queue. */
export const reportSync = (queue: string, told: Told): void => {
  if (told.waiting !== undefined) waitingOf.set(queue, told.waiting)
  change({
    waiting: totalWaiting(),
    ...(told.refused ? { refused: [...state.refused, ...told.refused] } : {}),
    ...(told.clockAhead_s !== undefined ? { clockAhead_s: told.clockAhead_s } : {}),
    ...(told.signedOut !== undefined ? { signedOut: told.signedOut } : {}),
    ...(told.full ? { room: 'none' as const } : {}),
  })
}

/** Below this the device is nearly full (bytes): a day of entries takes less than a tenth of it. */
const LITTLE_ROOM = 20 * 1024 * 1024

/** Looks how much room this device leaves, so that it can be said before anything is lost. */
export const checkStorage = async (): Promise<void> => {
  if (typeof navigator === 'undefined' || !navigator.storage?.estimate) return
  const { quota, usage } = await navigator.storage.estimate()
  if (quota === undefined || usage === undefined || state.room === 'none') return
  change({ room: quota - usage < LITTLE_ROOM ? 'little' : 'enough' })
}

/** The device's sync state, as it changes. */
export const useSync = (): SyncState =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => state,
  )

/** The state in words; the first is the short one, the rest asks for attention. */
export const syncInWords = ({ waiting, refused, clockAhead_s, room, signedOut }: SyncState): string[] => {
  const words = [
    waiting === null ? say`checking what is not sent yet …` : waiting > 0 ? say`${waiting} saved here, not sent yet` : say`all sent`,
  ]
  if (signedOut) words.push(say`signed out: sign in to send it`)
  if (room === 'none') words.push(say`This device is full: your last tap was not saved. Free some space now`)
  if (room === 'little') words.push(say`This device is nearly full: free some room`)
  if (refused.length > 0) words.push(say`${refused.length} refused: ${refused[refused.length - 1].title}`)
  if (Math.abs(clockAhead_s) >= 2)
    words.push(say`clock ${Math.abs(Math.round(clockAhead_s))} s ${clockAhead_s > 0 ? say`ahead` : say`behind`}, corrected`)
  return words
}
