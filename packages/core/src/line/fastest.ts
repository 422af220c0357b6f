import { averageRound } from '../circuit/average.ts'
import type { Circuit } from '../circuit/circuit.ts'
import { CoreError } from '../errors.ts'
import type { GripShare } from '../profile/grip.ts'
import { solveProfile } from '../profile/profile.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { factorBand } from './banded.ts'
import type { OffsetBounds } from './bounds.ts'
import { emptyLapHessian, type LapProblem, lapProblem } from './lap-problem.ts'
import { type Line, lineFromOffsets } from './line.ts'
import { smoothestLine } from './smoothest.ts'

/** `onStep` hears the iteration and the present lap time, and may return false to stop. */
export type FastestOptions = { maxSteps?: number; start?: Line; onStep?: (step: number, cost_s: number) => boolean | undefined }
/** The line of least lap time and how the solver ended. */
export type FastestSolution = { line: Line; steps: number; termination: 'converged' | 'iteration-limit' | 'cancelled' | 'stalled' }

const settings = {
  /** The barrier may hide this much lap time at the end (s). */
  gap_s: 0.05,
  /** So many steps without this gain (a share of the lap time) end the search too. */
  quiet: 4,
  quietGain: 4e-5,
  /** Share of the way to a constraint that one step may take. */
  keep: 0.02,
  slack: 0.05,
  mostDamping: 1e6,
} as const

/**
 * The line of least lap time under the grip model: a feasible primal-dual interior-point method on {@link lapProblem}.
 * It begins at the smoothest line, driven well inside its limits, and never leaves the feasible laps, so that every
 * step is a lap that could be driven. Each step factors one periodic band matrix: time is linear in stations.
 * Source: Nocedal & Wright, Numerical Optimization, chapter 19 (barrier methods).
 */
export const fastestLine = (
  circuit: Circuit,
  vehicle: Vehicle,
  grip: GripShare,
  bounds: OffsetBounds,
  options: FastestOptions = {},
): FastestSolution => {
  const maxSteps = options.maxSteps ?? 90
  const problem = lapProblem(circuit, vehicle, grip, bounds)
  const x = startingPoint(circuit, vehicle, grip, bounds, problem, options.start ?? smoothestLine(circuit, bounds).line)
  const size = problem.unknowns
  const c = new Float64Array(problem.constraints)
  problem.evaluate(x, c)
  const finish = (steps: number, termination: FastestSolution['termination']): FastestSolution => ({
    line: lineFromOffsets(circuit, withoutAlternation(x)),
    steps,
    termination,
  })
  let mu = (0.1 * problem.cost(x)) / problem.constraints
  const z = c.map((value) => mu / value)
  const hessian = emptyLapHessian(problem)
  const gradient = new Float64Array(size)
  const trial = new Float64Array(size)
  const trialC = new Float64Array(problem.constraints)
  const slope = new Float64Array(problem.constraints)
  const costs: number[] = []
  let damping = 0
  for (let step = 1; step <= maxSteps; step++) {
    problem.assemble(x, z, mu, hessian, gradient)
    const dx = gradient.map((g) => -g)
    let solve = null
    for (let tries = 0; tries < 30 && !solve; tries++) {
      const damped = damping === 0 ? hessian : [hessian[0].map((d) => d + damping * Math.abs(d)), ...hessian.slice(1)]
      solve = factorBand(damped)
      if (!solve) damping = Math.max(1e-4, damping * 4)
    }
    if (!solve) return finish(step, 'stalled')
    damping = damping < 1e-4 ? 0 : damping / 4
    solve(dx)
    problem.evaluate(x, c)
    problem.slopes(x, dx, slope)
    const merit = problem.cost(x) - mu * sumLog(c)
    const descent = dot(gradient, dx)
    let primal = 1
    for (let k = 0; k < c.length; k++) if (slope[k] < 0) primal = Math.min(primal, ((settings.keep - 1) * c[k]) / slope[k])
    let accepted = false
    for (let tries = 0; tries < 25 && !accepted; tries++) {
      for (let i = 0; i < size; i++) trial[i] = x[i] + primal * dx[i]
      accepted = problem.evaluate(trial, trialC) && trialC.every((value, k) => value > 0.2 * settings.keep * c[k])
      if (accepted) accepted = problem.cost(trial) - mu * sumLog(trialC) <= merit + 1e-4 * primal * descent + 1e-9 * Math.abs(merit)
      if (!accepted) primal *= 0.5
    }
    if (!accepted) {
      if (damping > settings.mostDamping) return finish(step, 'stalled')
      damping = Math.max(1e-3, damping * 10)
      continue
    }
    let dual = 1
    for (let k = 0; k < c.length; k++) {
      const dz = mu / c[k] - z[k] - (z[k] / c[k]) * slope[k]
      if (dz < 0) dual = Math.min(dual, (-0.98 * z[k]) / dz)
      slope[k] = dz
    }
    x.set(trial)
    // Multipliers are kept within reach of the barrier's own, which keeps the next Hessian sensible.
    for (let k = 0; k < c.length; k++) {
      const own = mu / trialC[k]
      z[k] = Math.min(Math.max(z[k] + dual * slope[k], own / 100), own * 100)
    }
    const cost_s = problem.cost(x)
    if (options.onStep?.(step, cost_s) === false) return finish(step, 'cancelled')
    costs.push(cost_s)
    const settled = costs.length > settings.quiet && costs[costs.length - 1 - settings.quiet] - cost_s < settings.quietGain * cost_s
    if (problem.constraints * mu < settings.gap_s && (primal > 0.5 || settled)) return finish(step, 'converged')
    if (primal > 0.3) mu *= primal > 0.9 ? 0.25 : 0.5
  }
  return finish(maxSteps, 'iteration-limit')
}

/** Offsets averaged with their neighbours, 1 : 2 : 1: the program sees only means of neighbouring curvatures, so it leaves their alternation open. */
const withoutAlternation = (x: Float64Array): Float64Array => {
  const n = x.length / 3
  return Float64Array.from({ length: n }, (_, i) => (x[3 * ((i + n - 1) % n)] + 2 * x[3 * i] + x[3 * ((i + 1) % n)]) / 4)
}

const dot = (a: Float64Array, b: Float64Array): number => a.reduce((sum, value, i) => sum + value * b[i], 0)
const sumLog = (c: Float64Array): number => c.reduce((sum, value) => sum + Math.log(value), 0)

/** So often the first lap is slowed until it keeps every limit. */
const SLOWER_TRIES = 12

/**
 * The given line moved off its bounds, driven at a share of its own profile with a little of both pedals in hand, and
 * slowed until no limit is touched.
 * @throws CoreError 'lap-not-drivable' where not even a slow lap keeps the limits
 */
const startingPoint = (
  circuit: Circuit,
  vehicle: Vehicle,
  grip: GripShare,
  bounds: OffsetBounds,
  problem: LapProblem,
  line: Line,
): Float64Array => {
  const n = circuit.count
  const inside = Float64Array.from(line.offset_m, (value, i) => {
    const room = bounds.high_m[i] - bounds.low_m[i]
    return Math.min(Math.max(value, bounds.low_m[i] + 0.05 * room), bounds.high_m[i] - 0.05 * room)
  })
  const offset_m = averageRound(inside, 6)
  const less: GripShare = { brake: 0.7 * grip.brake, corner: 0.7 * grip.corner, drive: 0.7 * grip.drive }
  const weaker = { ...vehicle, power_W: 0.6 * vehicle.power_W, maxDriveForce_N: 0.6 * vehicle.maxDriveForce_N }
  const { speed_mps } = solveProfile(circuit, lineFromOffsets(circuit, offset_m), weaker, { grip: less })
  const u = averageRound(
    speed_mps.map((v) => v * v),
    4,
  )
  const x = new Float64Array(3 * n)
  const c = new Float64Array(problem.constraints)
  let share = 0.85
  for (let tries = 0; tries < SLOWER_TRIES; tries++, share *= 0.8) {
    for (let i = 0; i < n; i++) x.set([offset_m[i], share * u[i], 0], 3 * i)
    problem.evaluate(x, c)
    // Without drive the brake's constraint is −a_x: the demand that the pedals share.
    for (let i = 0; i < n; i++) x[3 * i + 2] = Math.max(-c[problem.perStation * i + problem.brakeRow], 0) + settings.slack
    if (problem.evaluate(x, c) && c.every((value) => value > 0)) return x
  }
  const worst = c.findIndex((value) => !(value > 0))
  throw new CoreError('lap-not-drivable', `station ${Math.round(circuit.s_m[Math.floor(worst / problem.perStation)] ?? 0)} m`)
}
