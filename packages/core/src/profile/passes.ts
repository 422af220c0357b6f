import type { Circuit } from '../circuit/circuit.ts'
import type { Line } from '../path/line.ts'
import { maxEngineForce } from '../vehicle/engine.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { brakeLimit, driveLimit, type GripShare, resistance } from './grip.ts'
import { loadsOn, stepOn } from './path.ts'

/** Input of a local pass: the path, the vehicle, and the grip at each station. `throttle`: share of what the engine gives, all of it by default. */
export type PassInput = { circuit: Circuit; line: Line; vehicle: Vehicle; grip: readonly GripShare[]; throttle?: number }

const roadAt = ({ circuit, line, vehicle }: PassInput, i: number) => loadsOn(circuit, line, vehicle, i)
const stepAt = ({ circuit, line }: PassInput, i: number): number => stepOn(circuit, line, i)

/**
 * Drives on from a station at a given speed with all the drive that grip and throttle allow, never above a ceiling: speeds
 * (m/s) at `count` + 1 stations from `from` on. Heun's step in v², as in the profile.
 */
export const rollForward = (input: PassInput, from: number, speed_mps: number, ceiling_mps: Float64Array, count: number): Float64Array => {
  const n = input.circuit.count
  const out = new Float64Array(count + 1)
  out[0] = Math.min(speed_mps, ceiling_mps[from])
  for (let k = 0; k < count; k++) {
    const i = (from + k) % n
    const j = (i + 1) % n
    const net = (at: number, u: number): number => {
      const road = roadAt(input, at)
      const engine = (input.throttle ?? 1) * maxEngineForce(input.vehicle, Math.sqrt(Math.max(u, 1e-6)))
      return Math.min(driveLimit(input.vehicle, road, u, input.grip[at]), engine) - resistance(input.vehicle, road, u)
    }
    const step = stepAt(input, i)
    const u = out[k] ** 2
    const first = net(i, u)
    const guess = Math.max(0.25, u + 2 * step * first)
    out[k + 1] = Math.min(ceiling_mps[j], Math.sqrt(Math.max(0.25, u + step * (first + net(j, guess)))))
  }
  return out
}

/** Brakes forward from a station with all that the grip allows: speeds (m/s) at `count` + 1 stations, 0 where it stands. */
export const brakeForward = (input: PassInput, from: number, speed_mps: number, count: number): Float64Array => {
  const n = input.circuit.count
  const out = new Float64Array(count + 1)
  out[0] = speed_mps
  for (let k = 0; k < count && out[k] > 0; k++) {
    const i = (from + k) % n
    const road = roadAt(input, i)
    const u = out[k] ** 2
    const net = brakeLimit(input.vehicle, road, u, input.grip[i]) + resistance(input.vehicle, road, u)
    out[k + 1] = Math.sqrt(Math.max(0, u - 2 * stepAt(input, i) * net))
  }
  return out
}

/**
 * The last place from which full braking still brings a vehicle down to a speed at a station: how far (m) before that
 * station the braking curve meets the speeds of a profile, at most `most` stations back; null where it never does.
 */
export const latestBraking = (input: PassInput, at: number, speed_mps: number, planned_mps: Float64Array, max: number): number | null => {
  const n = input.circuit.count
  let u = speed_mps ** 2
  let back_m = 0
  for (let k = 1; k <= max; k++) {
    const to = (at - k + n) % n
    const from = (to + 1) % n
    const net = (i: number, value: number): number => {
      const road = roadAt(input, i)
      return brakeLimit(input.vehicle, road, value, input.grip[i]) + resistance(input.vehicle, road, value)
    }
    const step = stepAt(input, to)
    const first = net(from, u)
    const next = u + step * (first + net(to, u + 2 * step * Math.max(0, first)))
    const here = planned_mps[from] ** 2
    const there = planned_mps[to] ** 2
    if (next >= there && (u < here || k > 1)) {
      // The curves cross between the two stations.
      const gap = here - u
      const share = gap + (next - there) > 0 ? gap / (gap + (next - there)) : 0
      return back_m + step * Math.min(1, Math.max(0, share))
    }
    u = next
    back_m += step
  }
  return null
}
