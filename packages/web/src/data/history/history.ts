/** A value with its past and its undone future. */
export type History<T> = { past: readonly T[]; now: T; future: readonly T[] }

/** Maximum number of steps that can be undone. */
const LONGEST = 100

export const startHistory = <T>(now: T): History<T> => ({ past: [], now, future: [] })

/** A new value; undone steps are dropped. */
export const pushHistory = <T>({ past, now }: History<T>, next: T): History<T> => ({
  past: [...past, now].slice(-LONGEST),
  now: next,
  future: [],
})

/** One step back; the same where there is none. */
export const undoHistory = <T>(history: History<T>): History<T> => {
  const last = history.past.at(-1)
  if (last === undefined) return history
  return { past: history.past.slice(0, -1), now: last, future: [history.now, ...history.future] }
}

/** One step on again; the same where there is none. */
export const redoHistory = <T>(history: History<T>): History<T> => {
  const [next, ...future] = history.future
  if (next === undefined) return history
  return { past: [...history.past, history.now], now: next, future }
}
