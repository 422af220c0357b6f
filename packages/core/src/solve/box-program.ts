import { bandSolver, bandTimes, type PeriodicBand } from './banded.ts'

/** Result of the interior-point method. */
export type BoxSolution = { x: Float64Array; iterations: number; termination: 'converged' | 'iteration-limit' | 'not-convex' }

const settings = { maxIterations: 50, residual: 100, step: 0.995 } as const

/**
 * Least of ½xᵀHx + gᵀx with low ≤ x ≤ high, H a positive semidefinite periodic band.
 * Primal-dual interior-point method with Mehrotra's predictor and corrector; an iteration costs one band factorisation
 * and two solves. Distances to the bounds are kept as variables of their own, so that they never cancel to zero.
 * It ends when complementarity and, a hundred times looser, stationarity fall below `precision` of the greatest |g|.
 * Source: Nocedal & Wright, Numerical Optimization, section 16.6.
 */
export const solveBoxProgram = (
  band: PeriodicBand,
  g: Float64Array,
  low: Float64Array,
  high: Float64Array,
  start: Float64Array,
  precision = 1e-9,
): BoxSolution => {
  const n = g.length
  const scale = g.reduce((max, value) => Math.max(max, Math.abs(value)), 1e-12)
  const state = startInside(low, high, start, scale)
  const gradient = new Float64Array(n)
  const barrier = new Float64Array(n)
  const step = { dx: new Float64Array(n), dLow: new Float64Array(n), dHigh: new Float64Array(n) }
  const correction = { low: new Float64Array(n), high: new Float64Array(n) }
  const solver = bandSolver(n, band.halfWidth)
  for (let iteration = 1; iteration <= settings.maxIterations; iteration++) {
    const { gap, residual } = optimality(band, g, state, gradient, barrier)
    const mu = gap / (2 * n)
    if (mu < precision * scale && residual < settings.residual * precision * scale)
      return { x: state.x, iterations: iteration, termination: 'converged' }
    if (!solver.factor(band, barrier)) return { x: state.x, iterations: iteration, termination: 'not-convex' }
    correction.low.fill(0)
    correction.high.fill(0)
    newtonRight(state, gradient, 0, correction, step.dx)
    solver.solve(step.dx)
    const gapAhead = predict(state, step, stepLengths(state, 0, correction, step), correction)
    const target = mu * (gapAhead / gap) ** 3
    newtonRight(state, gradient, target, correction, step.dx)
    solver.solve(step.dx)
    move(state, step, stepLengths(state, target, correction, step))
  }
  return { x: state.x, iterations: settings.maxIterations, termination: 'iteration-limit' }
}

/** The point, its distances to the bounds and their multipliers. */
type BoxState = { x: Float64Array; toLow: Float64Array; toHigh: Float64Array; zLow: Float64Array; zHigh: Float64Array }
/** A Newton direction of the point and of both multipliers. */
type BoxStep = { dx: Float64Array; dLow: Float64Array; dHigh: Float64Array }
/** Second-order terms of complementarity at both bounds. */
type Correction = { low: Float64Array; high: Float64Array }
/** Lengths of the longest steps that keep point and multipliers positive, at most 1. */
type StepLengths = { primal: number; dual: number }

/** The start moved a little off its bounds, with equal multipliers. */
const startInside = (low: Float64Array, high: Float64Array, start: Float64Array, scale: number): BoxState => {
  const column = (): Float64Array => new Float64Array(start.length)
  const state = { x: column(), toLow: column(), toHigh: column(), zLow: column(), zHigh: column() }
  const { x, toLow, toHigh, zLow, zHigh } = state
  for (let i = 0; i < x.length; i++) {
    const room = high[i] - low[i]
    x[i] = Math.min(Math.max(start[i], low[i] + 0.02 * room), high[i] - 0.02 * room)
    toLow[i] = x[i] - low[i]
    toHigh[i] = high[i] - x[i]
    zLow[i] = (0.1 * scale) / Math.max(1, room)
    zHigh[i] = zLow[i]
  }
  return state
}

/** Fills gradient and barrier at the point; returns the sum of complementarities and the greatest residual of stationarity. */
const optimality = (
  band: PeriodicBand,
  g: Float64Array,
  { x, toLow, toHigh, zLow, zHigh }: BoxState,
  gradient: Float64Array,
  barrier: Float64Array,
): { gap: number; residual: number } => {
  let gap = 0
  let residual = 0
  for (let i = 0; i < x.length; i++) {
    gradient[i] = bandTimes(band, x, i) + g[i]
    gap += zLow[i] * toLow[i] + zHigh[i] * toHigh[i]
    residual = Math.max(residual, Math.abs(gradient[i] - zLow[i] + zHigh[i]))
    barrier[i] = zLow[i] / toLow[i] + zHigh[i] / toHigh[i]
  }
  return { gap, residual }
}

/** Right-hand side of the Newton equations towards complementarity `target`, into dx. */
const newtonRight = ({ toLow, toHigh }: BoxState, gradient: Float64Array, target: number, correct: Correction, dx: Float64Array): void => {
  for (let i = 0; i < dx.length; i++) dx[i] = -gradient[i] + (target - correct.low[i]) / toLow[i] - (target - correct.high[i]) / toHigh[i]
}

/** Completes a direction with its multipliers and returns how far it may go. */
const stepLengths = (
  { toLow, toHigh, zLow, zHigh }: BoxState,
  target: number,
  correct: Correction,
  { dx, dLow, dHigh }: BoxStep,
): StepLengths => {
  let primal = 1
  let dual = 1
  for (let i = 0; i < dx.length; i++) {
    dLow[i] = (target - correct.low[i] - zLow[i] * dx[i]) / toLow[i] - zLow[i]
    dHigh[i] = (target - correct.high[i] + zHigh[i] * dx[i]) / toHigh[i] - zHigh[i]
    if (dx[i] < 0) primal = Math.min(primal, (-settings.step * toLow[i]) / dx[i])
    if (dx[i] > 0) primal = Math.min(primal, (settings.step * toHigh[i]) / dx[i])
    if (dLow[i] < 0) dual = Math.min(dual, (-settings.step * zLow[i]) / dLow[i])
    if (dHigh[i] < 0) dual = Math.min(dual, (-settings.step * zHigh[i]) / dHigh[i])
  }
  return { primal, dual }
}

/** Complementarity after a trial step; fills the correction with the trial's second-order terms. */
const predict = (
  { toLow, toHigh, zLow, zHigh }: BoxState,
  { dx, dLow, dHigh }: BoxStep,
  { primal, dual }: StepLengths,
  correct: Correction,
): number => {
  let gapAhead = 0
  for (let i = 0; i < dx.length; i++) {
    gapAhead += (zLow[i] + dual * dLow[i]) * (toLow[i] + primal * dx[i])
    gapAhead += (zHigh[i] + dual * dHigh[i]) * (toHigh[i] - primal * dx[i])
    correct.low[i] = dLow[i] * dx[i]
    correct.high[i] = -dHigh[i] * dx[i]
  }
  return gapAhead
}

const move = ({ x, toLow, toHigh, zLow, zHigh }: BoxState, { dx, dLow, dHigh }: BoxStep, { primal, dual }: StepLengths): void => {
  for (let i = 0; i < x.length; i++) {
    x[i] += primal * dx[i]
    toLow[i] += primal * dx[i]
    toHigh[i] -= primal * dx[i]
    zLow[i] += dual * dLow[i]
    zHigh[i] += dual * dHigh[i]
  }
}
