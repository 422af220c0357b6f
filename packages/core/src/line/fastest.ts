import { averageRound } from '../circuit/average.ts'
import type { Circuit } from '../circuit/circuit.ts'
import { CoreError } from '../errors/errors.ts'
import { type Line, lineFromOffsets } from '../path/line.ts'
import type { GripShare } from '../profile/grip.ts'
import { solveProfile } from '../profile/solve-profile.ts'
import { bandSolver, type PeriodicBand } from '../solve/banded.ts'
import { solveBoxProgram } from '../solve/box-program.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import type { OffsetBounds } from './bounds.ts'
import type { LapProblemOptions } from './lap-model.ts'
import { emptyLapHessian, type LapProblem, lapProblem } from './lap-problem.ts'
import { bendingModel, smoothestLine } from './smoothest.ts'

/** `onStep` hears the iteration and the present lap time, and may return false to stop. */
export type FastestOptions = LapProblemOptions & {
  maxSteps?: number
  start?: Line
  onStep?: (step: number, cost_s: number) => boolean | undefined
}

/** The line of least lap time and how the solver ended. */
export type FastestSolution = { line: Line; steps: number; termination: 'converged' | 'iteration-limit' | 'cancelled' | 'stalled' }

const settings = {
  /** The barrier may hide this much lap time at the end (s). */
  gap_s: 0.05,
  /** Stop after `quiet` iterations that each gain less than `quietGain` (fraction of lap time). */
  quiet: 4,
  quietGain: 4e-5,
  /** Share of the distance to a constraint that one step may take. */
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
  grip: GripShare | readonly GripShare[],
  bounds: OffsetBounds,
  options: FastestOptions = {},
): FastestSolution => {
  const maxSteps = options.maxSteps ?? 90
  const problem = lapProblem(circuit, vehicle, grip, bounds, options)
  const rows = problem.constraints
  const x = startingPoint(circuit, vehicle, grip, bounds, problem, options.start ?? smoothestLine(circuit, bounds).line, options.entry_mps)
  const c = new Float64Array(rows)
  let cost_s = problem.evaluate(x, c)
  const finish = (steps: number, termination: FastestSolution['termination']): FastestSolution => ({
    line: lineFromOffsets(circuit, withoutAlternation(x, circuit.open === true)),
    steps,
    termination,
  })
  let mu = (0.1 * cost_s) / rows
  const z = c.map((value) => mu / value)
  const newton = newtonStep(problem)
  const search = lineSearch(problem)
  const costs: number[] = []
  for (let step = 1; step <= maxSteps; step++) {
    problem.evaluate(x, c)
    const descent = newton.solve(x, c, z, mu)
    if (descent === null) return finish(step, 'stalled')
    const taken = search.from(x, c, newton, cost_s, mu, descent)
    if (taken === null) {
      if (newton.dampMore()) continue
      return finish(step, 'stalled')
    }
    updateMultipliers(z, c, search.c, newton.slope, mu)
    x.set(search.x)
    cost_s = taken.cost_s
    if (options.onStep?.(step, cost_s) === false) return finish(step, 'cancelled')
    costs.push(cost_s)
    const settled = costs.length > settings.quiet && costs[costs.length - 1 - settings.quiet] - cost_s < settings.quietGain * cost_s
    if (rows * mu < settings.gap_s && (taken.share > 0.5 || settled)) return finish(step, 'converged')
    if (taken.share > 0.3) mu *= taken.share > 0.9 ? 0.25 : 0.5
  }
  return finish(maxSteps, 'iteration-limit')
}

/** The Newton direction of the barrier problem, with as much damping as keeps its matrix positive definite. */
type NewtonStep = {
  /** Direction of the unknowns and slope of the constraints along it, as of the last solve. */
  dx: Float64Array
  slope: Float64Array
  /** Solves at a point; returns the directional derivative of the merit, or null where no damping makes the matrix definite. */
  solve: (x: Float64Array, c: Float64Array, z: Float64Array, mu: number) => number | null
  /** Raises the damping after a step that was not accepted; false where it is at its limit. */
  dampMore: () => boolean
}

const newtonStep = (problem: LapProblem): NewtonStep => {
  const hessian = emptyLapHessian(problem)
  const { count } = hessian
  const solver = bandSolver(count, hessian.halfWidth)
  const zero = new Float64Array(count)
  const plus = new Float64Array(count)
  const gradient = new Float64Array(count)
  const reduced = new Float64Array(count)
  const dx = new Float64Array(problem.unknowns)
  const slope = new Float64Array(problem.constraints)
  let damping = 0
  return {
    dx,
    slope,
    solve: (x, c, z, mu) => {
      problem.assemble(x, c, z, mu, hessian, gradient)
      let factored = false
      for (let tries = 0; tries < 30 && !factored; tries++) {
        dampDiagonal(hessian, damping, plus)
        factored = solver.factor(hessian, plus)
        if (!factored) damping = Math.max(1e-4, damping * 4)
      }
      if (!factored) return null
      damping = damping < 1e-4 ? 0 : damping / 4
      moveAlong(zero, gradient, -1, reduced)
      solver.solve(reduced)
      return problem.complete(reduced, dx, slope) + dot(gradient, reduced)
    },
    dampMore: () => {
      if (damping > settings.mostDamping) return false
      damping = Math.max(1e-3, damping * 10)
      return true
    },
  }
}

/** Looks along a direction for a feasible point of lower merit; holds that point and its constraints. */
type LineSearch = {
  x: Float64Array
  c: Float64Array
  /** Share of the direction that was taken and the lap time there; null where 25 halvings find nothing lower. */
  from: (
    x: Float64Array,
    c: Float64Array,
    direction: Pick<NewtonStep, 'dx' | 'slope'>,
    cost_s: number,
    mu: number,
    descent: number,
  ) => { share: number; cost_s: number } | null
}

const lineSearch = (problem: LapProblem): LineSearch => {
  const trial = new Float64Array(problem.unknowns)
  const trialC = new Float64Array(problem.constraints)
  return {
    x: trial,
    c: trialC,
    from: (x, c, { dx, slope }, cost_s, mu, descent) => {
      const merit = cost_s - mu * sumLog(c)
      let share = longestStep(c, slope)
      for (let tries = 0; tries < 25; tries++, share *= 0.5) {
        moveAlong(x, dx, share, trial)
        const trialCost_s = problem.evaluate(trial, trialC)
        const bound = merit + 1e-4 * share * descent + 1e-9 * Math.abs(merit)
        if (leavesRoom(trialC, c) && trialCost_s - mu * sumLog(trialC) <= bound) return { share, cost_s: trialCost_s }
      }
      return null
    },
  }
}

/** Offsets averaged with their neighbours, 1 : 2 : 1: the program sees only means of neighbouring curvatures, so it leaves their alternation open. */
const withoutAlternation = (x: Float64Array, open: boolean): Float64Array => {
  const n = x.length / 3
  const mean = (i: number): number => (x[3 * ((i + n - 1) % n)] + 2 * x[3 * i] + x[3 * ((i + 1) % n)]) / 4
  return Float64Array.from({ length: n }, (_, i) => (open && (i === 0 || i === n - 1) ? x[3 * i] : mean(i)))
}

// The loops of a step stand in functions of their own: called often, they are compiled early.

const dampDiagonal = ({ count, halfWidth, values }: PeriodicBand, damping: number, plus: Float64Array): void => {
  for (let i = 0; i < count; i++) plus[i] = damping * Math.abs(values[i * (halfWidth + 1)])
}

const moveAlong = (from: Float64Array, along: Float64Array, by: number, to: Float64Array): void => {
  for (let i = 0; i < to.length; i++) to[i] = from[i] + by * along[i]
}

const dot = (a: Float64Array, b: Float64Array): number => {
  let sum = 0
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i]
  return sum
}

/** The longest step, at most 1, that goes a set share of the way to the nearest constraint. */
const longestStep = (c: Float64Array, slope: Float64Array): number => {
  let max = 1
  for (let k = 0; k < c.length; k++)
    if (slope[k] < 0) {
      const until = ((settings.keep - 1) * c[k]) / slope[k]
      if (until < max) max = until
    }
  return max
}

/** Moves multipliers by their own Newton step, then keeps them within reach of the barrier's, so that the next Hessian stays sensible. */
const updateMultipliers = (z: Float64Array, c: Float64Array, after: Float64Array, slope: Float64Array, mu: number): void => {
  let dual = 1
  for (let k = 0; k < c.length; k++) {
    const dz = (mu - z[k] * slope[k]) / c[k] - z[k]
    slope[k] = dz
    if (dz < 0 && -0.98 * z[k] > dual * dz) dual = (-0.98 * z[k]) / dz
  }
  for (let k = 0; k < c.length; k++) {
    const central = mu / after[k]
    const next = z[k] + dual * slope[k]
    z[k] = next < central / 100 ? central / 100 : next > central * 100 ? central * 100 : next
  }
}

const sumLog = (c: Float64Array): number => {
  let sum = 0
  for (let k = 0; k < c.length; k++) sum += Math.log(c[k])
  return sum
}

/** True if every constraint keeps a share of the room that it had. */
const leavesRoom = (now: Float64Array, before: Float64Array): boolean => {
  for (let k = 0; k < now.length; k++) if (!(now[k] > 0.2 * settings.keep * before[k])) return false
  return true
}

/** Maximum number of times that the first lap is slowed until it keeps every limit. */
const SLOWER_TRIES = 12

/**
 * The given line moved smoothly off its bounds, driven at a share of its own profile with a little of both pedals in hand, and
 * slowed until no limit is touched.
 * @throws CoreError 'lap-not-drivable' where not even a slow lap keeps the limits
 */
const startingPoint = (
  circuit: Circuit,
  vehicle: Vehicle,
  grip: GripShare | readonly GripShare[],
  bounds: OffsetBounds,
  problem: LapProblem,
  line: Line,
  entry_mps?: number,
): Float64Array => {
  const n = circuit.count
  const room = (share: number): Float64Array => bounds.low_m.map((low, i) => low + share * (bounds.high_m[i] - low))
  const { band, g } = bendingModel(circuit, line.offset_m)
  const offset_m = solveBoxProgram(band, g, room(0.05), room(0.95), line.offset_m, 1e-4).x
  const weak = (g: GripShare): GripShare => ({ brake: 0.7 * g.brake, corner: 0.7 * g.corner, drive: 0.7 * g.drive })
  const less = 'brake' in grip ? weak(grip) : grip.map(weak)
  const weaker = { ...vehicle, power_W: 0.6 * vehicle.power_W, maxDriveForce_N: 0.6 * vehicle.maxDriveForce_N }
  const { speed_mps } = solveProfile(circuit, lineFromOffsets(circuit, offset_m), weaker, {
    grip: less,
    ...(entry_mps === undefined ? {} : { entry_mps: 0.9 * entry_mps }),
  })
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
    if (problem.evaluate(x, c) > 0 && c.every((value) => value > 0)) return x
  }
  const worst = c.findIndex((value) => !(value > 0))
  throw new CoreError('lap-not-drivable', `station ${Math.round(circuit.s_m[Math.floor(worst / problem.perStation)] ?? 0)} m`)
}
