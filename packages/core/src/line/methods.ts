import type { Circuit } from '../circuit/circuit.ts'
import type { Corner } from '../circuit/corners.ts'
import { distanceAhead, stationIndex } from '../circuit/station.ts'
import type { Line } from '../path/line.ts'
import { findTurnings, innerDistance } from '../path/turning.ts'
import type { GripShare } from '../profile/grip.ts'
import { solveProfile } from '../profile/solve-profile.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { alwaysClosed, DEFAULT_MARGIN_M, type LineConstraints, type OffsetBounds, offsetBounds } from './bounds.ts'
import { type FastestOptions, fastestLine } from './fastest.ts'
import type { LineMethod } from './line-method.ts'
import { shortestLine } from './shortest.ts'
import { smoothestLine } from './smoothest.ts'

/**
 * What a line is solved for. `lateShare`: how far `late` moves each apex downstream, as a share of the corner's length.
 * `perMetre_s`: what `compact` pays for a metre of path. `onStep` hears the step and may return false to stop.
 */
export type LineWish = LineConstraints & {
  method: LineMethod
  grip: GripShare | readonly GripShare[]
  margin_m?: number | undefined
  lateShare?: number | undefined
  perMetre_s?: number | undefined
  /** Most speed at the start of an open course. */
  entry_mps?: number | undefined
  onStep?: ((step: number) => boolean | undefined) | undefined
}

/** Share of the corner's length by which `late` moves the apex downstream. */
const LATE_SHARE = 0.12
/** Price of a metre for `compact` (s): 40 m of detour have to buy more than 0.8 s. A kart’s tracks are short and slow: there a metre weighs more. */
const COMPACT_PER_METRE_S = { usual: 0.02, kart: 0.1 } as const

/** What `compact` pays for a metre of path (s): what is set, else by kind of vehicle. */
export const metrePrice_s = ({ kind }: Pick<Vehicle, 'kind'>, set: number | undefined): number =>
  set ?? COMPACT_PER_METRE_S[kind === 'kart' ? 'kart' : 'usual']
/** The fastest line begins at this speed at least: from rest its own time would be without bounds (m/s). */
const MIN_ENTRY_MPS = 3
/** `late`: within this distance of the kerb an apex is one (m); before it the line closes in at this slope. */
const APEX_NEAR_M = 1.5
const LATE_SLOPE = 0.008
/** … and touches the inner edge this closely at the later apex (m). */
const LATE_REACH_M = 0.1
const LATE_ROOM = 0.45
/** `wet`: where the dry line runs this near to the inner edge, its rubber is avoided by this much (m). */
const RUBBER_NEAR_M = 3.5
const RUBBER_CLEAR_M = 1.8
const WET_EXTRA_MARGIN_M = 0.3

/**
 * The line of a method for a vehicle on a circuit, within edges, bands, lanes and pins.
 * @throws CoreError 'line-no-road' where nothing is left of the road, 'lap-not-drivable' where no slow lap exists
 */
export const solveLine = (circuit: Circuit, corners: readonly Corner[], vehicle: Vehicle, wish: LineWish): Line => {
  const margin_m = (wish.margin_m ?? vehicle.margin_m ?? DEFAULT_MARGIN_M) + (wish.method === 'wet' ? WET_EXTRA_MARGIN_M : 0)
  const closed = wish.method === 'wet' ? [...alwaysClosed, 'paint' as const] : alwaysClosed
  const bounds = offsetBounds(circuit, vehicle.width_m, margin_m, { closed, ...wish })
  const onStep = wish.onStep ? { onStep: wish.onStep } : {}
  if (wish.method === 'shortest') return shortestLine(circuit, bounds)
  const smoothest = smoothestLine(circuit, bounds, onStep).line
  if (wish.method === 'smoothest') return smoothest
  const options: FastestOptions = { ...onStep, start: smoothest, entry_mps: Math.max(wish.entry_mps ?? 0, MIN_ENTRY_MPS) }
  if (wish.method === 'compact') options.perMetre_s = metrePrice_s(vehicle, wish.perMetre_s)
  const solved = fastestLine(circuit, vehicle, wish.grip, bounds, options).line
  if (wish.method === 'compact') return solved
  // The solver stops close to its optimum; where the smoothest line is the quicker one after all, that is the fast line.
  const fast = quicker(circuit, vehicle, wish, solved, smoothest)
  if (wish.method === 'fast') return fast
  const narrowed =
    wish.method === 'late'
      ? lateBounds(circuit, corners, bounds, fast, wish.lateShare ?? LATE_SHARE)
      : wetBounds(circuit, corners, bounds, fast)
  return fastestLine(circuit, vehicle, wish.grip, narrowed, { ...options, start: smoothestLine(circuit, narrowed).line }).line
}

/** The quicker one of two lines by their own profiles; the first where they are alike. */
const quicker = (circuit: Circuit, vehicle: Vehicle, { grip, entry_mps }: LineWish, first: Line, second: Line): Line => {
  const columns = 'brake' in grip ? new Array<GripShare>(circuit.count).fill(grip) : grip
  const time = (line: Line): number =>
    solveProfile(circuit, line, vehicle, { grip: [...columns], entry_mps: Math.max(entry_mps ?? 0, MIN_ENTRY_MPS) }).lapTime_s
  return time(second) < time(first) ? second : first
}

/** Keeps a vehicle at least a distance (m) from a corner's inner edge at a station, never taking more than a share of the room. */
const holdOff = (circuit: Circuit, bounds: OffsetBounds, side: Corner['side'], i: number, distance_m: number, max: number): void => {
  const room = bounds.high_m[i] - bounds.low_m[i]
  if (side === 'left') {
    const limit = Math.max(circuit.widthLeft_m[i] - distance_m, bounds.high_m[i] - max * room)
    bounds.high_m[i] = Math.min(bounds.high_m[i], limit)
  } else {
    const limit = Math.min(distance_m - circuit.widthRight_m[i], bounds.low_m[i] + max * room)
    bounds.low_m[i] = Math.max(bounds.low_m[i], limit)
  }
}

/** Bounds that let the line reach the inner edge only at the later apex: before it the entry is a wedge. */
const lateBounds = (circuit: Circuit, corners: readonly Corner[], bounds: OffsetBounds, fast: Line, share: number): OffsetBounds => {
  const late = { low_m: Float64Array.from(bounds.low_m), high_m: Float64Array.from(bounds.high_m) }
  const turnings = findTurnings(circuit, corners, fast)
  corners.forEach((corner, k) => {
    const { apex, turnIn } = turnings[k]
    const edge = innerDistance(circuit, corner, fast.offset_m[apex], apex)
    if (edge > APEX_NEAR_M + 1) return
    const next = turnings[(k + 1) % turnings.length]
    const extent_m = distanceAhead(corner.start_m, corner.end_m, circuit.length_m)
    const room_m = distanceAhead(circuit.s_m[apex], circuit.s_m[next.turnIn], circuit.length_m) / 2
    const target = stationIndex(circuit, circuit.s_m[apex] + Math.min(share * extent_m, room_m))
    for (let i = turnIn; i !== target; i = (i + 1) % circuit.count) {
      const before_m = distanceAhead(circuit.s_m[i], circuit.s_m[target], circuit.length_m)
      holdOff(circuit, late, corner.side, i, edge + LATE_SLOPE * before_m, LATE_ROOM)
    }
    if (corner.side === 'left') late.low_m[target] = Math.max(late.low_m[target], circuit.widthLeft_m[target] - edge - LATE_REACH_M)
    else late.high_m[target] = Math.min(late.high_m[target], edge + LATE_REACH_M - circuit.widthRight_m[target])
  })
  return late
}

/** Bounds that keep off the band where the dry line runs along the inside of each corner. */
const wetBounds = (circuit: Circuit, corners: readonly Corner[], bounds: OffsetBounds, dry: Line): OffsetBounds => {
  const wet = { low_m: Float64Array.from(bounds.low_m), high_m: Float64Array.from(bounds.high_m) }
  const turnings = findTurnings(circuit, corners, dry)
  corners.forEach((corner, k) => {
    const { turnIn, exit, apex } = turnings[k]
    const end = exit ?? (apex + Math.round(20 / circuit.step_m)) % circuit.count
    for (let i = turnIn; i !== end; i = (i + 1) % circuit.count) {
      const inner = innerDistance(circuit, corner, dry.offset_m[i], i)
      if (inner < RUBBER_NEAR_M) holdOff(circuit, wet, corner.side, i, inner + RUBBER_CLEAR_M, 0.6)
    }
  })
  return wet
}
