/** The middle value; NaN of nothing. */
export const median = (values: readonly number[]): number => {
  if (values.length === 0) return Number.NaN
  const sorted = [...values].sort((a, b) => a - b)
  const middle = sorted.length >> 1
  return sorted.length % 2 === 1 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2
}

/** Standard deviation of what most values do: the median distance from the median, scaled for normal noise. */
export const spread = (values: readonly number[]): number => {
  if (values.length === 0) return 0
  const middle = median(values)
  return 1.4826 * median(values.map((v) => Math.abs(v - middle)))
}
