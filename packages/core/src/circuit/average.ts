/** Mean over a centred window of 2·half + 1 stations round the lap, by a running sum. */
export const averageRound = (column: Float64Array, half: number): Float64Array => {
  const n = column.length
  const out = new Float64Array(n)
  let sum = 0
  for (let k = -half; k <= half; k++) sum += column[(k + n * Math.ceil(half / n)) % n]
  for (let i = 0; i < n; i++) {
    out[i] = sum / (2 * half + 1)
    sum += column[(i + half + 1) % n] - column[(i - half + n * Math.ceil(half / n)) % n]
  }
  return out
}
