import type { Circuit } from '../circuit/circuit.ts'
import { distanceAhead, wrapStation } from '../circuit/station.ts'
import type { LapTrace } from '../drive/lap-trace.ts'
import { TOUCH_G } from '../drive/trajectory.ts'
import type { Plan } from '../plan/plan.ts'
import { gripShareUsed, resistance } from '../profile/grip.ts'
import { loadsOn } from '../profile/path.ts'
import { type LapTimes, type Phases, phasesOf } from './phases.ts'
import { referencePlan } from './reference.ts'
import type { LapPiece } from './theoretical-best.ts'

/** Time by phase of each corner of a lap against any other, with the corners of the plan. */
export const phaseDifferences = (plan: Plan, driven: LapTimes, reference: LapTimes): { cornerId: string; phases_s: Phases }[] => {
  const { frames } = referencePlan(plan)
  return plan.corners.map((corner, k) => ({ cornerId: corner.id, phases_s: phasesOf(plan.circuit, frames, k, driven, reference) }))
}

/** Number of stations to each side over which speeds are compared: single steps are mostly noise. */
const REACH = 4

/**
 * The share of full dry grip that a lap used at each station: the tyres' ellipse at its own speed, path and slope,
 * as in plans. Noise of the log is in it; it is read as a curve, not as a number at one place.
 */
export const gripOfTrace = ({ circuit, vehicle }: Pick<Plan, 'circuit' | 'vehicle'>, trace: LapTrace): Float64Array => {
  const n = circuit.count
  const { speed_mps, kappa_1pm } = trace
  if (kappa_1pm.length !== n) return new Float64Array(0)
  const at = (i: number): number => (circuit.open ? Math.min(n - 1, Math.max(0, i)) : (i + n) % n)
  return Float64Array.from({ length: n }, (_, i) => {
    const [a, b] = [at(i - REACH), at(i + REACH)]
    const u = speed_mps[i] ** 2
    const loads = loadsOn(circuit, trace, vehicle, i)
    const along = (speed_mps[b] ** 2 - speed_mps[a] ** 2) / (2 * 2 * REACH * circuit.step_m)
    return gripShareUsed(vehicle, loads, along + resistance(vehicle, loads, u), u) || 0
  })
}

/** The ideal lap out of its pieces, as one lap: each stretch from the lap that it is taken from, with the time running on. */
export const splicedTrace = (circuit: Circuit, pieces: readonly LapPiece[], laps: ReadonlyMap<number, LapTrace>): LapTrace | null => {
  const [first] = pieces
  const any = first && laps.get(first.lap)
  if (!any || pieces.some((p) => !laps.has(p.lap))) return null
  const column = (name: 'speed_mps' | 'offset_m' | 'kappa_1pm' | 'wheel_1pm' | 'brake' | 'throttle'): Float64Array =>
    Float64Array.from(any[name], (_, i) => laps.get(pieceAt(circuit, pieces, i).lap)?.[name][i] ?? 0)
  const begins = pieces.map((_, k) => pieces.slice(0, k).reduce((sum, p) => sum + p.time_s, 0))
  const time_s = Float64Array.from(any.time_s, (_, i) => {
    const piece = pieceAt(circuit, pieces, i)
    const lapTime_s = laps.get(piece.lap)?.time_s ?? any.time_s
    return begins[pieces.indexOf(piece)] + lapTime_s[i] - lapTime_s[Math.round(piece.from_m / circuit.step_m)]
  })
  return {
    time_s,
    speed_mps: column('speed_mps'),
    offset_m: column('offset_m'),
    kappa_1pm: column('kappa_1pm'),
    wheel_1pm: column('wheel_1pm'),
    brake: column('brake'),
    throttle: column('throttle'),
    gear: Uint8Array.from(any.gear, (_, i) => laps.get(pieceAt(circuit, pieces, i).lap)?.gear[i] ?? 0),
    known: new Uint8Array(circuit.count).fill(1),
    lapTime_s: pieces.reduce((sum, p) => sum + p.time_s, 0),
  }
}

/** The piece in which a station lies. */
const pieceAt = (circuit: Circuit, pieces: readonly LapPiece[], i: number): LapPiece =>
  pieces.find((p) => i * circuit.step_m < p.to_m - 1e-6) ?? pieces[pieces.length - 1]

/** The brake of one pass from its first touch on: metres since it, and the demand (g). */
export type BrakeShape = { at_m: Float64Array; brake_g: Float64Array; peak_g: number; toPeak_s: number; onset_m: number }

/** Distance below a touch after which a shape ends (m). */
const LET_GO_M = 25

/** The shape of the brake before a place of a lap, aligned at its first touch; null where nobody braked within `from_m … to_m`. */
export const brakeShape = (circuit: Circuit, trace: LapTrace, { from_m, to_m }: { from_m: number; to_m: number }): BrakeShape | null => {
  const n = circuit.count
  const begin = Math.round(wrapStation(from_m, circuit.length_m) / circuit.step_m)
  const count = Math.round(distanceAhead(from_m, to_m, circuit.length_m) / circuit.step_m)
  const at = (k: number): number => (begin + k) % n
  let first = -1
  for (let k = 0; k < count && first < 0; k++) if (trace.brake[at(k)] > TOUCH_G) first = k
  if (first < 0) return null
  let last = first
  for (let k = first; k < count && k - last < LET_GO_M / circuit.step_m; k++) if (trace.brake[at(k)] > TOUCH_G) last = k
  const length = last - first + 2
  const brake_g = Float64Array.from({ length }, (_, k) => trace.brake[at(first + k)])
  const peak = brake_g.indexOf(Math.max(...brake_g))
  const time = (k: number): number => trace.time_s[at(first + k)]
  const toPeak_s = time(peak) - time(0)
  return {
    at_m: Float64Array.from({ length }, (_, k) => k * circuit.step_m),
    brake_g,
    peak_g: brake_g[peak],
    toPeak_s: toPeak_s < 0 ? toPeak_s + trace.lapTime_s : toPeak_s,
    onset_m: circuit.s_m[at(first)],
  }
}
