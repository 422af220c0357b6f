import type { Circuit } from '../circuit/circuit.ts'
import type { Corner } from '../circuit/corners.ts'
import { type Trajectory, trajectoryOfPlan } from '../drive/trajectory.ts'
import { CoreError } from '../errors/errors.ts'
import type { Log } from '../log/log.ts'
import type { Turning } from '../path/turning.ts'
import type { Plan } from '../plan/plan.ts'
import type { MeasuredLog } from './measured-log.ts'
import { type Frame, framesOf, turningsOf } from './pass.ts'

/** Reference of a comparison: a plan, one of the log's own laps by number, or a lap of another drive of the same circuit. */
export type Reference =
  | { kind: 'plan'; plan: Plan }
  | { kind: 'lap'; lap: number }
  | { kind: 'drive'; log: Log; lap: number; runId?: string }
/** A trajectory whose pedals count as touched no sooner than those of another, so that noise delays both alike. */
export const touchedAlike = (trajectory: Trajectory, other: Trajectory): Trajectory => ({
  ...trajectory,
  brakeTouch_g: Math.max(trajectory.brakeTouch_g, other.brakeTouch_g),
  driveTouch_g: Math.max(trajectory.driveTouch_g, other.driveTouch_g),
})
/** The reference as it was driven: its trajectory, the start of its lap on it, and each corner as it takes it. */
export type ReferenceDrive = { trajectory: Trajectory; start_m: number; turnings: readonly Turning[]; frames: Frame[] }
/**
 * One lap of a drive as the reference of passes.
 * @throws CoreError when the drive has no such whole lap
 */
export const referenceLap = (
  circuit: Circuit,
  corners: readonly Corner[],
  { trajectory, laps }: Pick<MeasuredLog, 'trajectory' | 'laps'>,
  number: number,
): ReferenceDrive => {
  const lap = laps.find((l) => l.lap === number)
  if (!lap) throw new CoreError('reference-lap-missing', 'reference', { lap: number, known: laps.map((l) => l.lap).join(', ') })
  const start_m = lap.from * circuit.length_m
  const turnings = turningsOf(circuit, corners, trajectory, start_m)
  return { trajectory, start_m, turnings, frames: framesOf(circuit, corners, turnings, trajectory, start_m) }
}

/** A plan as the reference of passes. */
export const referencePlan = (plan: Plan): ReferenceDrive => {
  const trajectory = trajectoryOfPlan(plan)
  return { trajectory, start_m: 0, turnings: plan.turnings, frames: framesOf(plan.circuit, plan.corners, plan.turnings, trajectory, 0) }
}
