import { isWithin } from '../circuit/station.ts'
import { CoreError } from '../errors/errors.ts'
import type { Plan } from '../plan/plan.ts'

/** The row behind the leader in one lap: the first one drives directly behind. */
export type RotationLap = { lap: number; row: readonly string[] }

/**
 * Who drives where behind the leader, lap by lap: turns directly behind are equal, or differ by one lap where the laps
 * cannot be shared out evenly; the one who was directly behind drops to the end of the row. `every`: laps a turn takes at least,
 * where there are enough laps.
 * @throws CoreError 'rotation-size' for fewer than two or more than six students
 */
export const rotationTable = (students: readonly string[], laps: number, every = 1): RotationLap[] => {
  const k = students.length
  if (k < 2 || k > 6) throw new CoreError('rotation-size', 'students', { count: k })
  const cycles = Math.max(1, Math.floor(laps / (k * every)))
  const rows: RotationLap[] = []
  for (let cycle = 0; cycle < cycles; cycle++)
    for (let j = 0; j < k; j++) {
      const total = Math.floor(laps / k) + (j < laps % k ? 1 : 0)
      const turn = Math.floor(total / cycles) + (cycle < total % cycles ? 1 : 0)
      const row = [...students.slice(j), ...students.slice(0, j)]
      for (let t = 0; t < turn; t++) rows.push({ lap: rows.length + 1, row })
    }
  return rows
}

/**
 * The lap whose row is to be taken up at the rotation place of a lap. `share`: where on the lap that place lies, in time. A place in the
 * second half of the lap comes before the next lap, so its row is taken up there: turns then differ by half a lap at most from the table's.
 */
export const lapOfRotation = (lap: number, share: number): number => lap + (share > 0.5 ? 1 : 0)

/** Speed by which the car that drops back is slower while the others go by (m/s). */
const YIELD_MPS = 8
/** Length of a car, and room before and after it (m). */
const CAR_ROOM_M = 6

/**
 * Length of road (m) that a rotation takes: the first car drops back while the others close the distances `closing_m` to
 * it and go by, one after another, all at the going speed.
 */
export const rotationLength = (going_mps: number, closing_m: readonly number[]): number => {
  const relative_m = closing_m.reduce((sum, d) => sum + d + CAR_ROOM_M, 0)
  return (going_mps * relative_m) / YIELD_MPS
}

/** A stretch without corner or braking, with the slowest speed of the plan on it. */
export type Stretch = { from_m: number; length_m: number; going_mps: number }

/** Stretches of the lap without a corner and without braking, longest first. Cost: stations × corners. */
export const openStretches = (plan: Plan): Stretch[] => {
  const { circuit, corners, profile, turnings } = plan
  const n = circuit.count
  const open = Array.from({ length: n }, (_, i) => {
    const s_m = circuit.s_m[i]
    const cornering = corners.some(
      (c, k) =>
        isWithin(s_m, c.start_m, c.end_m, circuit.length_m) ||
        isWithin(s_m, circuit.s_m[turnings[k].turnIn], circuit.s_m[turnings[k].apex], circuit.length_m),
    )
    return !cornering && profile.ax_mps2[i] > -0.5
  })
  const start = open.indexOf(false)
  if (start < 0) return [{ from_m: 0, length_m: circuit.length_m, going_mps: profile.speed_mps.reduce((m, v) => Math.min(m, v)) }]
  const found: Stretch[] = []
  let first = -1
  let slowest = Number.POSITIVE_INFINITY
  for (let k = 0; k <= n; k++) {
    const i = (start + k) % n
    if (open[i] && k < n) {
      if (first < 0) first = k
      slowest = Math.min(slowest, profile.speed_mps[i])
    } else if (first >= 0) {
      found.push({ from_m: circuit.s_m[(start + first) % n], length_m: (k - first) * circuit.step_m, going_mps: slowest })
      first = -1
      slowest = Number.POSITIVE_INFINITY
    }
  }
  return found.sort((a, b) => b.length_m - a.length_m)
}

/** A stretch to rotate on: what it takes at the going speed, and what there is. `going_mps`: hold this there. */
export type RotationPlace = Stretch & { needed_m: number }

/** Slower than this nobody rotates on the road (m/s): it is done in the pit lane. */
const SLOWEST_MPS = 12

/**
 * Places where a train can rotate: stretches long enough for all cars to go by, the one with the most room to spare first. Gaps
 * shrink with speed (`gap_s` is constant), so a stretch too short at the plan's speed may do at a slower one; that speed is
 * then named.
 */
export const rotationPlaces = (plan: Plan, followers: number, gap_s: number): RotationPlace[] => {
  const needed = (going_mps: number): number =>
    rotationLength(
      going_mps,
      Array.from({ length: followers }, () => gap_s * going_mps),
    )
  return openStretches(plan)
    .flatMap((stretch): RotationPlace[] => {
      let going_mps = stretch.going_mps
      while (needed(going_mps) > stretch.length_m && going_mps > SLOWEST_MPS) going_mps -= 0.5
      if (needed(going_mps) > stretch.length_m) return []
      return [{ ...stretch, going_mps, needed_m: needed(going_mps) }]
    })
    .sort((a, b) => b.length_m - b.needed_m - (a.length_m - a.needed_m))
}
