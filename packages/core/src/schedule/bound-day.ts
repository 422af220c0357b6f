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
type Class = {
  students: number
  arrives: number
  leaves: number
  driveBy: number
  wants: number[]
  group: number
  /** Cars that they may take. */
  cars: number[]
  /** One of them. */
  student: number
  /** Steps at which each format, and lunch, may begin for them, apart from what else they do. */
  starts: Int16Array[]
  lunches: Int16Array
}

/** Something that people share: how much there is at each step, and what a student of a class takes of it per step of a format. */
type Row = {
  there: Float64Array
  /** Steps for which it is still taken after a session ends, at least. */
  after: number
  /** Shares at `class * formats + format`: a seat's part of a session, for all of its seats may be taken. */
  share: Float64Array
}

/** Prices of each row by step. */
type Prices = Float64Array[]

const startsOf = (model: Model, one: Pick<Class, 'arrives' | 'leaves' | 'driveBy'>): Pick<Class, 'starts' | 'lunches'> => {
  const { lunch, steps } = model
  const all = Array.from({ length: steps }, (_, t) => t)
  const isOpen = (f: number, at: number): boolean => {
    const { steps: length, place } = model.formats[f]
    for (let t = at; t < at + length; t++) if (model.open[place][t] !== 1) return false
    return true
  }
  return {
    starts: model.formats.map(({ steps: length, isDrive, fixedAt }, f) =>
      Int16Array.from(
        all.filter(
          (at) =>
            at >= one.arrives &&
            at + length <= (isDrive ? one.driveBy : one.leaves) &&
            (fixedAt < 0 || (one.arrives <= fixedAt ? at === fixedAt : at > fixedAt)) &&
            isOpen(f, at),
        ),
      ),
    ),
    lunches: Int16Array.from(
      lunch ? all.filter((at) => at >= Math.max(lunch.from, one.arrives) && at + lunch.steps <= Math.min(lunch.to, one.leaves)) : [],
    ),
  }
}

const classesOf = (model: Model): Class[] => {
  const formats = model.formats.length
  const students = model.groupOf.length
  const byKey = new Map<string, Class>()
  for (let s = 0; s < students; s++) {
    const wants = [...model.wants.subarray(s * formats, (s + 1) * formats)]
    const cars = model.setup.cars.flatMap((_, c) => (model.mayTake[c * students + s] === 1 ? [c] : []))
    const one = { arrives: model.arrives[s], leaves: model.leaves[s], driveBy: model.driveBy[s], wants, group: model.groupOf[s], cars }
    const key = JSON.stringify([one, model.needsBriefing[s], model.needsSighting[s]])
    const known = byKey.get(key)
    if (known) known.students++
    else byKey.set(key, { ...one, students: 1, student: s, ...startsOf(model, one) })
  }
  return [...byKey.values()]
}

const teachersOf = ({ setup, teaches }: Model, group: number): number[] =>
  setup.instructors.flatMap((_, i) => (teaches[i * setup.groups.length + group] === 1 ? [i] : []))

/** Each set once, with who needs something out of it and of nothing else. */
const distinct = (sets: readonly (readonly number[])[]): { set: readonly number[]; within: number[] }[] => {
  const keys = [...new Map(sets.map((set) => [set.join(), set])).values()]
  return keys.map((set) => {
    const has = new Set(set)
    return { set, within: sets.flatMap((other, k) => (other.every((one) => has.has(one)) ? [k] : [])) }
  })
}

/** Sum over a set of what is open at each step. */
const openOf = (open: Uint8Array, set: readonly number[], steps: number): Float64Array =>
  Float64Array.from({ length: steps }, (_, t) => set.reduce((sum, one) => sum + open[one * steps + t], 0))

/** Everything that people share: instructors by whom they teach, cars by who may take them, the track, pad and classroom. */
const rowsOf = (model: Model, classes: readonly Class[]): Row[] => {
  const { setup, steps, formats, open } = model
  const rows: Row[] = []
  const add = (there: Float64Array, after: number, share: (one: Class, k: number, f: number) => number): void => {
    const shares = Float64Array.from({ length: classes.length * formats.length }, (_, at) => {
      const k = Math.floor(at / formats.length)
      return share(classes[k], k, at % formats.length)
    })
    if (shares.some((one) => one > 0)) rows.push({ there, after, share: shares })
  }
  for (const { set, within } of distinct(classes.map((one) => teachersOf(model, one.group)))) {
    const inside = new Set(within)
    add(openOf(model.instructorOpen, set, steps), 0, (_, k, f) => (inside.has(k) && formats[f].instructor ? 1 / formats[f].seats : 0))
  }
  for (const { set, within } of distinct(classes.map((one) => one.cars))) {
    const inside = new Set(within)
    const cooling = Math.min(...set.map((c) => model.cooling[c]))
    add(openOf(model.carOpen, set, steps), Number.isFinite(cooling) ? cooling : 0, (_, k, f) => {
      const { cars, seats } = formats[f]
      return inside.has(k) ? (cars === 'each' ? 1 : cars === 'one' ? 1 / seats : 0) : 0
    })
  }
  const all = setup.cars.map((_, c) => c)
  // A leader's car comes out of all cars.
  if (formats.some((f) => f.leaderCar))
    add(openOf(model.carOpen, all, steps), Math.min(...model.cooling), (_, __, f) => {
      const { cars, seats, leaderCar } = formats[f]
      return (cars === 'each' ? 1 : cars === 'one' ? 1 / seats : 0) + (leaderCar ? 1 / seats : 0)
    })
  if (setup.rules.oneGroupOnTrack)
    add(Float64Array.from(open.track), 0, (one, _, f) => {
      // The track belongs to one group at a time, and holds as many of its sessions as there are who teach it.
      const teachers = teachersOf(model, one.group).length
      const { place, instructor, seats } = formats[f]
      return place === 'track' && instructor && teachers > 0 ? 1 / (seats * teachers) : 0
    })
  for (const place of ['pad', 'classroom'] as const)
    add(Float64Array.from(open[place]), 0, (_, __, f) => (formats[f].place === place ? 1 / formats[f].seats : 0))
  return rows
}

/** Everything that is the same in all rounds. */
type Ground = {
  model: Model
  classes: Class[]
  rows: Row[]
  /** Cost of a wait by its steps. */
  gap: Float64Array
}

const groundOf = (setup: DaySetup): Ground => {
  const model = modelOf(setup)
  const classes = classesOf(model)
  const { wait } = setup.rules.cost
  return {
    model,
    classes,
    rows: rowsOf(model, classes),
    gap: Float64Array.from({ length: model.steps + 1 }, (_, m) => waitCost(m * setup.step_min, wait)),
  }
}

const noPrices = ({ rows, model }: Ground): Prices => rows.map(() => new Float64Array(model.steps))

/** Price of each format for a class at each start: what its student takes of everything, while it lasts. */
const pricesOf = ({ model, rows }: Ground, prices: Prices, k: number): Float64Array[] =>
  model.formats.map((format, f) => {
    const out = new Float64Array(model.steps)
    for (const [r, { share, after }] of rows.entries()) {
      const taken = share[k * model.formats.length + f]
      if (taken === 0) continue
      for (let at = 0; at + format.steps <= model.steps; at++) {
        const end = Math.min(model.steps, at + format.steps + after)
        let sum = 0
        for (let t = at; t < end; t++) sum += prices[r][t]
        out[at] += taken * sum
      }
    }
    return out
  })

const LUNCH = -1
/** Rounds without gain after which prices move half as far. */
const PATIENCE = 40
const USUAL_ROUNDS = 900

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
const cheapestOf = (ground: Ground, one: Class, priced: readonly Float64Array[]): Cheapest => {
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

/**
 * A cost that no plan of a day can go below, proven: people's cheapest timetables, each for itself, at prices on what they share
 * (Lagrangian relaxation; prices follow the subgradient, Polyak's step). Every round's value is a bound, and the best is kept. Costs
 * that need more than one person to arise (another instructor, uneven load, changes of group) count as nothing. Only for days
 * without kept sessions. Cost of a round: classes of students times their states times steps squared.
 */
export const boundDay = (setup: DaySetup, { above, rounds = USUAL_ROUNDS, stop = () => false }: BoundOptions): DayBound => {
  const ground = groundOf(setup)
  const prices = firstPrices(ground)
  let best = 0
  let reach = 1
  let idle = 0
  let round = 0
  for (; round < rounds; round++) {
    const { value, used } = valueAt(ground, prices)
    if (value > best + 1e-9) {
      best = value
      idle = 0
    } else if (++idle >= PATIENCE) {
      reach /= 2
      idle = 0
    }
    if (stop({ cost: best, rounds: round + 1 }) || reach < 1e-3 || best >= above - 1e-6) {
      round++
      break
    }
    follow(prices, used, ground.rows, reach * Math.max(1e-3 * above, above - value))
  }
  return { cost: best, rounds: round }
}

/** The bound that prices give, and what everybody's cheapest timetables at them use of each row. */
const valueAt = (ground: Ground, prices: Prices): { value: number; used: Prices } => {
  const { model, classes, rows } = ground
  const used = noPrices(ground)
  const formats = model.formats.length
  let value = 0
  for (const [k, one] of classes.entries()) {
    const { cost, sessions } = cheapestOf(ground, one, pricesOf(ground, prices, k))
    value += one.students * cost
    for (const { format, at } of sessions)
      for (const [r, { share, after }] of rows.entries()) {
        const taken = share[k * formats + format]
        if (taken === 0) continue
        const end = Math.min(model.steps, at + model.formats[format].steps + after)
        for (let t = at; t < end; t++) used[r][t] += one.students * taken
      }
  }
  for (const [r, { there }] of rows.entries()) for (let t = 0; t < model.steps; t++) value -= prices[r][t] * there[t]
  return { value, used }
}

/** Shares of the price at which somebody would rather go without, tried as a first price of a row. */
const FIRST_SHARES = [0.25, 0.5, 0.75, 0.95]

/** Even prices to begin with: for each row in turn the one that bounds best, up to where people would rather go without. */
const firstPrices = (ground: Ground): Prices => {
  const { model, rows } = ground
  const formats = model.formats.length
  const prices = noPrices(ground)
  let best = valueAt(ground, prices).value
  for (const [r, { share, after }] of rows.entries()) {
    const perSession = share.reduce((most, taken, at) => Math.max(most, taken * (model.formats[at % formats].steps + after)), 0)
    const most = model.setup.rules.cost.leftOut / perSession
    let chosen = 0
    for (const part of FIRST_SHARES) {
      prices[r].fill(part * most)
      const { value } = valueAt(ground, prices)
      if (value <= best) continue
      best = value
      chosen = part
    }
    prices[r].fill(chosen * most)
  }
  return prices
}

/** Moves prices up where too much is used and down where too little, by a step in proportion to what is to be gained. */
const follow = (prices: Prices, used: Prices, rows: readonly Row[], gain: number): void => {
  let norm = 0
  for (const [r, { there }] of rows.entries())
    for (let t = 0; t < there.length; t++) {
      const over = used[r][t] - there[t]
      // A price of nothing stays where there is enough.
      if (over > 0 || prices[r][t] > 0) norm += over * over
    }
  if (norm === 0) return
  const step = gain / norm
  for (const [r, { there }] of rows.entries())
    for (let t = 0; t < there.length; t++) prices[r][t] = Math.max(0, prices[r][t] + step * (used[r][t] - there[t]))
}
