/** A share out of tries: `share` is null without any; from `low` to `high` the true share lies nine times in ten. */
export type Share = { hits: number; of: number; share: number | null; low: number; high: number }

/** 95 % of a standard normal lie below this; nine in ten between it and its mirror. */
const Z = 1.6449

/** A share with its interval (Wilson's score interval), wide where there were few tries. @throws RangeError unless 0 ≤ hits ≤ of */
export const shareOf = (hits: number, of: number): Share => {
  if (!(hits >= 0 && hits <= of)) throw new RangeError(`${hits} of ${of} is no share`)
  if (of === 0) return { hits, of, share: null, low: 0, high: 1 }
  const share = hits / of
  const middle = (share + (Z * Z) / (2 * of)) / (1 + (Z * Z) / of)
  const half = (Z / (1 + (Z * Z) / of)) * Math.sqrt((share * (1 - share)) / of + (Z * Z) / (4 * of * of))
  return { hits, of, share, low: Math.max(0, middle - half), high: Math.min(1, middle + half) }
}

/** Difference of two shares, with the interval that holds the true difference nine times in ten. */
export type Difference = { by: number; low: number; high: number }

/** The difference of two shares (Newcombe's interval out of two of Wilson's); null where one of them has no tries. */
export const differenceOf = (a: Share, b: Share): Difference | null => {
  if (a.share === null || b.share === null) return null
  const by = a.share - b.share
  return {
    by,
    low: by - Math.hypot(a.share - a.low, b.high - b.share),
    high: by + Math.hypot(a.high - a.share, b.share - b.low),
  }
}
