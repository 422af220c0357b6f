import type { Circuit } from '../circuit/circuit.ts'
import type { Corner } from '../circuit/corners.ts'
import { signedDistance } from '../circuit/station.ts'
import { LEAST_BRAKING_MPS, SLOWEST_PAST_APEX_M } from '../marks/marks.ts'
import { findTurnings, innerDistance, outerDistance, TURN_IN_SHARE, type Turning } from '../marks/turning.ts'
import type { LapTrace } from './lap-trace.ts'

/** Marks of one corner as a trace shows them; stations in m, null where there is none. */
export type CornerTrace = {
  brake_m: number | null
  turnIn_m: number | null
  apex_m: number
  slowest_m: number
  exit_m: number | null
  slowest_mps: number
  /** Least distance of the vehicle's middle to the inner edge (m). */
  apexInner_m: number
  /** Distance to the outer edge where the reference has its exit (m), the least within a stretch around it. */
  exitOuter_m: number | null
  turning: Turning
  /** Station index from which a brake belongs to this corner: the reference's apex of the corner before. */
  brakeFrom: number
}

/** Kept this long a pedal counts as touched (s). */
const TOUCH_KEPT_S = 0.1
/** Kept this long the curvature counts as turning (s). */
const TURN_KEPT_S = 0.5
/** Around the reference's marks a driven lap is searched this far (m). */
const SEARCH_M = { brake: 130, turnIn: 70, apex: 40, exit: 35 } as const

/** Marks of the reference itself in every corner. */
export const referenceCorners = (circuit: Circuit, corners: readonly Corner[], trace: LapTrace): CornerTrace[] => {
  const turnings = findTurnings(circuit, corners, trace)
  const reach = Math.round(SEARCH_M.brake / circuit.step_m)
  return turnings.map((turning, k) => {
    const before = turnings[(k - 1 + turnings.length) % turnings.length]
    const room = (turning.turnIn - before.apex + circuit.count) % circuit.count || circuit.count
    const brakeFrom = (turning.turnIn - Math.min(room, 2 * reach) + circuit.count) % circuit.count
    return measure(circuit, corners[k], trace, { turning, brakeFrom }, turning)
  })
}

/** Marks of a driven lap in the same corner, searched around the reference's. */
export const drivenCorner = (circuit: Circuit, corner: Corner, trace: LapTrace, reference: CornerTrace): CornerTrace =>
  measure(circuit, corner, trace, reference, null)

const measure = (
  circuit: Circuit,
  corner: Corner,
  trace: LapTrace,
  { turning: around, brakeFrom }: Pick<CornerTrace, 'turning' | 'brakeFrom'>,
  own: Turning | null,
): CornerTrace => {
  const n = circuit.count
  const back = (i: number, by_m: number): number => (i - Math.round(by_m / circuit.step_m) + n) % n
  const on = (i: number, by_m: number): number => (i + Math.round(by_m / circuit.step_m)) % n
  const stations = (from: number, to: number): number[] => {
    const out: number[] = []
    for (let i = from; i !== to && out.length < n; i = (i + 1) % n) out.push(i)
    return out
  }
  const least = (list: number[], value: (i: number) => number): number =>
    list.reduce((best, i) => (value(i) < value(best) ? i : best), list[0])
  const inner = (i: number): number => innerDistance(circuit, corner, trace.offset_m[i], i)
  const outer = (i: number): number => outerDistance(circuit, corner, trace.offset_m[i], i)

  const sign = corner.side === 'left' ? 1 : -1
  const level = TURN_IN_SHARE * around.peakKappa_1pm
  const turning = firstKept(
    circuit,
    trace,
    stations(back(around.turnIn, SEARCH_M.turnIn), around.apex),
    TURN_KEPT_S,
    (i) => sign * trace.kappa_1pm[i] > level,
  )
  const apexAt = own ? own.apex : least(stations(back(around.apex, SEARCH_M.apex), on(around.apex, SEARCH_M.apex)), inner)
  const slowestAt = least(stations(back(around.turnIn, 10), on(around.apex, SLOWEST_PAST_APEX_M)), (i) => trace.speed_mps[i])
  const exitAt = around.exit === null ? null : least(stations(back(around.exit, SEARCH_M.exit), on(around.exit, SEARCH_M.exit)), outer)
  const brakeAt = !brakesFor(trace, brakeFrom, slowestAt)
    ? null
    : firstKept(circuit, trace, brakeStretch(trace, brakeFrom, slowestAt), TOUCH_KEPT_S, (i) => trace.brake[i] > trace.brakeTouch)
  return {
    brake_m: brakeAt === null ? null : touchStation(circuit, trace.brake, trace.brakeTouch, brakeAt),
    turnIn_m: turning === null ? null : crossingStation(circuit, (i) => sign * trace.kappa_1pm[i], level, turning),
    apex_m: circuit.s_m[apexAt],
    slowest_m: circuit.s_m[slowestAt],
    exit_m: exitAt === null ? null : circuit.s_m[exitAt],
    slowest_mps: trace.speed_mps[slowestAt],
    apexInner_m: inner(apexAt),
    exitOuter_m: exitAt === null ? null : outer(exitAt),
    turning: around,
    brakeFrom,
  }
}

/** Whether speed is really taken off by the brake before the slowest point. */
const brakesFor = (trace: LapTrace, from: number, slowestAt: number): boolean => {
  const n = trace.brake.length
  let taken = 0
  for (let i = from; i !== slowestAt; i = (i + 1) % n)
    if (trace.brake[i] > trace.brakeTouch) taken += Math.max(0, trace.speed_mps[i] - trace.speed_mps[(i + 1) % n])
  return taken > LEAST_BRAKING_MPS
}

/** From the last place before the corner at which the throttle was open to the slowest point. */
const brakeStretch = (trace: LapTrace, from: number, slowestAt: number): number[] => {
  const n = trace.brake.length
  const out: number[] = []
  let braked = false
  for (let i = slowestAt; i !== from && out.length < n; i = (i - 1 + n) % n) {
    if (trace.brake[i] > trace.brakeTouch) braked = true
    else if (braked && trace.throttle[i] > 0.2) break
    out.push(i)
  }
  return out.reverse()
}

/** The first station of a list from which a condition holds for some time on end, or null. */
const firstKept = (circuit: Circuit, trace: LapTrace, list: number[], kept_s: number, holds: (i: number) => boolean): number | null => {
  for (const i of list) {
    if (!holds(i)) continue
    const need = Math.max(1, Math.ceil((kept_s * trace.speed_mps[i]) / circuit.step_m))
    let run = 0
    while (run < need && holds((i + run) % circuit.count)) run++
    if (run === need) return i
  }
  return null
}

/** Station at which a value passes a level between the given station and the one before, by linear interpolation. */
const crossingStation = (circuit: Circuit, value: (i: number) => number, level: number, at: number): number => {
  const before = (at - 1 + circuit.count) % circuit.count
  const rise = value(at) - value(before)
  const share = rise > 0 ? Math.min(1, Math.max(0, (value(at) - level) / rise)) : 0
  return (circuit.s_m[at] - share * circuit.step_m + circuit.length_m) % circuit.length_m
}

const touchStation = (circuit: Circuit, pedal: Float64Array, touch: number, at: number): number =>
  crossingStation(circuit, (i) => pedal[i], touch, at)

/** How much later (m, positive) a driven mark lies than the reference's. */
export const laterBy = (circuit: Circuit, driven_m: number, reference_m: number): number =>
  signedDistance(reference_m, driven_m, circuit.length_m)
