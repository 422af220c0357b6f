import { atStation, distanceAhead, isWithin, signedDistance, stationIndex } from '../circuit/station.ts'
import { thresholds } from '../findings/thresholds.ts'
import { offsetBounds } from '../line/bounds.ts'
import { markOf } from '../marks/mark.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import type { Plan } from '../plan/plan.ts'

/** Raised cosine: 1 at 0, 0 from ±1 on. */
const bump = (x: number): number => (Math.abs(x) >= 1 ? 0 : (1 + Math.cos(Math.PI * x)) / 2)

/** One mistake of the path: changes the offsets (m) in place; false where the corner has nothing to get wrong in that way. */
type PathHabit = (plan: Plan, cornerId: string, size: number, offset_m: Float64Array) => boolean

/** Input for bending a path through one corner. */
const cornerPath = (plan: Plan, cornerId: string, offset_m: Float64Array) => {
  const { circuit, corners, marks } = plan
  const k = corners.findIndex((c) => c.id === cornerId)
  const at = (kind: 'turn-in' | 'apex' | 'exit'): number | undefined => markOf(marks, cornerId, kind)?.station_m
  const [turnIn_m, apex_m] = [at('turn-in'), at('apex')]
  if (k < 0 || turnIn_m === undefined || apex_m === undefined) return null
  const inward = corners[k].side === 'left' ? 1 : -1
  const between = (from_m: number, to_m: number, change: (i: number) => void): void => {
    const first = stationIndex(circuit, from_m)
    const count = Math.round(distanceAhead(from_m, to_m, circuit.length_m) / circuit.step_m)
    for (let j = 0; j <= count; j++) change((first + j) % circuit.count)
  }
  /** Pushes the path sideways around a place, fading over `back_m` before it and `on_m` after it. */
  const push = (centre_m: number, back_m: number, on_m: number, by_m: number): void =>
    between(centre_m - back_m, centre_m + on_m, (i) => {
      const along_m = signedDistance(centre_m, circuit.s_m[i], circuit.length_m)
      offset_m[i] += by_m * bump(along_m < 0 ? along_m / back_m : along_m / on_m)
    })
  /** Moves the path along the road: at each place it is what it was `later_m(along)` before. */
  const slide = (centre_m: number, back_m: number, on_m: number, later_m: (along_m: number) => number): void => {
    const before = Float64Array.from(offset_m)
    between(centre_m - back_m, centre_m + on_m, (i) => {
      const along_m = signedDistance(centre_m, circuit.s_m[i], circuit.length_m)
      offset_m[i] = atStation(circuit, before, circuit.s_m[i] - later_m(along_m))
    })
  }
  const gap = (from_m: number, to_m: number): number => distanceAhead(from_m, to_m, circuit.length_m)
  return { circuit, corner: corners[k], inward, turnIn_m, apex_m, exit_m: at('exit'), between, push, slide, gap }
}

/** A path that is pushed out of its apex needs this much road to get there (m). */
const MIN_FADE_M = 28

/** Turns in `later_m` later (negative: earlier), with the rest of the corner moved along with it. */
const turnInMoved =
  (direction: 1 | -1): PathHabit =>
  (plan, cornerId, size, offset_m) => {
    const path = cornerPath(plan, cornerId, offset_m)
    if (!path) return false
    const tail_m = path.gap(path.turnIn_m, path.apex_m) + 60
    path.slide(path.turnIn_m, 60, tail_m, (along_m) => {
      const share = along_m < -20 ? bump((along_m + 20) / 40) : along_m < tail_m - 60 ? 1 : bump((along_m - tail_m + 60) / 60)
      return direction * size * share
    })
    return true
  }

/** Moves the apex along the road, by a multiple of what is allowed there, and leaves the turn-in where it is. */
const apexMoved =
  (direction: 1 | -1): PathHabit =>
  (plan, cornerId, size, offset_m) => {
    const path = cornerPath(plan, cornerId, offset_m)
    if (!path) return false
    const back_m = path.gap(path.turnIn_m, path.apex_m)
    const on_m = path.exit_m === undefined ? back_m : path.gap(path.apex_m, path.exit_m)
    const by_m = size * Math.max(thresholds.apexPlace_m, thresholds.apexPlace * (back_m + on_m))
    const tail_m = on_m + 30
    // The road between must hold the move without a kink.
    if ((by_m * Math.PI) / 2 > 0.55 * Math.min(back_m, tail_m)) return false
    path.slide(path.apex_m, back_m, tail_m, (along_m) => direction * by_m * bump(along_m / (along_m < 0 ? back_m : tail_m)))
    return true
  }

const notched: PathHabit = (plan, cornerId, size, offset_m) => {
  const path = cornerPath(plan, cornerId, offset_m)
  if (!path) return false
  const { circuit, turnIn_m, apex_m, inward } = path
  const way_m = path.gap(turnIn_m, apex_m)
  if (way_m < 30) return false
  const peak_1pm = plan.turnings[plan.corners.findIndex((c) => c.id === cornerId)].peakKappa_1pm
  const wave_m = Math.min(30, Math.max(14, way_m / 3))
  const from_m = turnIn_m + 0.35 * way_m
  const swing_m = size * peak_1pm * (wave_m / (2 * Math.PI)) ** 2
  path.between(from_m, from_m + 1.5 * wave_m, (i) => {
    const along_m = signedDistance(from_m, circuit.s_m[i], circuit.length_m)
    offset_m[i] -= inward * swing_m * bump(along_m / (0.75 * wave_m) - 1) * Math.cos((2 * Math.PI * (along_m - 0.75 * wave_m)) / wave_m)
  })
  return true
}

/**
 * Path of each mistake of the line; sizes in metres, but a multiple of the allowance for the apex's place and a share of the
 * peak curvature for the wheel.
 */
export const pathHabits: Partial<Record<LogCode, PathHabit>> = {
  'turn-in-early': turnInMoved(-1),
  'turn-in-late': turnInMoved(1),
  'apex-early': apexMoved(-1),
  'apex-late': apexMoved(1),
  'setup-narrow': (plan, cornerId, size, offset_m) => {
    const path = cornerPath(plan, cornerId, offset_m)
    if (!path) return false
    // Where the plan itself still crosses the road at turn-in there is no place to be short of.
    const before_m = atStation(path.circuit, plan.line.offset_m, path.turnIn_m - 10)
    if (Math.abs(atStation(path.circuit, plan.line.offset_m, path.turnIn_m) - before_m) > 0.6) return false
    path.push(path.turnIn_m, 90, Math.max(30, 0.8 * path.gap(path.turnIn_m, path.apex_m)), path.inward * size)
    return true
  },
  'apex-missed': (plan, cornerId, size, offset_m) => {
    const path = cornerPath(plan, cornerId, offset_m)
    if (!path) return false
    // All of the stretch that keeps near the edge is missed, not its middle alone.
    const { circuit, corner, apex_m } = path
    const inner = (s_m: number): number =>
      atStation(circuit, corner.side === 'left' ? circuit.widthLeft_m : circuit.widthRight_m, s_m) -
      path.inward * atStation(circuit, plan.line.offset_m, s_m)
    const along = (direction: 1 | -1): number => {
      let by_m = 0
      while (by_m < 60 && inner(apex_m + direction * (by_m + 2)) < inner(apex_m) + 0.6) by_m += 2
      return by_m
    }
    const [back_m, on_m] = [along(-1), along(1)]
    // The turn-in stays what it was: where there is no room for that, nothing is made.
    const fade_m = Math.min(45, path.gap(path.turnIn_m, apex_m) - back_m - 8)
    if (fade_m < MIN_FADE_M) return false
    path.between(apex_m - back_m - fade_m, apex_m + on_m + 45, (i) => {
      const at_m = signedDistance(apex_m, circuit.s_m[i], circuit.length_m)
      offset_m[i] -= path.inward * size * (at_m < 0 ? bump(Math.max(0, -at_m - back_m) / fade_m) : bump(Math.max(0, at_m - on_m) / 45))
    })
    return true
  },
  'exit-wide': (plan, cornerId, size, offset_m) => {
    const path = cornerPath(plan, cornerId, offset_m)
    if (path?.exit_m === undefined) return false
    path.push(path.exit_m, 60, 60, -path.inward * size)
    return true
  },
  'exit-unused': (plan, cornerId, size, offset_m) => {
    const path = cornerPath(plan, cornerId, offset_m)
    if (path?.exit_m === undefined) return false
    path.push(path.exit_m, Math.max(40, path.gap(path.apex_m, path.exit_m)), 90, path.inward * size)
    return true
  },
  'limit-crossed': (plan, cornerId, size, offset_m) => {
    const path = cornerPath(plan, cornerId, offset_m)
    if (!path) return false
    const { circuit, corner, apex_m } = path
    const edge_m = atStation(circuit, corner.side === 'left' ? circuit.widthLeft_m : circuit.widthRight_m, apex_m)
    const now_m = path.inward * atStation(circuit, offset_m, apex_m)
    path.push(apex_m, 35, 35, path.inward * (edge_m - plan.vehicle.width_m / 2 + size - now_m))
    return true
  },
  'wrong-lane': (plan, cornerId, size, offset_m) => {
    const path = cornerPath(plan, cornerId, offset_m)
    if (!path) return false
    const { circuit, apex_m } = path
    const lane = plan.ground.find((item) => item.kind === 'lane' && isWithin(apex_m, item.from_m, item.to_m, circuit.length_m))
    if (!lane) return false
    const { low_m, high_m } = offsetBounds(circuit, plan.vehicle.width_m, 0, { ground: [lane] })
    const limit_m = atStation(circuit, path.inward > 0 ? low_m : high_m, apex_m)
    path.push(apex_m, 50, 50, limit_m - path.inward * size - atStation(circuit, offset_m, apex_m))
    return true
  },
  'too-much-road': (plan, cornerId, size, offset_m) => {
    const path = cornerPath(plan, cornerId, offset_m)
    if (!path || plan.settings.method !== 'compact') return false
    path.push(path.turnIn_m - 60, 60, 50, -path.inward * size)
    return true
  },
  'steer-notched': notched,
  'steer-pinched': (plan, cornerId, size, offset_m) => {
    const path = cornerPath(plan, cornerId, offset_m)
    if (!path) return false
    const peak_1pm = plan.turnings[plan.corners.findIndex((c) => c.id === cornerId)].peakKappa_1pm
    const reach_m = Math.min(40, Math.max(24, 0.6 * path.gap(path.turnIn_m, path.apex_m)))
    // A raised cosine of height h bends by h/2·(π/reach)² at its top, towards its inside at the ends: the path is pushed out first.
    path.push(path.apex_m + 0.8 * reach_m, reach_m, 1.6 * reach_m, -path.inward * size * peak_1pm * 2 * (reach_m / Math.PI) ** 2)
    return true
  },
}
