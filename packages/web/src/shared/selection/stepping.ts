import type { Corner, Mark } from '@ochote/core'

/** Target of a key: a place, and the corner it belongs to. */
export type Step = { station_m: number; cornerId: string | null }

/** The next mark (direction 1) or the one before (−1) from a place, round the lap. */
export const stepMark = (marks: readonly Mark[], from_m: number | null, direction: 1 | -1): Step | null => {
  const sorted = [...marks].sort((a, b) => a.station_m - b.station_m)
  const at = from_m ?? 0
  const next = direction === 1 ? sorted.find((m) => m.station_m > at + 0.5) : sorted.findLast((m) => m.station_m < at - 0.5)
  const found = next ?? (direction === 1 ? sorted[0] : sorted.at(-1))
  return found ? { station_m: found.station_m, cornerId: found.cornerId } : null
}

/** The next corner or the one before, round the lap; its place is the peak. */
export const stepCorner = (corners: readonly Corner[], cornerId: string | null, direction: 1 | -1): Step | null => {
  if (corners.length === 0) return null
  const at = corners.findIndex((c) => c.id === cornerId)
  const corner = at < 0 ? corners[direction === 1 ? 0 : corners.length - 1] : corners[(at + direction + corners.length) % corners.length]
  return { station_m: corner.peak_m, cornerId: corner.id }
}
