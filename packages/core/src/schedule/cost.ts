import type { Board, Placed } from './board.ts'
import type { Model } from './model.ts'

/** What a plan costs, by what is disliked (minutes of waiting that one would accept instead). */
export const costParts = [
  'waiting',
  'otherInstructor',
  'wish',
  'leftOut',
  'moved',
  'rest',
  'unevenLoad',
  'groupChange',
  'unevenLaps',
  'wrongWeather',
] as const
export type CostPart = (typeof costParts)[number]
export type Costs = Record<CostPart, number>

export const totalOf = (costs: Costs): number =>
  costs.waiting +
  costs.otherInstructor +
  costs.wish +
  costs.leftOut +
  costs.moved +
  costs.rest +
  costs.unevenLoad +
  costs.groupChange +
  costs.unevenLaps +
  costs.wrongWeather

/** Cost of one wait (min). */
export const waitCost = (minutes: number, { free_min, each, long_min, more }: Model['setup']['rules']['cost']['wait']): number =>
  each * Math.max(0, minutes - free_min) + more * Math.max(0, minutes - long_min)

/** Starts of what was announced to each student, for the price of moving it. */
export type Announced = readonly { format: number; at: number; instructor: number }[][]

/** A wait's cost split by a lunch inside it, as cheap as it can be; infinite where none fits. */
const withLunch = (from: number, to: number, model: Model, window: { from: number; to: number }): number => {
  const { step_min, rules } = model.setup
  const length = model.lunch?.steps ?? 0
  const wait = (steps: number): number => waitCost(steps * step_min, rules.cost.wait)
  let best = Number.POSITIVE_INFINITY
  for (let at = Math.max(from, window.from); at + length <= Math.min(to, window.to); at++)
    best = Math.min(best, wait(at - from) + wait(to - at - length))
  return best
}

/**
 * What a student waits: from arrival to the first session, between sessions with their change over, and from the last one to leaving;
 * lunch lies where it makes that least.
 */
const waitingOf = (model: Model, sorted: readonly Placed[], student: number): number => {
  const { step_min, rules } = model.setup
  const [arrives, leaves] = [model.arrives[student], model.leaves[student]]
  const window = model.lunch && { from: Math.max(model.lunch.from, arrives), to: Math.min(model.lunch.to, leaves) }
  const asksLunch = window !== null && model.lunch !== null && window.to - window.from >= model.lunch.steps
  let sum = 0
  let saved = asksLunch ? Number.POSITIVE_INFINITY : 0
  let from = arrives
  for (let k = 0; k <= sorted.length; k++) {
    const to = k < sorted.length ? sorted[k].at : leaves
    if (to > from) {
      const plain = waitCost((to - from) * step_min, rules.cost.wait)
      sum += plain
      if (asksLunch && from < window.to && to > window.from) saved = Math.min(saved, withLunch(from, to, model, window) - plain)
    }
    if (k < sorted.length) {
      const format = model.formats[sorted[k].format]
      from = Math.max(from, sorted[k].at + format.steps + format.change)
    }
  }
  return saved === Number.POSITIVE_INFINITY ? sum : sum + saved
}

/** Cost of one student's day by parts. */
export const studentCosts = (board: Board, student: number, announced: Announced | null, into: Costs): void => {
  const { model, got } = board
  const { cost } = model.setup.rules
  const formats = model.formats.length
  const own = board.ofStudent[student]
  into.waiting += waitingOf(model, own, student)
  let first = -1
  for (const { format, instructor } of own) {
    if (!model.formats[format].isDrive || instructor < 0) continue
    if (first < 0) first = instructor
    else if (first !== instructor) into.otherInstructor += cost.otherInstructor
    const wish = model.wish[student * model.setup.instructors.length + instructor]
    if (wish < 0 || (model.hasKeep[student] === 1 && wish <= 0)) into.wish += cost.wish
  }
  for (let f = 0; f < formats; f++)
    into.leftOut += cost.leftOut * Math.max(0, model.wants[student * formats + f] - got[student * formats + f])
  if (announced)
    for (const told of announced[student])
      if (!own.some((s) => s.format === told.format && s.at === told.at && s.instructor === told.instructor)) into.moved += cost.moved
}

/** Cost of an instructor's day: too little rest. */
export const instructorCosts = (board: Board, instructor: number, into: Costs): void => {
  const { model, instructorBusy } = board
  const { rest } = model.setup.rules.cost
  const { steps } = model
  const within = Math.round(rest.within_min / model.setup.step_min)
  const most = rest.busy_min / model.setup.step_min
  if (rest.each === 0 || within < 1 || within > steps) return
  let busy = 0
  for (let t = 0; t < steps; t++) {
    busy += instructorBusy[instructor * steps + t]
    if (t >= within) busy -= instructorBusy[instructor * steps + t - within]
    if (t >= within - 1) into.rest += rest.each * Math.max(0, busy - most)
  }
}

/** Costs of the whole: uneven load, changes of group on the track, uneven laps, exercises in the wrong weather. */
export const commonCosts = (board: Board, into: Costs): void => {
  const { model } = board
  const { cost, oneGroupOnTrack } = model.setup.rules
  let [least, most] = [Number.POSITIVE_INFINITY, 0]
  for (const own of board.ofInstructor) {
    least = Math.min(least, own.length)
    most = Math.max(most, own.length)
  }
  if (board.ofInstructor.length > 1) into.unevenLoad += cost.unevenLoad * (most - least)
  if (oneGroupOnTrack) into.groupChange += cost.groupChange * groupChanges(board)
  if (cost.unevenLaps > 0) into.unevenLaps += cost.unevenLaps * unevenLaps(board)
  if (model.setup.rain.length > 0) into.wrongWeather += cost.wrongWeather * wrongWeather(board)
}

const groupChanges = ({ trackGroup, trackCount }: Board): number => {
  let changes = 0
  let last = 0
  for (let t = 0; t < trackGroup.length; t++) {
    if (trackCount[t] === 0) continue
    if (last !== 0 && trackGroup[t] !== last) changes++
    last = trackGroup[t]
  }
  return changes
}

/** Laps beyond one by which the drives of a group's students differ. */
const unevenLaps = ({ model, laps }: Board): number => {
  let sum = 0
  for (let g = 0; g < model.setup.groups.length; g++) {
    let [least, most] = [Number.POSITIVE_INFINITY, 0]
    for (let s = 0; s < laps.length; s++) {
      if (model.groupOf[s] !== g) continue
      if (laps[s] < least) least = laps[s]
      if (laps[s] > most) most = laps[s]
    }
    if (most - least > 1) sum += most - least - 1
  }
  return sum
}

/** Whether an exercise is in the wrong weather: a wet one outside rain, or another one in it. */
export const isInWrongWeather = (model: Model, { format, at }: Pick<Placed, 'format' | 'at'>): boolean => {
  const { kind, steps } = model.formats[format]
  if (kind !== 'pad' && kind !== 'wet-pad') return false
  let wet = 0
  for (let t = at; t < at + steps; t++) wet += model.rain[t]
  return kind === 'wet-pad' ? wet < steps : wet > 0
}

const wrongWeather = ({ model, sessions }: Board): number => {
  let wrong = 0
  for (const session of sessions) if (isInWrongWeather(model, session)) wrong++
  return wrong
}

export const noCosts = (): Costs => ({
  waiting: 0,
  otherInstructor: 0,
  wish: 0,
  leftOut: 0,
  moved: 0,
  rest: 0,
  unevenLoad: 0,
  groupChange: 0,
  unevenLaps: 0,
  wrongWeather: 0,
})

/** Sets all costs back to 0. */
export const clearCosts = (costs: Costs): Costs => {
  costs.waiting = 0
  costs.otherInstructor = 0
  costs.wish = 0
  costs.leftOut = 0
  costs.moved = 0
  costs.rest = 0
  costs.unevenLoad = 0
  costs.groupChange = 0
  costs.unevenLaps = 0
  costs.wrongWeather = 0
  return costs
}

/** All costs of a board. Cost: people times their sessions and steps. */
export const costsOf = (board: Board, announced: Announced | null): Costs => {
  const costs = noCosts()
  for (let s = 0; s < board.ofStudent.length; s++) studentCosts(board, s, announced, costs)
  for (let i = 0; i < board.ofInstructor.length; i++) instructorCosts(board, i, costs)
  commonCosts(board, costs)
  return costs
}
