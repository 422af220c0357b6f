import type { Circuit } from '../circuit/circuit.ts'
import type { Plan } from '../plan/plan.ts'
import { GRAVITY_MPS2 } from '../units/constants.ts'
import { maxEngineForce } from '../vehicle/engine.ts'
import type { Mounting } from './accelerometer.ts'

/**
 * Pedals, wheel and gear as they were recorded (or at the grid's places where they are derived), in columns of equal length
 * with rising time and distance. `brake_g` and `drive_g` are demands in g; `throttle` is a share of pedal travel; `wheel_1pm`
 * is the curvature that the wheel's angle stands for, positive to the left; `gear` is null where it is not known.
 */
export type DriverInputs = {
  time_s: Float64Array
  travel_m: Float64Array
  brake_g: Float64Array
  drive_g: Float64Array
  throttle: Float64Array
  wheel_1pm: Float64Array
  gear: Float64Array | null
}

/**
 * A path driven or planned along a circuit, over time. Columns on an even grid of travelled distance: entry i lies at station
 * `first + i` counted from the line of lap 0 (below 0 before it), `step_m` apart as the circuit's stations are. `known` is 0
 * where a log was silent.
 */
export type Trajectory = {
  step_m: number
  count: number
  first: number
  time_s: Float64Array
  speed_mps: Float64Array
  offset_m: Float64Array
  kappa_1pm: Float64Array
  known: Uint8Array
  inputs: DriverInputs
  /** Demand above which each pedal counts as touched (g). */
  brakeTouch_g: number
  driveTouch_g: number
  /** Demand below which there is neither brake nor drive (g); derived demands of a rolling car are less certain. */
  idle_g: number
  demands: Demands
}

/** What brake and drive demands were read off, and by how much they err (g, 1σ); `mounting` of an accelerometer. */
export type Demands = { source: 'pedals' | 'accelerations' | 'speed'; noise_g: number; mounting?: Mounting }

/** Demand that counts as a touch (g). */
export const TOUCH_G = 0.05
/** Holding speed needs more than this (g). */
export const IDLE_G = 0.02

/** Index of the first entry of a rising column at or above a value. */
export const firstAtOrAbove = (column: Float64Array, value: number): number => {
  let low = 0
  let high = column.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (column[middle] < value) low = middle + 1
    else high = middle
  }
  return low
}

/** A grid column at a travelled distance, linear between entries; the ends carry on. */
export const atTravel = (trajectory: Trajectory, column: Float64Array, travel_m: number): number => {
  const position = Math.min(Math.max(travel_m / trajectory.step_m - trajectory.first, 0), column.length - 1)
  const i = Math.min(Math.floor(position), column.length - 2)
  const share = position - i
  return column[i] * (1 - share) + column[i + 1] * share
}

/** Grid indices of the entries from one travelled distance to another, both ends within the grid. */
export const gridSpan = (trajectory: Trajectory, from_m: number, to_m: number): { from: number; to: number } => ({
  from: Math.max(0, Math.ceil(from_m / trajectory.step_m - trajectory.first - 1e-9)),
  to: Math.min(trajectory.time_s.length - 1, Math.floor(to_m / trajectory.step_m - trajectory.first + 1e-9)),
})

/** True if a trajectory covers a stretch without a data gap. */
export const isKnown = (trajectory: Trajectory, from_m: number, to_m: number): boolean => {
  if (
    from_m < trajectory.first * trajectory.step_m - trajectory.step_m ||
    to_m > (trajectory.first + trajectory.time_s.length) * trajectory.step_m
  )
    return false
  const { from, to } = gridSpan(trajectory, from_m, to_m)
  for (let i = from; i <= to; i++) if (trajectory.known[i] === 0) return false
  return true
}

/** A plan as a trajectory of three laps, −1 to 1, so that every corner of lap 0 has its approach and its exit. */
export const trajectoryOfPlan = (plan: Plan): Trajectory => {
  const { line, profile, vehicle, circuit } = plan
  const laps = [-1, 0, 1]
  const unroll = (column: ArrayLike<number>, shift = 0): Float64Array =>
    Float64Array.from({ length: 3 * circuit.count }, (_, i) => column[i % circuit.count] + shift * laps[Math.floor(i / circuit.count)])
  const time_s = unroll(profile.time_s, profile.lapTime_s)
  const demand_g = profile.ax_mps2.map((a) => a / GRAVITY_MPS2)
  const kappa_1pm = unroll(line.kappa_1pm)
  return {
    step_m: circuit.step_m,
    count: circuit.count,
    first: -circuit.count,
    time_s,
    speed_mps: unroll(profile.speed_mps),
    offset_m: unroll(line.offset_m),
    kappa_1pm,
    known: new Uint8Array(3 * circuit.count).fill(1),
    inputs: {
      time_s,
      travel_m: Float64Array.from(time_s, (_, i) => (i - circuit.count) * circuit.step_m),
      brake_g: unroll(demand_g.map((a) => Math.max(0, -a))),
      drive_g: unroll(demand_g.map((a) => Math.max(0, a))),
      throttle: unroll(profile.ax_mps2.map((a, i) => Math.min(1, Math.max(0, a) / maxEngineForce(vehicle, profile.speed_mps[i])))),
      wheel_1pm: kappa_1pm,
      gear: unroll(Array.from(profile.gear)),
    },
    brakeTouch_g: TOUCH_G,
    driveTouch_g: TOUCH_G,
    idle_g: IDLE_G,
    demands: { source: 'pedals', noise_g: 0 },
  }
}

/** The station index on the circuit of a grid entry. */
export const stationOf = (circuit: Circuit, trajectory: Trajectory, i: number): number => {
  const at = (trajectory.first + i) % circuit.count
  return at < 0 ? at + circuit.count : at
}

/** The curvature that a wheel's angle stands for, at a travelled distance (1/m). */
export const wheelAt = (trajectory: Trajectory, travel_m: number): number => {
  const { travel_m: column, wheel_1pm } = trajectory.inputs
  const i = Math.min(Math.max(1, firstAtOrAbove(column, travel_m)), column.length - 1)
  const gap = column[i] - column[i - 1]
  const share = gap > 0 ? Math.min(1, Math.max(0, (travel_m - column[i - 1]) / gap)) : 1
  return wheel_1pm[i - 1] + share * (wheel_1pm[i] - wheel_1pm[i - 1])
}

/** Time (s) that a trajectory takes between two travelled distances; 0 where they are in the wrong order. */
export const timeOn = (trajectory: Trajectory, from_m: number, to_m: number): number =>
  Math.max(0, atTravel(trajectory, trajectory.time_s, to_m) - atTravel(trajectory, trajectory.time_s, from_m))
