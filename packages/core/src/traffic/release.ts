import { SAFE_GAP_S } from './gaps.ts'

/** Somebody to be released: the laps as they are expected, the out lap first (s). */
export type Released = { id: string; lapTimes_s: readonly number[] }

/** The first place where two cars would come too near: the following car's lap, counted from the out lap as 1. */
export type ReleaseConflict = { aheadId: string; behindId: string; lap: number; gap_s: number }

/** Order and interval of a release; `conflict`: what still goes wrong, or null. */
export type Release = { order: string[]; interval_s: number; conflict: ReleaseConflict | null }

/** Steps in which an interval is announced (s). */
const STEP_S = 5

const arrivals = (laps: readonly number[]): number[] => {
  const out = [0]
  for (const lap of laps) out.push(out[out.length - 1] + lap)
  return out
}

/**
 * The first conflict of a release in this order at this interval, or null. A gap changes evenly within a lap, so it is
 * least at the line: pairs are compared there, in the same lap and with one of them laps ahead. Cost: cars² × laps².
 */
export const releaseConflict = (order: readonly Released[], interval_s: number, safeGap_s = SAFE_GAP_S): ReleaseConflict | null => {
  const at = order.map(({ lapTimes_s }, k) => arrivals(lapTimes_s).map((t) => t + k * interval_s))
  let first: (ReleaseConflict & { at_s: number }) | null = null
  for (let i = 0; i < order.length; i++)
    for (let j = i + 1; j < order.length; j++)
      at[j].forEach((own_s, lapBehind) => {
        at[i].forEach((other, lapAhead) => {
          const gap_s = Math.abs(own_s - other)
          // Who ends a run at the line leaves the road there, and is not in the way of somebody who starts at it.
          const startsAsOtherEnds = (lapBehind === 0 && lapAhead === at[i].length - 1) || (lapAhead === 0 && lapBehind === at[j].length - 1)
          // Whoever was released first is first at the line in every lap, and last among those a lap behind.
          const passed = lapAhead <= lapBehind ? own_s < other : own_s > other
          if (startsAsOtherEnds || (gap_s >= safeGap_s && !passed)) return
          const [aheadId, behindId] = own_s >= other !== passed ? [order[i].id, order[j].id] : [order[j].id, order[i].id]
          const lap = Math.max(lapBehind, lapAhead)
          const at_s = Math.max(own_s, other)
          if (!first || at_s < first.at_s) first = { aheadId, behindId, lap, gap_s: passed ? 0 : gap_s, at_s }
        })
      })
  if (!first) return null
  const { at_s: _, ...conflict } = first as ReleaseConflict & { at_s: number }
  return conflict
}

/**
 * The best order (quickest first, so that gaps open) and the least interval, in steps of 5 s from `least_s`, for which no gap
 * closes under the safe gap within the run. Where none does, the least interval with the first conflict, in plain sight.
 */
export const planRelease = (cars: readonly Released[], { safeGap_s = SAFE_GAP_S, least_s = 10 } = {}): Release => {
  const total = (car: Released): number => car.lapTimes_s.reduce((sum, t) => sum + t, 0)
  const order = [...cars].sort((a, b) => total(a) / a.lapTimes_s.length - total(b) / b.lapTimes_s.length)
  const longest_s = Math.max(0, ...cars.flatMap((c) => c.lapTimes_s))
  const ids = order.map((c) => c.id)
  for (let interval_s = least_s; interval_s * (cars.length - 1) < longest_s || interval_s === least_s; interval_s += STEP_S)
    if (!releaseConflict(order, interval_s, safeGap_s)) return { order: ids, interval_s, conflict: null }
  return { order: ids, interval_s: least_s, conflict: releaseConflict(order, least_s, safeGap_s) }
}
