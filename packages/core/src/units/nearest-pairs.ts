/**
 * Pairs each of some times with what came nearest to it: the nearest pairs first, each time and each arrival once, none further apart
 * than `reach`. `late`: how long after a time something came. Gives per time the number of its arrival and how late it was, or null.
 */
export const nearestPairs = (
  times: readonly number[],
  arrivals: readonly number[],
  reach: number,
  late = (time: number, arrival: number): number => arrival - time,
): ({ arrival: number; late: number } | null)[] => {
  const pairs = times
    .flatMap((time, t) => arrivals.map((one, arrival) => ({ t, arrival, late: late(time, one) })))
    .filter((pair) => Math.abs(pair.late) <= reach)
    .sort((p, q) => Math.abs(p.late) - Math.abs(q.late))
  const found = new Array<{ arrival: number; late: number } | null>(times.length).fill(null)
  const used = new Set<number>()
  for (const { t, arrival, late: by } of pairs) {
    if (found[t] !== null || used.has(arrival)) continue
    found[t] = { arrival, late: by }
    used.add(arrival)
  }
  return found
}
