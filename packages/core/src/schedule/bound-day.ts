import { cheapestOf } from './cheapest-day.ts'
import type { DaySetup } from './setup.ts'
import { type Ground, groundOf, noPrices, type Prices, pricesOf, type Row } from './shared-means.ts'

/** What no plan can go below: the cost, and the rounds of prices it was found in. */
export type DayBound = { cost: number; rounds: number }

export type BoundOptions = {
  /** Cost of the best plan known, which tells how far prices may move. */
  above: number
  rounds?: number
  /** Asked after each round; true ends the search. */
  stop?: (bound: DayBound) => boolean
}

/** Rounds without gain after which prices move half as far. */
const PATIENCE = 40
const USUAL_ROUNDS = 900

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
