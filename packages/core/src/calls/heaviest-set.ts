/** Something that may be said: when (s), what it is worth, and to which group (a corner) it counts. */
export type Span = { start_s: number; end_s: number; worth: number; group: number }

/** What a choice has to keep. `period_s`: the lap's time where it closes, else null; caps: at most so many in a group, and in all. */
export type SpanLimits = { gap_s: number; period_s: number | null; perGroup: number; inAll: number }

/**
 * The set of spans of greatest total worth in which no two come nearer than the gap, also over the lap's end, and no cap is passed.
 * Weighted interval scheduling over end times (Kleinberg & Tardos, Algorithm Design, section 6.1) with the counts of the
 * groups that are still open as state, exact for any caps. The lap is cut open where nothing is said; where something
 * always is, each of the spans over the cut is tried in turn, and none of them. Cost: n log n in spans, times the states
 * of the few groups that are open at one time; times the greatest count only where the cap of all binds.
 * @returns indices of the chosen spans, in order of time
 */
export const heaviestSet = (spans: readonly Span[], limits: SpanLimits): number[] => {
  const { period_s } = limits
  if (spans.length === 0 || limits.perGroup <= 0 || limits.inAll <= 0) return []
  const groups = spans.reduce((most, s) => Math.max(most, s.group), 0) + 1
  const caps = new Int32Array(groups).fill(limits.perGroup)
  const all = spans.map((_, i) => i)
  if (period_s === null) return solve(spans, all, 0, limits, caps, limits.inAll).chosen
  const cut = bestCut(spans, period_s, limits.gap_s)
  // A span seen from the cut on: its start lies in the first period.
  const opened = spans.map((s): Span => {
    const start = (((s.start_s - cut.at_s) % period_s) + period_s) % period_s
    return { ...s, start_s: start, end_s: start + (s.end_s - s.start_s) }
  })
  const over = all.filter((i) => opened[i].end_s + limits.gap_s > period_s + 1e-9)
  const within = all.filter((i) => !over.includes(i))
  let best = solve(opened, within, 0, limits, caps, limits.inAll)
  for (const i of over) {
    const one = opened[i]
    if (one.end_s - one.start_s + limits.gap_s > period_s) continue
    const free = within.filter(
      (j) => opened[j].start_s >= one.end_s + limits.gap_s - period_s - 1e-12 && opened[j].end_s + limits.gap_s <= one.start_s + 1e-12,
    )
    const left = caps.slice()
    left[one.group]--
    const rest = solve(opened, free, one.worth, limits, left, limits.inAll - 1)
    if (rest.worth > best.worth) best = { worth: rest.worth, chosen: [...rest.chosen, i] }
  }
  return best.chosen.sort((a, b) => spans[a].end_s - spans[b].end_s)
}

/** Where in the lap the fewest spans are being said. */
const bestCut = (spans: readonly Span[], period_s: number, gap_s: number): { at_s: number } => {
  const covers = (at_s: number): number =>
    spans.reduce((sum, s) => {
      const from = (((at_s - s.start_s) % period_s) + period_s) % period_s
      return sum + (from > 1e-9 && from < s.end_s - s.start_s + gap_s - 1e-9 ? 1 : 0)
    }, 0)
  let best = { at_s: 0, count: Number.POSITIVE_INFINITY }
  // The least cover is found at the start of some span.
  for (const start of [0, ...new Set(spans.map((s) => ((s.start_s % period_s) + period_s) % period_s))]) {
    const count = covers(start)
    if (count < best.count) best = { at_s: start, count }
    if (count === 0) break
  }
  return best
}

type Solved = { worth: number; chosen: number[] }

/** The heaviest set among some of the spans on an open line, on top of a worth that is already had. */
const solve = (
  spans: readonly Span[],
  among: readonly number[],
  had: number,
  limits: SpanLimits,
  caps: Int32Array,
  inAll: number,
): Solved => {
  if (inAll <= 0) return { worth: had, chosen: [] }
  const free = solveCounted(spans, among, limits, caps, 0)
  if (free.chosen.length <= inAll) return { worth: free.worth + had, chosen: free.chosen }
  const counted = solveCounted(spans, among, limits, caps, inAll)
  return { worth: counted.worth + had, chosen: counted.chosen }
}

/** `most`: the greatest number of spans, 0 for any. */
const solveCounted = (spans: readonly Span[], among: readonly number[], limits: SpanLimits, caps: Int32Array, most: number): Solved => {
  const order = [...among].sort((a, b) => spans[a].end_s - spans[b].end_s)
  const n = order.length
  const first = new Map<number, number>()
  const last = new Map<number, number>()
  const sizes = new Map<number, number>()
  order.forEach((i, k) => {
    const { group } = spans[i]
    if (!first.has(group)) first.set(group, k)
    last.set(group, k)
    sizes.set(group, (sizes.get(group) ?? 0) + 1)
  })
  // Groups that cannot pass their cap need no state.
  const counted = [...first.keys()].filter((g) => caps[g] < (sizes.get(g) ?? 0))
  const openAt: number[][] = Array.from({ length: n + 1 }, () => [])
  for (const g of counted) for (let k = (first.get(g) ?? 0) + 1; k <= (last.get(g) ?? 0); k++) openAt[k].push(g)
  const radix = Math.max(1, limits.perGroup + 1)
  const counts = most > 0 ? most + 1 : 1
  const states = openAt.map((open) => radix ** open.length)
  const worth = states.map((size) => new Float64Array(size * counts).fill(Number.NEGATIVE_INFINITY))
  const from = states.map((size) => new Int32Array(size * counts).fill(-1))
  const taken = states.map((size) => new Uint8Array(size * counts))
  worth[0][0] = 0
  const digit = (cut: number, state: number, group: number): number => {
    const at = openAt[cut].indexOf(group)
    return at < 0 ? 0 : Math.floor(state / radix ** at) % radix
  }
  /** The state at a later cut; -1 where taking one more of `group` would pass its cap. */
  const carried = (cut: number, state: number, to: number, group: number): number => {
    if (group >= 0 && digit(cut, state, group) + 1 > caps[group]) return -1
    let next = 0
    openAt[to].forEach((g, at) => {
      next += (digit(cut, state, g) + (g === group ? 1 : 0)) * radix ** at
    })
    return next
  }
  const before = order.map((i) => lastBefore(spans, order, spans[i].start_s - limits.gap_s))
  for (let k = 0; k < n; k++) {
    const span = spans[order[k]]
    const step = (cut: number, take: boolean): void => {
      const gain = take ? span.worth : 0
      for (let state = 0; state < states[cut]; state++) {
        const next =
          openAt[cut].length === 0 && openAt[k + 1].length === 0 && !take ? 0 : carried(cut, state, k + 1, take ? span.group : -1)
        if (next < 0) continue
        for (let count = 0; count < counts; count++) {
          const value = worth[cut][state * counts + count] + gain
          const to = most > 0 && take ? count + 1 : count
          if (value === Number.NEGATIVE_INFINITY || to >= counts) continue
          const at = next * counts + to
          if (value <= worth[k + 1][at]) continue
          worth[k + 1][at] = value
          from[k + 1][at] = state * counts + count
          taken[k + 1][at] = take ? 1 : 0
        }
      }
    }
    step(k, false)
    if (caps[span.group] > 0) step(before[k], true)
  }
  let at = 0
  for (let i = 1; i < worth[n].length; i++) if (worth[n][i] > worth[n][at]) at = i
  const total = worth[n][at]
  const chosen: number[] = []
  for (let k = n; k > 0; ) {
    const previous = from[k][at]
    if (taken[k][at]) {
      chosen.push(order[k - 1])
      k = before[k - 1]
    } else k--
    at = previous
  }
  return { worth: total, chosen: chosen.reverse() }
}

/** How many spans, in order of their ends, end at or before a time. */
const lastBefore = (spans: readonly Span[], order: readonly number[], time_s: number): number => {
  let low = 0
  let high = order.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (spans[order[middle]].end_s <= time_s + 1e-12) low = middle + 1
    else high = middle
  }
  return low
}
