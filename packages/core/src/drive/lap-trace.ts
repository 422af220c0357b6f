import type { Circuit } from '../circuit/circuit.ts'
import type { Lap } from '../log/laps.ts'
import type { Plan } from '../plan/plan.ts'
import { atTravel, type Trajectory, trajectoryOfPlan, wheelAt } from './trajectory.ts'

/**
 * One lap at the circuit's stations, driven or planned, for charts and times. `time_s` is from the start line; `brake` is a
 * demand in g; `throttle` runs from 0 to 1 of pedal travel; `wheel_1pm` is the curvature that the wheel's angle stands for;
 * `gear` is 0 where it is not known; `known` is 0 where the log has a gap.
 */
export type LapTrace = {
  time_s: Float64Array
  speed_mps: Float64Array
  offset_m: Float64Array
  kappa_1pm: Float64Array
  wheel_1pm: Float64Array
  brake: Float64Array
  throttle: Float64Array
  gear: Uint8Array
  known: Uint8Array
  lapTime_s: number
}

/** The trace of one lap of a trajectory; pedals are read at the station or the sample after it. */
export const traceOf = (circuit: Circuit, trajectory: Trajectory, lap: Pick<Lap, 'from' | 'start_s' | 'time_s'>): LapTrace => {
  const begin_m = lap.from * circuit.length_m
  const { travel_m, brake_g, throttle, gear } = trajectory.inputs
  const column = (values: Float64Array): Float64Array => circuit.s_m.map((s_m) => atTravel(trajectory, values, begin_m + s_m))
  let j = 0
  const sample = Int32Array.from(circuit.s_m, (s_m) => {
    while (j + 1 < travel_m.length && travel_m[j] < begin_m + s_m - 1e-9) j++
    return j
  })
  const first = Math.round(begin_m / trajectory.step_m) - trajectory.first
  return {
    time_s: column(trajectory.time_s).map((t) => Math.min(lap.time_s, Math.max(0, t - lap.start_s))),
    speed_mps: column(trajectory.speed_mps),
    offset_m: column(trajectory.offset_m),
    kappa_1pm: column(trajectory.kappa_1pm),
    wheel_1pm: circuit.s_m.map((s_m) => wheelAt(trajectory, begin_m + s_m)),
    brake: Float64Array.from(sample, (i) => brake_g[i]),
    throttle: Float64Array.from(sample, (i) => throttle[i]),
    gear: Uint8Array.from(sample, (i) => (gear ? Math.max(0, Math.round(gear[i]) || 0) : 0)),
    known: Uint8Array.from(circuit.s_m, (_, i) => trajectory.known[Math.min(Math.max(first + i, 0), trajectory.known.length - 1)]),
    lapTime_s: lap.time_s,
  }
}

/** The plan as a trace. */
export const planTrace = (plan: Plan): LapTrace =>
  traceOf(plan.circuit, trajectoryOfPlan(plan), { from: 0, start_s: 0, time_s: plan.profile.lapTime_s })
