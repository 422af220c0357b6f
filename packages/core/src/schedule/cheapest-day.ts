import type { Model } from './model.ts'
import type { Class, Ground } from './shared-means.ts'

const LUNCH = -1

/** A student's cheapest timetable at given prices: its cost, and when each of its sessions begins. */
type Cheapest = { cost: number; sessions: { format: number; at: number }[] }

/** One step of a chain of activities: what was done last, when it began, and the chain before it. */
type Table = { cost: Float64Array; from: Int32Array; activity: Int16Array; at: Int16Array }

/** Whether a format may come when others have been done so often: briefing and sighting first, order, no more than wanted. */
const mayCome = (model: Model, one: Class, done: readonly number[], f: number): boolean => {
  if (done[f] >= one.wants[f]) return false
  const { kind, cars, isDrive } = model.formats[f]
  const had = (wanted: string): boolean => model.formats.some((format, k) => format.kind === wanted && done[k] > 0)
  const rolls = cars !== 'none' || kind === 'pad' || kind === 'wet-pad'
  if (rolls && model.needsBriefing[one.student] === 1 && !had('briefing')) return false
  if (isDrive && model.needsSighting[one.student] === 1 && !had('sighting')) return false
  return !model.order[one.group].some(([first, second]) => first === f && done[second] > 0)
}

/**
 * The cheapest timetable of a class at given prices, by a shortest path over what was done and when it ended. A relaxation of a real
 * timetable: only drives that follow each other directly keep their rest. Cost: states times formats times steps squared.
 */
export const cheapestOf = (ground: Ground, one: Class, priced: readonly Float64Array[]): Cheapest => {
  const { model, gap } = ground
  const { lunch, setup } = model
  const steps = model.steps
  const sizes = one.wants.map((n) => n + 1)
  const states = sizes.reduce((a, b) => a * b, 1)
  const weights = sizes.map((_, k) => sizes.slice(0, k).reduce((a, b) => a * b, 1))
  const window = lunch && { from: Math.max(lunch.from, one.arrives), to: Math.min(lunch.to, one.leaves) }
  const eats = lunch !== null && window !== null && window.to - window.from >= lunch.steps
  // A drive ends before its change over does; which drive came last is not known here.
  const changes = model.formats.map((format) => (format.isDrive ? format.change : 0))
  const rest = Math.max(0, Math.ceil(setup.rules.restBetweenDrives_min / setup.step_min) - Math.max(0, ...changes))
  // Tables by state, lunch taken or not, and whether a drive came last; each by the step at which the student is free again.
  const tables: Table[] = Array.from({ length: states * 4 }, () => ({
    cost: new Float64Array(steps + 1).fill(Number.POSITIVE_INFINITY),
    from: new Int32Array(steps + 1).fill(-1),
    activity: new Int16Array(steps + 1),
    at: new Int16Array(steps + 1),
  }))
  tables[eats ? 0 : 2].cost[one.arrives] = 0
  /** Leads on from a table with an activity: the best wait before each of its starts. */
  const lead = (
    index: number,
    into: number,
    f: number,
    starts: Int16Array,
    price: Float64Array | null,
    busy: number,
    least: number,
  ): void => {
    const { cost: before } = tables[index]
    const { cost: after, from, activity, at: began } = tables[into]
    let first = 0
    for (let free = 0; free <= steps; free++) {
      const had = before[free]
      if (had === Number.POSITIVE_INFINITY) continue
      while (first < starts.length && starts[first] < free + least) first++
      for (let k = first; k < starts.length; k++) {
        const at = starts[k]
        const cost = had + gap[at - free] + (price === null ? 0 : price[at])
        const end = at + busy < steps ? at + busy : steps
        if (cost >= after[end]) continue
        after[end] = cost
        from[end] = index * (steps + 1) + free
        activity[end] = f
        began[end] = at
      }
    }
  }
  const done = new Array<number>(sizes.length).fill(0)
  for (let state = 0; state < states; state++) {
    for (let k = 0; k < sizes.length; k++) done[k] = Math.floor(state / weights[k]) % sizes[k]
    for (let kind = 0; kind < 4; kind++) {
      const index = 4 * state + kind
      const ate = kind >= 2
      const droveLast = kind % 2 === 1
      if (eats && !ate && lunch) lead(index, 4 * state + 2, LUNCH, one.lunches, null, lunch.steps, 0)
      for (let f = 0; f < sizes.length; f++) {
        if (!mayCome(model, one, done, f)) continue
        const { steps: length, change, isDrive } = model.formats[f]
        const into = 4 * (state + weights[f]) + (ate ? 2 : 0) + (isDrive ? 1 : 0)
        const least = droveLast && isDrive ? rest : 0
        lead(index, into, f, one.starts[f], priced[f], length + change, least)
      }
    }
  }
  return endOf(ground, one, tables, weights, sizes, eats)
}

/** The cheapest end of all chains, and the chain that leads to it. */
const endOf = (
  { model, gap }: Ground,
  one: Class,
  tables: readonly Table[],
  weights: readonly number[],
  sizes: readonly number[],
  eats: boolean,
): Cheapest => {
  const steps = model.steps
  let best = { cost: Number.POSITIVE_INFINITY, index: -1, free: 0 }
  for (const [index, { cost }] of tables.entries()) {
    if (eats && index % 4 < 2) continue
    const state = Math.floor(index / 4)
    const missing = sizes.reduce((sum, size, k) => sum + one.wants[k] - (Math.floor(state / weights[k]) % size), 0)
    for (let free = 0; free <= steps; free++) {
      const total = cost[free] + gap[Math.max(0, one.leaves - free)] + model.setup.rules.cost.leftOut * missing
      if (total < best.cost) best = { cost: total, index, free }
    }
  }
  const sessions: Cheapest['sessions'] = []
  let { index, free } = best
  while (index >= 0 && tables[index].from[free] >= 0) {
    const { from, activity, at } = tables[index]
    if (activity[free] >= 0) sessions.push({ format: activity[free], at: at[free] })
    const before = from[free]
    index = Math.floor(before / (steps + 1))
    free = before % (steps + 1)
  }
  return { cost: best.cost, sessions }
}
