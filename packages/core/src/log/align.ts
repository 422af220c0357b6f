/** A match of two trends: the delay (s), and their correlation there (−1 … 1). */
export type Alignment = { lag_s: number; alike: number }

/** Minimum number of overlapping samples for a comparison. */
const MIN_SAMPLES = 20
/** Places nearer to each other than this are one: a trend is alike to itself nearby. */
const APART_S = 4
/** Maximum number of candidate positions returned. */
const MAX_PLACES = 6

/**
 * Finds where a trend lies on another by their correlation at every lag (Pearson's r over the common samples, both at the same
 * even rate), the most alike place first. Alike in shape is enough: scale and offset do not matter. Nothing where they have too
 * little in common. Cost: samples of one × samples of the other.
 */
export const alignTrends = (moving: ArrayLike<number>, fixed: ArrayLike<number>, interval_s: number): Alignment[] => {
  const [n, m] = [moving.length, fixed.length]
  const min = Math.max(MIN_SAMPLES, Math.floor(0.4 * Math.min(n, m)))
  const at: Alignment[] = []
  for (let lag = min - n; lag <= m - min; lag++) {
    const from = Math.max(0, -lag)
    const to = Math.min(n, m - lag)
    if (to - from < min) continue
    const alike = correlation(moving, fixed, from, to, lag)
    if (Number.isFinite(alike)) at.push({ lag_s: lag * interval_s, alike })
  }
  const places: Alignment[] = []
  for (const match of at.sort((a, b) => b.alike - a.alike)) {
    if (places.length === MAX_PLACES) break
    if (places.every((p) => Math.abs(p.lag_s - match.lag_s) > APART_S)) places.push(match)
  }
  return places
}

const correlation = (a: ArrayLike<number>, b: ArrayLike<number>, from: number, to: number, lag: number): number => {
  const n = to - from
  let [sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0]
  for (let i = from; i < to; i++) {
    const [x, y] = [a[i], b[i + lag]]
    sa += x
    sb += y
    saa += x * x
    sbb += y * y
    sab += x * y
  }
  return (n * sab - sa * sb) / Math.sqrt((n * saa - sa * sa) * (n * sbb - sb * sb))
}
