import type { Circuit } from '../circuit/circuit.ts'
import { CoreError } from '../errors/errors.ts'
import type { Line } from '../path/line.ts'
import { kmh } from '../units/convert.ts'
import { gearAt } from '../vehicle/gears.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { brakeLimit, corneringLimit, driveLimit, type GripShare, gripShareUsed, type Loads, resistance } from './grip.ts'
import { loadsOn, stepOn } from './path.ts'
import type { Profile } from './profile.ts'

/** Grip at each station, or one for the whole lap. `cap_mps`: a ceiling of speed at each station, Infinity for none. `entry_mps`: most speed at the start of an open course. */
export type ProfileInput = { grip: GripShare | readonly GripShare[]; cap_mps?: Float64Array; entry_mps?: number }
const limits = { maxLaps: 60, closing_mps: 1e-4, standing_mps: 0.5, ceiling_mps: 140 } as const
/**
 * Speed profile of a closed line, or of an open course from its start to its end: cornering limit at each station, then a backward (braking) and forward (drive) pass
 * with Heun's step in v², repeated round the lap until it closes (change of v below 1e-4 m/s).
 * Cost: linear in stations times the few laps needed to close.
 * @throws CoreError 'profile-leaves-ground' where the support vanishes below the cornering limit
 */
export const solveProfile = (circuit: Circuit, line: Line, vehicle: Vehicle, input: ProfileInput): Profile => {
  const n = circuit.count
  const grip = 'brake' in input.grip ? new Array<GripShare>(n).fill(input.grip) : input.grip
  const loads = new Array<Loads>(n)
  const u = new Float64Array(n)
  for (let i = 0; i < n; i++) {
    loads[i] = loadsOn(circuit, line, vehicle, i)
    const limit = corneringLimit(loads[i], grip[i].corner * vehicle.muY)
    u[i] = Math.min(Math.max(limit, limits.standing_mps), limits.ceiling_mps, input.cap_mps?.[i] ?? Number.POSITIVE_INFINITY) ** 2
  }
  if (circuit.open && input.entry_mps !== undefined) u[0] = Math.min(u[0], Math.max(input.entry_mps, limits.standing_mps) ** 2)
  const step = new Float64Array(n)
  for (let i = 0; i < n; i++) step[i] = stepOn(circuit, line, i)
  const slowest = u.indexOf(Math.min(...chunkedMinimum(u)))
  const open = circuit.open === true
  const outcome = closeLap(vehicle, loads, grip, u, step, open ? 0 : slowest, open)
  return describeProfile(circuit, vehicle, loads, u, step, outcome)
}

/** Minima of slices: spreading a long column into Math.min at once could overflow the stack. */
const chunkedMinimum = (column: Float64Array): number[] => {
  const out: number[] = []
  for (let i = 0; i < column.length; i += 4096) out.push(Math.min(...column.subarray(i, i + 4096)))
  return out
}

const closeLap = (
  vehicle: Vehicle,
  loads: Loads[],
  grip: readonly GripShare[],
  u: Float64Array,
  step: Float64Array,
  start: number,
  open: boolean,
): Pick<Profile, 'iterations' | 'termination'> => {
  const n = u.length
  const smallest = limits.standing_mps ** 2
  const driven = (i: number, at: number): number => driveLimit(vehicle, loads[i], at, grip[i]) - resistance(vehicle, loads[i], at)
  const braked = (i: number, at: number): number => brakeLimit(vehicle, loads[i], at, grip[i]) + resistance(vehicle, loads[i], at)
  for (let iteration = 1; iteration <= limits.maxLaps; iteration++) {
    let change = 0
    const lower = (i: number, value: number): void => {
      const bounded = Math.max(value, smallest)
      if (bounded >= u[i]) return
      change = Math.max(change, Math.sqrt(u[i]) - Math.sqrt(bounded))
      u[i] = bounded
    }
    // An open course is swept from end to end: nothing leads from its end to its start.
    for (let k = open ? 1 : 0; k < n; k++) {
      const to = (start - k - 1 + 2 * n) % n
      const from = to + 1 === n ? 0 : to + 1
      const first = braked(from, u[from])
      const guess = Math.min(u[to], u[from] + 2 * step[to] * Math.max(first, 0))
      lower(to, u[from] + step[to] * (first + braked(to, guess)))
    }
    for (let k = 0; k < (open ? n - 1 : n); k++) {
      const from = (start + k) % n
      const to = from + 1 === n ? 0 : from + 1
      const first = driven(from, u[from])
      const guess = Math.min(u[to], Math.max(smallest, u[from] + 2 * step[from] * first))
      lower(to, u[from] + step[from] * (first + driven(to, guess)))
    }
    if (change < limits.closing_mps) return { iterations: iteration, termination: 'converged' }
  }
  return { iterations: limits.maxLaps, termination: 'iteration-limit' }
}

const describeProfile = (
  circuit: Circuit,
  vehicle: Vehicle,
  loads: Loads[],
  u: Float64Array,
  step: Float64Array,
  outcome: Pick<Profile, 'iterations' | 'termination'>,
): Profile => {
  const n = u.length
  const profile: Profile = {
    speed_mps: u.map(Math.sqrt),
    ax_mps2: new Float64Array(n),
    ay_mps2: new Float64Array(n),
    time_s: new Float64Array(n),
    gear: new Uint8Array(n),
    gripUsed: new Float64Array(n),
    lapTime_s: 0,
    ...outcome,
  }
  for (let i = 0; i < n; i++) {
    const isEnd = circuit.open === true && i === n - 1
    const next = isEnd ? i : i + 1 === n ? 0 : i + 1
    const before = i === 0 ? (circuit.open ? 0 : n - 1) : i - 1
    const support = loads[i].n0 + loads[i].n1 * u[i]
    if (!(support > 0))
      throw new CoreError('profile-leaves-ground', `station ${Math.round(circuit.s_m[i])} m`, {
        speed_kmh: Math.round(kmh(profile.speed_mps[i])),
      })
    const acceleration = (u[next] - u[before]) / (2 * ((isEnd ? 0 : step[i]) + (before === i ? 0 : step[before])))
    const ax = acceleration + resistance(vehicle, loads[i], u[i])
    const ay = loads[i].y0 + loads[i].y1 * u[i]
    profile.ax_mps2[i] = ax
    profile.ay_mps2[i] = ay
    profile.gripUsed[i] = gripShareUsed(vehicle, loads[i], ax, u[i])
    profile.gear[i] = gearAt(vehicle, profile.speed_mps[i])
    profile.time_s[i] = profile.lapTime_s
    if (!isEnd) profile.lapTime_s += (2 * step[i]) / (profile.speed_mps[i] + profile.speed_mps[next])
  }
  return profile
}
