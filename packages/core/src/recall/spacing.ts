/** What was asked, in order of time, and whether it was known. */
export type Recalled = readonly { id: string; right: boolean }[]

/** After a miss a thing comes back after so many others; each time it is known the distance grows by this factor. */
const BACK_AFTER = 2
const GROWTH = 3

/** By how many others a thing is overdue to be asked again (negative: not yet); null for one that was never asked. */
export const overdueBy = (id: string, history: Recalled): number | null => {
  const last = history.findLastIndex((h) => h.id === id)
  if (last < 0) return null
  const own = history.filter((h) => h.id === id)
  const streak = own.length - 1 - own.findLastIndex((h) => !h.right)
  return history.length - last - BACK_AFTER * GROWTH ** streak
}
