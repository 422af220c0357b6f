import { waitCost } from './cost.ts'
import { type Model, modelOf } from './model.ts'
import type { DaySetup } from './setup.ts'

/** Students who are alike for the bound: same presence and wants. */
export type Class = {
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
export type Row = {
  there: Float64Array
  /** Steps for which it is still taken after a session ends, at least. */
  after: number
  /** Shares at `class * formats + format`: a seat's part of a session, for all of its seats may be taken. */
  share: Float64Array
}

/** Prices of each row by step. */
export type Prices = Float64Array[]

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
export type Ground = {
  model: Model
  classes: Class[]
  rows: Row[]
  /** Cost of a wait by its steps. */
  gap: Float64Array
}

export const groundOf = (setup: DaySetup): Ground => {
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

export const noPrices = ({ rows, model }: Ground): Prices => rows.map(() => new Float64Array(model.steps))

/** Price of each format for a class at each start: what its student takes of everything, while it lasts. */
export const pricesOf = ({ model, rows }: Ground, prices: Prices, k: number): Float64Array[] =>
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
