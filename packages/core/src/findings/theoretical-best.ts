import type { Circuit } from '../circuit/circuit.ts'
import { wrapStation } from '../circuit/station.ts'
import type { LapTrace } from '../drive/lap-trace.ts'

/** A piece of an ideal lap: which lap it is taken from, over which stretch (m), and the time it takes (s). */
export type LapPiece = { lap: number; from_m: number; to_m: number; time_s: number }

/**
 * The theoretical best lap: the quickest lap that can be put together out of pieces really driven, where one piece joins the next
 * in speed and in place; and the quickest lap itself.
 */
export type TheoreticalBest = { ideal_s: number; best_s: number; pieces: LapPiece[] }

/** Pieces join where speed and place differ by no more than a driver would not notice. */
const JOINS = { speed_mps: 0.8, offset_m: 1.2 } as const

/** Time from the line to a station of a lap (s). */
const timeTo = (circuit: Circuit, trace: LapTrace, i: number): number => (i >= circuit.count ? trace.lapTime_s : trace.time_s[i])

/**
 * Joins the ideal lap at given stations (m, where corners begin), by the shortest path through laps and stretches (dynamic
 * programming: at each join the best time of arriving in each lap). Laps with a data gap are left out. Null where there are
 * fewer than two. Cost: stretches × laps².
 */
export const idealLap = (
  circuit: Circuit,
  laps: readonly { lap: number; trace: LapTrace }[],
  begins_m: readonly number[],
): TheoreticalBest | null => {
  const whole = laps.filter(({ trace }) => trace.known.every((k) => k === 1))
  if (whole.length < 2) return null
  const inner = [...new Set(begins_m.map((m) => Math.round(wrapStation(m, circuit.length_m) / circuit.step_m)))]
    .filter((i) => i > 5 && i < circuit.count - 5)
    .sort((a, b) => a - b)
  const joins = [0, ...inner, circuit.count]
  const piece = (k: number, at: number): number => {
    const { trace } = whole[k]
    return timeTo(circuit, trace, joins[at + 1]) - timeTo(circuit, trace, joins[at])
  }
  const fits = (a: number, b: number, at: number): boolean =>
    Math.abs(whole[a].trace.speed_mps[joins[at]] - whole[b].trace.speed_mps[joins[at]]) < JOINS.speed_mps &&
    Math.abs(whole[a].trace.offset_m[joins[at]] - whole[b].trace.offset_m[joins[at]]) < JOINS.offset_m
  let best = whole.map((_, k) => piece(k, 0))
  const from: number[][] = []
  for (let at = 1; at + 1 < joins.length; at++) {
    const before = whole.map((_, k) => whole.reduce((min, _one, j) => ((j === k || fits(j, k, at)) && best[j] < best[min] ? j : min), k))
    best = whole.map((_, k) => best[before[k]] + piece(k, at))
    from.push(before)
  }
  let k = best.indexOf(Math.min(...best))
  const ideal_s = best[k]
  const chosen = [k]
  for (let at = from.length - 1; at >= 0; at--) {
    k = from[at][k]
    chosen.unshift(k)
  }
  const pieces = chosen.map((chosenLap, at) => ({
    lap: whole[chosenLap].lap,
    from_m: joins[at] * circuit.step_m,
    to_m: joins[at + 1] * circuit.step_m,
    time_s: piece(chosenLap, at),
  }))
  return { ideal_s, best_s: Math.min(...whole.map(({ trace }) => trace.lapTime_s)), pieces }
}
