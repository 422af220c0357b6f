import { quantile } from '../solve/robust.ts'

/**
 * Weights of a local quadratic fit over 2·half + 1 even samples, for the value at its middle.
 * Source: Savitzky & Golay 1964, closed form for degree 2.
 */
export const quadraticWeights = (half: number): Float64Array => {
  const w = new Float64Array(2 * half + 1)
  const scale = ((2 * half + 1) * (4 * half * (half + 1) - 3)) / 3
  for (let k = -half; k <= half; k++) w[k + half] = (3 * half * (half + 1) - 1 - 5 * k * k) / scale
  return w
}

/** Smooths a column round a closed lap by local quadratic fits; half = 0 returns a copy. */
export const smoothRound = (column: Float64Array, half: number): Float64Array => {
  if (half < 1) return Float64Array.from(column)
  const n = column.length
  const w = quadraticWeights(half)
  const out = new Float64Array(n)
  for (let i = 0; i < n; i++) {
    let sum = 0
    for (let k = -half; k <= half; k++) sum += w[k + half] * column[(i + k + n) % n]
    out[i] = sum
  }
  return out
}

/**
 * Standard deviation of the fast noise of a column from its third differences, by their median (so that real bends of
 * the path hardly count). For white noise of σ a third difference has σ√20; the median of |N(0,1)| is 0.6745.
 */
export const fastNoise = (column: ArrayLike<number>): number => {
  const differences = new Float64Array(Math.max(0, column.length - 3))
  for (let i = 0; i < differences.length; i++) differences[i] = Math.abs(column[i + 3] - 3 * column[i + 2] + 3 * column[i + 1] - column[i])
  return quantile(differences, 0.5) / 0.6745 / Math.sqrt(20)
}

/** The same over a column with two ends; towards them the windows shrink. */
export const smoothOpen = (column: Float64Array, half: number): Float64Array => {
  const n = column.length
  const weights = Array.from({ length: Math.max(0, half) + 1 }, (_, h) => quadraticWeights(h))
  return column.map((value, i) => {
    const reach = Math.min(half, i, n - 1 - i)
    if (reach < 1) return value
    const w = weights[reach]
    let sum = 0
    for (let k = -reach; k <= reach; k++) sum += w[k + reach] * column[i + k]
    return sum
  })
}
