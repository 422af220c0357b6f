import { bandSolver, bandTimes, type PeriodicBand } from './banded.ts'

/** How the interior-point method ended. */
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
  const column = (): Float64Array => new Float64Array(n)
  const state = { x: column(), toLow: column(), toHigh: column(), zLow: column(), zHigh: column() }
  const { x, toLow, toHigh, zLow, zHigh } = state
  const scale = g.reduce((max, value) => Math.max(max, Math.abs(value)), 1e-12)
  for (let i = 0; i < n; i++) {
    const room = high[i] - low[i]
    x[i] = Math.min(Math.max(start[i], low[i] + 0.02 * room), high[i] - 0.02 * room)
    toLow[i] = x[i] - low[i]
    toHigh[i] = high[i] - x[i]
    zLow[i] = (0.1 * scale) / Math.max(1, room)
    zHigh[i] = zLow[i]
  }
  const gradient = column()
  const barrier = column()
  const solver = bandSolver(n, band.halfWidth)
  const dx = column()
  const dLow = column()
  const dHigh = column()
  const correctLow = column()
  const correctHigh = column()

  /** Newton direction towards complementarity `target`, into dx, dLow and dHigh; returns the longest primal and dual steps. */
  const direction = (target: number): { primal: number; dual: number } => {
    for (let i = 0; i < n; i++) dx[i] = -gradient[i] + (target - correctLow[i]) / toLow[i] - (target - correctHigh[i]) / toHigh[i]
    solver.solve(dx)
    let primal = 1
    let dual = 1
    for (let i = 0; i < n; i++) {
      dLow[i] = (target - correctLow[i] - zLow[i] * dx[i]) / toLow[i] - zLow[i]
      dHigh[i] = (target - correctHigh[i] + zHigh[i] * dx[i]) / toHigh[i] - zHigh[i]
      if (dx[i] < 0) primal = Math.min(primal, (-settings.step * toLow[i]) / dx[i])
      if (dx[i] > 0) primal = Math.min(primal, (settings.step * toHigh[i]) / dx[i])
      if (dLow[i] < 0) dual = Math.min(dual, (-settings.step * zLow[i]) / dLow[i])
      if (dHigh[i] < 0) dual = Math.min(dual, (-settings.step * zHigh[i]) / dHigh[i])
    }
    return { primal, dual }
  }

  for (let iteration = 1; iteration <= settings.maxIterations; iteration++) {
    let gap = 0
    let residual = 0
    for (let i = 0; i < n; i++) {
      gradient[i] = bandTimes(band, x, i) + g[i]
      gap += zLow[i] * toLow[i] + zHigh[i] * toHigh[i]
      residual = Math.max(residual, Math.abs(gradient[i] - zLow[i] + zHigh[i]))
      barrier[i] = zLow[i] / toLow[i] + zHigh[i] / toHigh[i]
    }
    const mu = gap / (2 * n)
    if (mu < precision * scale && residual < settings.residual * precision * scale)
      return { x, iterations: iteration, termination: 'converged' }
    if (!solver.factor(band, barrier)) return { x, iterations: iteration, termination: 'not-convex' }
    correctLow.fill(0)
    correctHigh.fill(0)
    const trial = direction(0)
    let ahead = 0
    for (let i = 0; i < n; i++) {
      ahead += (zLow[i] + trial.dual * dLow[i]) * (toLow[i] + trial.primal * dx[i])
      ahead += (zHigh[i] + trial.dual * dHigh[i]) * (toHigh[i] - trial.primal * dx[i])
      correctLow[i] = dLow[i] * dx[i]
      correctHigh[i] = -dHigh[i] * dx[i]
    }
    const { primal, dual } = direction(mu * (ahead / gap) ** 3)
    for (let i = 0; i < n; i++) {
      x[i] += primal * dx[i]
      toLow[i] += primal * dx[i]
      toHigh[i] -= primal * dx[i]
      zLow[i] += dual * dLow[i]
      zHigh[i] += dual * dHigh[i]
    }
  }
  return { x, iterations: settings.maxIterations, termination: 'iteration-limit' }
}
