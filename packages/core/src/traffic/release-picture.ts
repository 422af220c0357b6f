import { stationAtTime } from '../plan/lap-time.ts'
import type { Plan } from '../plan/plan.ts'
import { SAFE_GAP_S } from './gaps.ts'
import type { Released } from './release.ts'

/** The first place where a car comes within the safe gap of another. `lap`: of the following car, the out lap being 1; `at_s`: since the first one went. */
export type Catch = { behindId: string; aheadId: string; at_s: number; lap: number; station_m: number }

/** Where a car is over the run: stations (m) at times (s) since the first one went. */
export type ReleasePath = { id: string; time_s: Float64Array; station_m: Float64Array }

/** Times at which cars are looked at (s): for the first catch, and for what one slow car does. */
const LOOK_S = 0.25
const SLACK_LOOK_S = 1
/** Cars that are slower than expected are looked at up to this share. */
const SLOWEST = 0.1
const SLACK_STEPS = 10

/** A car's laps driven at every look, with parts of a lap in time of the plan; NaN while it is not on the road. Each lap is shaped like the plan's. */
const lapsDriven = ({ lapTimes_s }: Released, start_s: number, looks: number, every_s: number): Float64Array => {
  const out = new Float64Array(looks).fill(Number.NaN)
  let lap = 0
  let began = start_s
  for (let k = Math.ceil(start_s / every_s - 1e-9); k < looks; k++) {
    const t = k * every_s
    while (lap < lapTimes_s.length && t >= began + lapTimes_s[lap]) began += lapTimes_s[lap++]
    if (lap >= lapTimes_s.length) break
    out[k] = lap + (t - began) / lapTimes_s[lap]
  }
  return out
}

const totalOf = ({ lapTimes_s }: Released): number => lapTimes_s.reduce((sum, t) => sum + t, 0)

/** First look at which one car is too near behind another, or -1. */
const firstNear = (behind: Released, own: Float64Array, other: Float64Array, safeGap_s: number): number => {
  const laps = behind.lapTimes_s.length
  for (let k = 0; k < own.length; k++) {
    const between = other[k] - own[k]
    if (Number.isNaN(between)) continue
    const share = between - Math.floor(between)
    const lap_s = behind.lapTimes_s[Math.min(laps - 1, Math.floor(own[k]))]
    // Who ends a run before reaching that place leaves the road in time.
    if (share * lap_s < safeGap_s && own[k] + share < laps) return k
  }
  return -1
}

type Paired = { behind: Released; ahead: Released; k: number; own: Float64Array }

const catchOf = (plan: Plan, { behind, ahead, k, own }: Paired, every_s: number): Catch => ({
  behindId: behind.id,
  aheadId: ahead.id,
  at_s: k * every_s,
  lap: 1 + Math.floor(own[k]),
  station_m: stationAtTime(plan, (own[k] % 1) * plan.profile.lapTime_s),
})

/** The first catch among pairs with one of the cars `of`, every car against every other. */
const firstOf = (
  plan: Plan,
  order: readonly Released[],
  laps: readonly Float64Array[],
  of: (i: number) => boolean,
  safeGap_s: number,
  every_s: number,
) => {
  let first: Paired | null = null
  for (let i = 0; i < order.length; i++)
    for (let j = 0; j < order.length; j++) {
      if (i === j || (!of(i) && !of(j))) continue
      const k = firstNear(order[i], laps[i], laps[j], safeGap_s)
      if (k >= 0 && (first === null || k < first.k)) first = { behind: order[i], ahead: order[j], k, own: laps[i] }
    }
  return first && catchOf(plan, first, every_s)
}

const looksOf = (order: readonly Released[], interval_s: number, every_s: number): number =>
  1 + Math.ceil(Math.max(0, ...order.map((car, k) => k * interval_s + totalOf(car))) / every_s)

/**
 * The first time that a released car comes too near behind another, with place and lap; null where nobody does. `order`: as they are
 * released, `interval_s` apart. Cost: cars² × length of the run, in quarters of a second.
 */
export const firstCatch = (plan: Plan, order: readonly Released[], interval_s: number, safeGap_s = SAFE_GAP_S): Catch | null => {
  const looks = looksOf(order, interval_s, LOOK_S)
  const laps = order.map((car, k) => lapsDriven(car, k * interval_s, looks, LOOK_S))
  return firstOf(plan, order, laps, () => true, safeGap_s, LOOK_S)
}

/** Where every car is over the run, to draw it. `every_s`: between two points. Cost: cars × points. */
export const releasePaths = (plan: Plan, order: readonly Released[], interval_s: number, every_s = 2): ReleasePath[] => {
  const looks = looksOf(order, interval_s, every_s)
  return order.map((car, k) => {
    const laps = lapsDriven(car, k * interval_s, looks, every_s)
    const on = Array.from(laps.keys()).filter((i) => !Number.isNaN(laps[i]))
    return {
      id: car.id,
      time_s: Float64Array.from(on, (i) => i * every_s),
      station_m: Float64Array.from(on, (i) => stationAtTime(plan, (laps[i] % 1) * plan.profile.lapTime_s)),
    }
  })
}

/** What one slow car does: `share`: how much slower than expected any one car may be; `catch`: what happens first beyond that, where it does within a tenth. */
export type Slack = { share: number; slowId: string | null; catch: Catch | null }

/** How much slower than expected any single car may drive before somebody comes too near. Cost: cars² × ten × seconds of the run. */
export const slackOf = (plan: Plan, order: readonly Released[], interval_s: number, safeGap_s = SAFE_GAP_S): Slack => {
  const looks = looksOf(order, interval_s, SLACK_LOOK_S) + Math.ceil((SLOWEST * Math.max(0, ...order.map(totalOf))) / SLACK_LOOK_S)
  const laps = order.map((car, k) => lapsDriven(car, k * interval_s, looks, SLACK_LOOK_S))
  for (let step = 1; step <= SLACK_STEPS; step++) {
    const share = (SLOWEST * step) / SLACK_STEPS
    let worst: { slowId: string; caught: Catch } | null = null
    for (const [i, car] of order.entries()) {
      const slow = { ...car, lapTimes_s: car.lapTimes_s.map((t) => t * (1 + share)) }
      const others = order.with(i, slow)
      const caught = firstOf(
        plan,
        others,
        laps.with(i, lapsDriven(slow, i * interval_s, looks, SLACK_LOOK_S)),
        (k) => k === i,
        safeGap_s,
        SLACK_LOOK_S,
      )
      if (caught && (worst === null || caught.at_s < worst.caught.at_s)) worst = { slowId: car.id, caught }
    }
    if (worst) return { share: share - SLOWEST / SLACK_STEPS, slowId: worst.slowId, catch: worst.caught }
  }
  return { share: SLOWEST, slowId: null, catch: null }
}

/** Past drives further from the plan than this say little of the next one. */
const QUICKEST = 0.85
const SLOWEST_LAP = 1.6

/** Whether a past drive says something of the next one: its quickest lap is near enough to its plan. */
export const tellsOfPace = ({ best_s, plan_s }: { best_s: number; plan_s: number }): boolean =>
  best_s >= QUICKEST * plan_s && best_s <= SLOWEST_LAP * plan_s

/**
 * What a driver needs for a lap of which the plan says `plan_s`, by how their quickest laps were to the plans of their drives; the median
 * of them. Null where no drive says anything.
 */
export const predictedLap_s = (plan_s: number, past: readonly { best_s: number; plan_s: number }[]): number | null => {
  const shares = past
    .filter(tellsOfPace)
    .map((p) => p.best_s / p.plan_s)
    .sort((a, b) => a - b)
  if (shares.length === 0) return null
  const middle = Math.floor(shares.length / 2)
  return plan_s * (shares.length % 2 === 1 ? shares[middle] : (shares[middle - 1] + shares[middle]) / 2)
}
