import type { Circuit } from '../circuit/circuit.ts'
import type { Corner } from '../circuit/corners.ts'
import { distanceAhead, stationIndex } from '../circuit/station.ts'

/** Turn-in, apex and exit of a path within one corner, as station indices (0 … count−1). */
export type Turning = { turnIn: number; apex: number; exit: number | null; peakKappa_1pm: number }

/** The part of a path that shows where it turns: offset and plan curvature at the circuit's stations. */
export type PathColumns = { offset_m: Float64Array; kappa_1pm: Float64Array }

/** Share of the peak curvature at which turning begins (handbook definition). */
export const TURN_IN_SHARE = 0.2
/** The exit exists only where the path comes this near to the outer edge (m). */
export const EXIT_NEAR_M = 2.2
/** An apex that follows the kerb is the middle of the stretch this near to the least distance (m). */
const APEX_FLAT_M = 0.03
/** The exit is the first place this near to the least distance to the outer edge (m). */
const EXIT_FLAT_M = 0.05

/** Distance (m) from the path to the inner edge of a corner at a station; negative when over it. */
export const innerDistance = (circuit: Circuit, corner: Pick<Corner, 'side'>, offset_m: number, i: number): number =>
  corner.side === 'left' ? circuit.widthLeft_m[i] - offset_m : circuit.widthRight_m[i] + offset_m

/** Distance (m) from the path to the outer edge of a corner at a station; negative when over it. */
export const outerDistance = (circuit: Circuit, corner: Pick<Corner, 'side'>, offset_m: number, i: number): number =>
  corner.side === 'left' ? circuit.widthRight_m[i] + offset_m : circuit.widthLeft_m[i] - offset_m

/** Distance before and after a corner's ends within which its path is searched (m); never past the neighbours' peaks. */
const REACH_M = 90

/** The stations from which a corner is looked at: from the previous corner's peak to the next one's, REACH_M at most. */
export const cornerReach = (circuit: Circuit, corners: readonly Corner[], k: number): { from: number; count: number } => {
  const corner = corners[k]
  const before = corners[(k - 1 + corners.length) % corners.length]
  const after = corners[(k + 1) % corners.length]
  const alone = corners.length === 1
  const length = circuit.length_m
  const back = alone ? REACH_M : Math.min(REACH_M, distanceAhead(before.peak_m, corner.start_m, length))
  const on = alone ? REACH_M : Math.min(REACH_M, distanceAhead(corner.end_m, after.peak_m, length))
  const extent = Math.min(back + distanceAhead(corner.start_m, corner.end_m, length) + on, length - circuit.step_m)
  return { from: stationIndex(circuit, corner.start_m - back), count: Math.max(3, Math.round(extent / circuit.step_m)) }
}

/**
 * Turn-in (curvature first above a fifth of the corner's peak), apex (least distance to the inner edge) and exit
 * (nearest to the outer edge after the apex and before the next turn-in) of a path in every corner.
 */
export const findTurnings = (circuit: Circuit, corners: readonly Corner[], path: PathColumns): Turning[] => {
  const bends = corners.map((_, k) => findBend(circuit, corners, k, path))
  return bends.map((bend, k) => {
    const next = bends[(k + 1) % bends.length]
    const untilNext = corners.length === 1 ? circuit.count : (next.turnIn - bend.apex + circuit.count) % circuit.count
    const reach = Math.min(untilNext, bend.reach)
    return { ...bend, exit: findExit(circuit, corners[k], bend.apex, reach, path.offset_m) }
  })
}

/** A turning without its exit; `reach`: stations after the apex that still belong to the corner. */
const findBend = (
  circuit: Circuit,
  corners: readonly Corner[],
  k: number,
  path: PathColumns,
): Omit<Turning, 'exit'> & { reach: number } => {
  const corner = corners[k]
  const { from, count } = cornerReach(circuit, corners, k)
  const sign = corner.side === 'left' ? 1 : -1
  const index = (j: number): number => (from + j) % circuit.count
  const kappa = (j: number): number => sign * path.kappa_1pm[index(j)]
  const firstOwn = Math.round(distanceAhead(circuit.s_m[from], corner.start_m, circuit.length_m) / circuit.step_m)
  const lastOwn = Math.round(distanceAhead(circuit.s_m[from], corner.end_m, circuit.length_m) / circuit.step_m)
  let peak = firstOwn
  for (let j = firstOwn; j <= Math.min(lastOwn, count - 1); j++) if (kappa(j) > kappa(peak)) peak = j
  const level = TURN_IN_SHARE * kappa(peak)
  let turnIn = peak
  while (turnIn > 0 && kappa(turnIn - 1) > level) turnIn--
  let last = peak
  while (last < count - 1 && kappa(last + 1) > level) last++
  const apex = flatLeast(turnIn, last, (j) => innerDistance(circuit, corner, path.offset_m[index(j)], index(j)))
  return {
    turnIn: index(turnIn),
    apex: index(apex),
    peakKappa_1pm: Math.max(kappa(peak), 1e-6),
    reach: count - apex,
  }
}

/**
 * Middle of the stretch around the least value of `distance` within which it stays almost flat. Where a double apex has two
 * such stretches the later one counts: the exit depends on it.
 */
const flatLeast = (first: number, last: number, distance: (j: number) => number): number => {
  let min = first
  for (let j = first; j <= last; j++) if (distance(j) < distance(min)) min = j
  const flat = (j: number): boolean => distance(j) < distance(min) + APEX_FLAT_M
  let high = last
  while (!flat(high)) high--
  let low = high
  while (low > first && flat(low - 1)) low--
  return Math.round((low + high) / 2)
}

const findExit = (circuit: Circuit, corner: Corner, apex: number, reach: number, offset_m: Float64Array): number | null => {
  const index = (j: number): number => (apex + j) % circuit.count
  const distance = (j: number): number => outerDistance(circuit, corner, offset_m[index(j)], index(j))
  let min = 0
  for (let j = 0; j < reach; j++) if (distance(j) < distance(min)) min = j
  if (distance(min) > EXIT_NEAR_M || min === 0) return null
  for (let j = 0; j < min; j++) if (distance(j) < distance(min) + EXIT_FLAT_M) return index(j)
  return index(min)
}
