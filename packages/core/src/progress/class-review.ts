import type { GroupTally } from './group.ts'

/** Where a group turned in against its reference (m later, negative: earlier): the middle of it, and between which most lie. */
export type Spread = { low_m: number; middle_m: number; high_m: number; of: number }

/** Below so many passes no spread is told. */
const FEW = 3

/** The spread of values: its median, and what nine in ten lie between; null for fewer than three. */
export const spreadOf = (values_m: readonly number[]): Spread | null => {
  if (values_m.length < FEW) return null
  const sorted = [...values_m].sort((a, b) => a - b)
  const at = (share: number): number => {
    const place = share * (sorted.length - 1)
    const below = Math.floor(place)
    const above = Math.min(sorted.length - 1, below + 1)
    return sorted[below] + (place - below) * (sorted[above] - sorted[below])
  }
  return { low_m: at(0.05), middle_m: at(0.5), high_m: at(0.95), of: sorted.length }
}

/** Corners in the order in which a class looks at them: the mistake that most students share first, then by how many share any. */
export const cornersToReview = (picture: readonly GroupTally[]): string[] => {
  const most = new Map<string, { one: number; all: number }>()
  for (const { cornerId, students } of picture) {
    const known = most.get(cornerId) ?? { one: 0, all: 0 }
    most.set(cornerId, { one: Math.max(known.one, students), all: known.all + students })
  }
  return [...most]
    .sort(([a, p], [b, q]) => q.one - p.one || q.all - p.all || a.localeCompare(b, undefined, { numeric: true }))
    .map(([cornerId]) => cornerId)
}
