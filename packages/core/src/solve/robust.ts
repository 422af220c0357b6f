/** The middle value; NaN of nothing. */
export const median = (values: ArrayLike<number>): number => {
  if (values.length === 0) return Number.NaN
  const sorted = Float64Array.from(values).sort()
  const middle = sorted.length >> 1
  return sorted.length % 2 === 1 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2
}

/** Standard deviation of what most values do: the median distance from the median, scaled for normal noise. */
export const spread = (values: readonly number[]): number => {
  if (values.length === 0) return 0
  const middle = median(values)
  return 1.4826 * median(values.map((v) => Math.abs(v - middle)))
}

/** Columns longer than this are subsampled before a quantile is taken. */
const MAX_SAMPLES = 16_384

/** The value below which a share (0 … 1) of a column's finite values lies; 0 of nothing. Long columns are looked at evenly. Cost: one sort. */
export const quantile = (values: ArrayLike<number>, share: number): number => {
  const stride = Math.max(1, Math.floor(values.length / MAX_SAMPLES))
  const sorted = Float64Array.from({ length: Math.ceil(values.length / stride) }, (_, i) => values[i * stride]).sort()
  // NaN sorts behind everything.
  let count = sorted.length
  while (count > 0 && Number.isNaN(sorted[count - 1])) count--
  return count > 0 ? sorted[Math.floor(share * (count - 1))] : 0
}

/** The entries of a column at given rows; the column itself where that is all of them. */
export const pickRows = (column: Float64Array, rows: ArrayLike<number>): Float64Array => {
  if (rows.length === column.length) return column
  const out = new Float64Array(rows.length)
  for (let i = 0; i < out.length; i++) out[i] = column[rows[i]]
  return out
}
