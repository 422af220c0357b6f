/** Something that may be said: when (s), what it is worth, and to which group (a corner) it counts. */
export type Span = { start_s: number; end_s: number; worth: number; group: number }

/** Constraints of a choice. `period_s`: the lap's time where it closes, else null; caps: maximum per group, and in all. */
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
  const groups = spans.reduce((max, s) => Math.max(max, s.group), 0) + 1
  const caps = new Int32Array(groups).fill(limits.perGroup)
  const all = spans.map((_, i) => i)
  if (period_s === null) return solve(spans, all, 0, limits, caps, limits.inAll).chosen
  const cut = bestCut(spans, period_s, limits.gap_s)
  // A span seen from the cut on: its start lies in the first period.
  const opened = spans.map((s): Span => {
    const start = (((s.start_s - cut.at_s) % period_s) + period_s) % period_s
    return { ...s, start_s: start, end_s: start + (s.end_s - s.start_s) }
  })
  const isOver = (i: number): boolean => opened[i].end_s + limits.gap_s > period_s + 1e-9
  const over = all.filter(isOver)
  const within = all.filter((i) => !isOver(i))
  let best = solve(opened, within, 0, limits, caps, limits.inAll)
  for (const i of over) {
    const crossing = opened[i]
    if (crossing.end_s - crossing.start_s + limits.gap_s > period_s) continue
    const free = within.filter(
      (j) =>
        opened[j].start_s >= crossing.end_s + limits.gap_s - period_s - 1e-12 && opened[j].end_s + limits.gap_s <= crossing.start_s + 1e-12,
    )
    const left = caps.slice()
    left[crossing.group]--
    const rest = solve(opened, free, crossing.worth, limits, left, limits.inAll - 1)
    if (rest.worth > best.worth) best = { worth: rest.worth, chosen: [...rest.chosen, i] }
  }
  return best.chosen.sort((a, b) => spans[a].end_s - spans[b].end_s)
}

/** The moment of the lap that the fewest spans cover: a sweep over starts and ends; the least cover is found where some span begins. */
const bestCut = (spans: readonly Span[], period_s: number, gap_s: number): { at_s: number } => {
  const wrap = (t: number): number => ((t % period_s) + period_s) % period_s
  const edges: { at_s: number; change: 1 | -1 }[] = []
  let covering = 0
  for (const span of spans) {
    const start = wrap(span.start_s)
    const end = start + (span.end_s - span.start_s) + gap_s
    edges.push({ at_s: start, change: 1 }, { at_s: wrap(end), change: -1 })
    if (end > period_s) covering += Math.floor(end / period_s)
  }
  // What ends where another begins has ended: the cut may lie between them.
  edges.sort((a, b) => a.at_s - b.at_s || a.change - b.change)
  let best = { at_s: 0, count: Number.POSITIVE_INFINITY }
  for (const { at_s, change } of edges) {
    if (change === 1 && covering < best.count) best = { at_s, count: covering }
    covering += change
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
const solveCounted = (spans: readonly Span[], among: readonly number[], limits: SpanLimits, caps: Int32Array, max: number): Solved => {
  const order = [...among].sort((a, b) => spans[a].end_s - spans[b].end_s)
  const before = order.map((i) => lastBefore(spans, order, spans[i].start_s - limits.gap_s))
  const openAt = openGroups(spans, order, caps)
  return openAt === null && max === 0 ? solvePlain(spans, order, before) : solveStates(spans, order, before, limits, caps, openAt, max)
}

/** The plain recursion over end times, for spans whose caps cannot bind. */
const solvePlain = (spans: readonly Span[], order: readonly number[], before: readonly number[]): Solved => {
  const n = order.length
  const best = new Float64Array(n + 1)
  for (let k = 0; k < n; k++) best[k + 1] = Math.max(best[k], best[before[k]] + spans[order[k]].worth)
  const chosen: number[] = []
  for (let k = n; k > 0; )
    if (best[k] === best[k - 1]) k--
    else {
      chosen.push(order[k - 1])
      k = before[k - 1]
    }
  return { worth: best[n], chosen: chosen.reverse() }
}

/**
 * Groups whose cap can bind, at each cut between spans in order of their ends: those with a span before the cut and one
 * behind it; null where no cap can bind. Spans of one group that end together are forms of one thing, of which at most
 * one is ever chosen.
 */
const openGroups = (spans: readonly Span[], order: readonly number[], caps: Int32Array): number[][] | null => {
  const first = new Int32Array(caps.length).fill(-1)
  const last = new Int32Array(caps.length)
  const things = new Int32Array(caps.length)
  const lastEnd = new Float64Array(caps.length).fill(Number.NEGATIVE_INFINITY)
  order.forEach((i, k) => {
    const { group, end_s } = spans[i]
    if (first[group] < 0) first[group] = k
    last[group] = k
    if (end_s !== lastEnd[group]) things[group]++
    lastEnd[group] = end_s
  })
  let binding = false
  const openAt: number[][] = Array.from({ length: order.length + 1 }, () => [])
  for (let g = 0; g < caps.length; g++) {
    if (caps[g] >= things[g]) continue
    binding = true
    for (let k = first[g] + 1; k <= last[g]; k++) openAt[k].push(g)
  }
  return binding ? openAt : null
}

/** Counts of the open groups at each cut, as the digits of a number with one digit per group. */
type GroupCounts = {
  /** Number of states at a cut. */
  states: (cut: number) => number
  /** The state carried to a later cut, with one more of `group` (−1: of none); −1 where that would pass the group's cap. */
  carried: (cut: number, state: number, to: number, group: number) => number
}

const groupCounts = (openAt: readonly (readonly number[])[], perGroup: number, caps: Int32Array): GroupCounts => {
  const radix = perGroup + 1
  const digit = (cut: number, state: number, group: number): number => {
    const place = openAt[cut].indexOf(group)
    return place < 0 ? 0 : Math.floor(state / radix ** place) % radix
  }
  return {
    states: (cut) => radix ** openAt[cut].length,
    carried: (cut, state, to, group) => {
      if (group >= 0 && digit(cut, state, group) + 1 > caps[group]) return -1
      let next = 0
      let unit = 1
      for (const g of openAt[to]) {
        next += (digit(cut, state, g) + (g === group ? 1 : 0)) * unit
        unit *= radix
      }
      return next
    },
  }
}

/** The best worth of every state at every cut, and the step that led there; row `start[cut] + state × counts + count`. */
type StateTable = { start: Int32Array; counts: number; worth: Float64Array; from: Int32Array; taken: Uint8Array }

const stateTable = (cuts: number, counts: number, states: (cut: number) => number): StateTable => {
  const start = new Int32Array(cuts + 1)
  for (let cut = 0; cut < cuts; cut++) start[cut + 1] = start[cut] + states(cut) * counts
  const rows = start[cuts]
  const worth = new Float64Array(rows).fill(Number.NEGATIVE_INFINITY)
  worth[0] = 0
  return { start, counts, worth, from: new Int32Array(rows), taken: new Uint8Array(rows) }
}

/** With the counts of open groups as state, and the count of all spans where it is capped (`max` above 0). */
const solveStates = (
  spans: readonly Span[],
  order: readonly number[],
  before: readonly number[],
  limits: SpanLimits,
  caps: Int32Array,
  open: number[][] | null,
  max: number,
): Solved => {
  const n = order.length
  const groups = groupCounts(open ?? Array.from({ length: n + 1 }, () => []), limits.perGroup, caps)
  const table = stateTable(n + 1, max > 0 ? max + 1 : 1, groups.states)
  const { start, counts, worth, from, taken } = table
  /** Carries every state of a cut to the cut behind a span, with or without taking the span. */
  const carry = (cut: number, to: number, taking: Span | null): void => {
    for (let state = 0; state < groups.states(cut); state++) {
      const next = groups.carried(cut, state, to, taking ? taking.group : -1)
      if (next < 0) continue
      for (let count = 0; count < counts; count++) {
        const source = start[cut] + state * counts + count
        const nextCount = max > 0 && taking ? count + 1 : count
        const value = worth[source] + (taking ? taking.worth : 0)
        if (value === Number.NEGATIVE_INFINITY || nextCount >= counts) continue
        const target = start[to] + next * counts + nextCount
        if (value <= worth[target]) continue
        worth[target] = value
        from[target] = source
        taken[target] = taking ? 1 : 0
      }
    }
  }
  for (let k = 0; k < n; k++) {
    const span = spans[order[k]]
    carry(k, k + 1, null)
    if (caps[span.group] > 0) carry(before[k], k + 1, span)
  }
  return traceBack(table, order, before)
}

/** The chosen spans of the best final state, by following the steps back from it. */
const traceBack = ({ start, worth, from, taken }: StateTable, order: readonly number[], before: readonly number[]): Solved => {
  const n = order.length
  let row = start[n]
  for (let i = start[n] + 1; i < start[n + 1]; i++) if (worth[i] > worth[row]) row = i
  const total = worth[row]
  const chosen: number[] = []
  for (let k = n; k > 0; ) {
    const previous = from[row]
    if (taken[row]) {
      chosen.push(order[k - 1])
      k = before[k - 1]
    } else k--
    row = previous
  }
  return { worth: total, chosen: chosen.reverse() }
}

/** Number of spans, in order of their ends, that end at or before a time. */
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
