import { waitCost } from './cost.ts'
import { type Model, modelOf } from './model.ts'
import type { DaySetup } from './setup.ts'

/** What no plan can go below: the cost, and the rounds of prices it was found in. */
export type DayBound = { cost: number; rounds: number }

export type BoundOptions = {
  /** Cost of the best plan known, which tells how far prices may move. */
  above: number
  rounds?: number
  /** Asked after each round; true ends the search. */
  stop?: (bound: DayBound) => boolean
}

/** Students who are alike for the bound: same presence and wants. */
type Class = { students: number; arrives: number; leaves: number; driveBy: number; wants: number[]; student: number; group: number }

/** Resources by step, each with how much there is: what a bound sets a price on. */
type Row = 'instructors' | 'track' | 'cars' | 'pad' | 'classroom'
const rows: readonly Row[] = ['instructors', 'track', 'cars', 'pad', 'classroom']
type Prices = Record<Row, Float64Array>

const zeros = (steps: number): Prices => Object.fromEntries(rows.map((row) => [row, new Float64Array(steps)])) as Prices

const classesOf = (model: Model): Class[] => {
  const formats = model.formats.length
  const byKey = new Map<string, Class>()
  for (let s = 0; s < model.groupOf.length; s++) {
    const wants = [...model.wants.subarray(s * formats, (s + 1) * formats)]
    const one = {
      arrives: model.arrives[s],
      leaves: model.leaves[s],
      driveBy: model.driveBy[s],
      wants,
      group: model.groupOf[s],
      firsts: [model.needsBriefing[s], model.needsSighting[s]],
    }
    const key = JSON.stringify(one)
    const known = byKey.get(key)
    if (known) known.students++
    else byKey.set(key, { ...one, students: 1, student: s })
  }
  return [...byKey.values()]
}

/** How much there is of each resource at each step. */
const capacities = (model: Model): Prices => {
  const { setup, steps, open } = model
  const there = zeros(steps)
  for (let t = 0; t < steps; t++) {
    for (let i = 0; i < setup.instructors.length; i++) there.instructors[t] += model.instructorOpen[i * steps + t]
    for (let c = 0; c < setup.cars.length; c++) there.cars[t] += model.carOpen[c * steps + t]
    there.track[t] = open.track[t]
    there.pad[t] = open.pad[t]
    there.classroom[t] = open.classroom[t]
  }
  return there
}

/** What a student in a format takes of each resource per step: a share of a session's, for all of its seats may be taken. */
const sharesOf = (model: Model, format: number, group: number): Record<Row, number> => {
  const { setup, formats } = model
  const { seats, instructor, cars, leaderCar, place } = formats[format]
  const teachers = setup.instructors.filter((_, i) => model.teaches[i * setup.groups.length + group] === 1).length
  // The track belongs to one group at a time, and holds as many of its sessions as there are who teach it.
  const onTrack = place === 'track' && setup.rules.oneGroupOnTrack && instructor && teachers > 0
  return {
    instructors: instructor ? 1 / seats : 0,
    track: onTrack ? 1 / (seats * teachers) : 0,
    cars: (cars === 'each' ? 1 : cars === 'one' ? 1 / seats : 0) + (leaderCar ? 1 / seats : 0),
    pad: place === 'pad' ? 1 / seats : 0,
    classroom: place === 'classroom' ? 1 / seats : 0,
  }
}

/** Everything that is the same in all rounds. */
type Ground = {
  model: Model
  classes: Class[]
  there: Prices
  /** Shares at `group * formats + format`. */
  shares: Record<Row, number>[]
  /** Cost of a wait by its steps. */
  gap: Float64Array
  /** Shortest cooling of a car (steps): for so long a car is taken at least. */
  cooling: number
}

const groundOf = (setup: DaySetup): Ground => {
  const model = modelOf(setup)
  const { wait } = setup.rules.cost
  const shares = setup.groups.flatMap((_, g) => model.formats.map((_f, f) => sharesOf(model, f, g)))
  return {
    model,
    classes: classesOf(model),
    there: capacities(model),
    shares,
    gap: Float64Array.from({ length: model.steps + 1 }, (_, m) => waitCost(m * setup.step_min, wait)),
    cooling: setup.cars.length > 0 ? Math.min(...model.cooling) : 0,
  }
}

/** Price of a format for a group at each start: what its student takes of everything, while it lasts. */
const pricesOf = ({ model, shares, cooling }: Ground, prices: Prices, group: number): Float64Array[] =>
  model.formats.map((format, f) => {
    const share = shares[group * model.formats.length + f]
    const out = new Float64Array(model.steps)
    for (let at = 0; at + format.steps <= model.steps; at++) {
      let sum = 0
      for (let t = at; t < at + format.steps; t++)
        for (const row of rows) if (row !== 'cars' && share[row] > 0) sum += share[row] * prices[row][t]
      if (share.cars > 0) for (let t = at; t < Math.min(model.steps, at + format.steps + cooling); t++) sum += share.cars * prices.cars[t]
      out[at] = sum
    }
    return out
  })

/** A student's cheapest timetable at given prices: its cost, and when each of its sessions begins. */
type Cheapest = { cost: number; sessions: { format: number; at: number }[] }

/** One step of a chain of activities: what was done last, when it began, and the chain before it. */
type Table = { cost: Float64Array; from: Int32Array; activity: Int16Array; at: Int16Array }

/** Whether a class may begin a format at a step, apart from what it has done before. */
const fits = (model: Model, one: Class, f: number, at: number): boolean => {
  const { steps, isDrive, place } = model.formats[f]
  if (at < one.arrives || at + steps > (isDrive ? one.driveBy : one.leaves)) return false
  for (let t = at; t < at + steps; t++) if (model.open[place][t] === 0) return false
  return true
}

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
const cheapestOf = (ground: Ground, one: Class, priced: readonly Float64Array[]): Cheapest => {
  const { model, gap } = ground
  const { lunch, setup } = model
  const steps = model.steps
  const sizes = one.wants.map((n) => n + 1)
  const states = sizes.reduce((a, b) => a * b, 1)
  const weights = sizes.map((_, k) => sizes.slice(0, k).reduce((a, b) => a * b, 1))
  const window = lunch && { from: Math.max(lunch.from, one.arrives), to: Math.min(lunch.to, one.leaves) }
  const eats = lunch !== null && window !== null && window.to - window.from >= lunch.steps
  const rest = Math.ceil(setup.rules.restBetweenDrives_min / setup.step_min)
  // Tables by state, lunch taken or not, and whether a drive came last; each by the step at which the student is free again.
  const tables: Table[] = Array.from({ length: states * 4 }, () => ({
    cost: new Float64Array(steps + 1).fill(Number.POSITIVE_INFINITY),
    from: new Int32Array(steps + 1).fill(-1),
    activity: new Int16Array(steps + 1),
    at: new Int16Array(steps + 1),
  }))
  tables[eats ? 0 : 2].cost[one.arrives] = 0
  const LUNCH = -1
  /** Leads on from a table with an activity: the best wait before each of its starts. */
  const lead = (
    index: number,
    into: number,
    f: number,
    length: number,
    busy: number,
    least: number,
    price: (at: number) => number,
  ): void => {
    const table = tables[index]
    const target = tables[into]
    for (let free = 0; free <= steps; free++) {
      const before = table.cost[free]
      if (before === Number.POSITIVE_INFINITY) continue
      for (let at = free + least; at + length <= steps; at++) {
        const cost = before + gap[at - free] + price(at)
        const end = Math.min(steps, at + busy)
        if (cost >= target.cost[end]) continue
        target.cost[end] = cost
        target.from[end] = index * (steps + 1) + free
        target.activity[end] = f
        target.at[end] = at
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
      if (eats && !ate && lunch && window)
        lead(index, 4 * state + 2, LUNCH, lunch.steps, lunch.steps, 0, (at) =>
          at >= window.from && at + lunch.steps <= window.to ? 0 : Number.POSITIVE_INFINITY,
        )
      for (let f = 0; f < sizes.length; f++) {
        if (!mayCome(model, one, done, f)) continue
        const { steps: length, change, isDrive } = model.formats[f]
        const into = 4 * (state + weights[f]) + (ate ? 2 : 0) + (isDrive ? 1 : 0)
        const least = droveLast && isDrive ? Math.max(0, rest - model.formats[f].change) : 0
        lead(index, into, f, length, length + change, least, (at) => (fits(model, one, f, at) ? priced[f][at] : Number.POSITIVE_INFINITY))
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

/**
 * A cost that no plan of a day can go below, proven: people's cheapest timetables, each for itself, at prices on what they share
 * (Lagrangian relaxation; prices follow the subgradient, Polyak's step). Every round's value is a bound, and the best is kept. Costs
 * that need more than one person to arise (another instructor, uneven load, changes of group) count as nothing. Only for days
 * without kept sessions. Cost of a round: classes of students times their states times steps squared.
 */
export const boundDay = (setup: DaySetup, { above, rounds = 200, stop = () => false }: BoundOptions): DayBound => {
  const ground = groundOf(setup)
  const { model, classes, there, shares, cooling } = ground
  const { steps } = model
  const formats = model.formats.length
  const prices = zeros(steps)
  let best = 0
  let reach = 1
  let idle = 0
  let round = 0
  for (; round < rounds; round++) {
    const used = zeros(steps)
    const byGroup = setup.groups.map((_, g) => pricesOf(ground, prices, g))
    let value = 0
    for (const one of classes) {
      const { cost, sessions } = cheapestOf(ground, one, byGroup[one.group])
      value += one.students * cost
      for (const { format, at } of sessions)
        take(used, shares[one.group * formats + format], one.students, at, model.formats[format].steps, cooling)
    }
    for (const row of rows) for (let t = 0; t < steps; t++) value -= prices[row][t] * there[row][t]
    if (value > best + 1e-9) {
      best = value
      idle = 0
    } else if (++idle >= 12) {
      reach /= 2
      idle = 0
    }
    if (stop({ cost: best, rounds: round + 1 }) || reach < 1e-3 || best >= above - 1e-6) {
      round++
      break
    }
    follow(prices, used, there, reach * Math.max(1, above - value))
  }
  return { cost: best, rounds: round }
}

/** Adds what students of a class take of each resource by one session. */
const take = (used: Prices, share: Record<Row, number>, students: number, at: number, length: number, cooling: number): void => {
  for (const row of rows) {
    if (share[row] === 0) continue
    const end = Math.min(used[row].length, at + length + (row === 'cars' ? cooling : 0))
    for (let t = at; t < end; t++) used[row][t] += students * share[row]
  }
}

/** Moves prices up where too much is used and down where too little, by a step in proportion to what is to be gained. */
const follow = (prices: Prices, used: Prices, there: Prices, gain: number): void => {
  let norm = 0
  for (const row of rows)
    for (let t = 0; t < used[row].length; t++) {
      const over = used[row][t] - there[row][t]
      // A price of nothing stays where there is enough.
      if (over > 0 || prices[row][t] > 0) norm += over * over
    }
  if (norm === 0) return
  const step = gain / norm
  for (const row of rows)
    for (let t = 0; t < used[row].length; t++) prices[row][t] = Math.max(0, prices[row][t] + step * (used[row][t] - there[row][t]))
}
