import type { Circuit } from '../circuit/circuit.ts'
import { type Line, lineFromOffsets } from '../path/line.ts'
import { bandTimes, emptyBand, type PeriodicBand } from '../solve/banded.ts'
import { solveBoxProgram } from '../solve/box-program.ts'
import type { OffsetBounds } from './bounds.ts'

/**
 * `onStep` hears the step number and may return false to stop. `start`: offsets (m) of a line that is nearly it, as while one of its
 * places is dragged; two or three steps then do.
 */
export type SmoothestOptions = {
  maxSteps?: number
  onStep?: (step: number, change_m: number) => boolean | undefined
  start?: Float64Array | undefined
}
/** A solved line and how the solver ended. */
export type SmoothestSolution = { line: Line; steps: number; termination: 'converged' | 'iteration-limit' | 'cancelled' }

/**
 * Steps end when no offset moves more than `offset_m` (far below what a driver or a cone can hold), or when the model
 * promises less than `gain` of the integral: where a whole family of lines is equally smooth, any of it will do.
 */
const settled = { offset_m: 2e-3, gain: 1e-6 } as const

/**
 * The line of least ∫κ² dσ between bounds. With the turn Δθ_i of the polygon at station i and the mean length l_i of its
 * two sides, ∫κ² dσ ≈ Σ Δθ_i²/l_i. Each step linearises Δθ_i/√l_i exactly in the three offsets it depends on and
 * solves the resulting convex box program (Gauss–Newton); steps are repeated until the line settles.
 * Cost: linear in stations; about ten steps of some twenty band factorisations.
 */
export const smoothestLine = (circuit: Circuit, bounds: OffsetBounds, options: SmoothestOptions = {}): SmoothestSolution => {
  const { offset_m, ...ended } = smoothestOffsets(circuit, bounds, options)
  return { line: lineFromOffsets(circuit, offset_m), ...ended }
}

/** A road as far as a line on it bends. */
export type BentRoad = Pick<Circuit, 'count' | 'x_m' | 'y_m' | 'heading_rad' | 'open'>

/** The offsets (m) of the smoothest line, as {@link smoothestLine} has it. */
export const smoothestOffsets = (
  circuit: BentRoad,
  bounds: OffsetBounds,
  options: SmoothestOptions = {},
): Omit<SmoothestSolution, 'line'> & { offset_m: Float64Array } => {
  const n = circuit.count
  const maxSteps = options.maxSteps ?? 40
  // The first model is that of the centreline, whether or not the bounds allow it: from a path clamped into a narrow place it would be that of a spike.
  let offset: Float64Array = options.start ?? new Float64Array(n)
  const finish = (steps: number, termination: SmoothestSolution['termination']) => ({ offset_m: offset, steps, termination })
  for (let step = 1; step <= maxSteps; step++) {
    const { band, g, constant } = bendingModel(circuit, offset)
    // The first model is far off anyway: it need not be solved to the last digit.
    const { x } = solveBoxProgram(band, g, bounds.low_m, bounds.high_m, offset, step === 1 && !options.start ? 1e-4 : 1e-7)
    let change_m = 0
    let before = 0
    let after = 0
    for (let i = 0; i < n; i++) {
      change_m = Math.max(change_m, Math.abs(x[i] - offset[i]))
      before += offset[i] * (bandTimes(band, offset, i) / 2 + g[i])
      after += x[i] * (bandTimes(band, x, i) / 2 + g[i])
    }
    const small = step > 1 && before - after < settled.gain * (before + constant)
    offset = x
    if (options.onStep?.(step, change_m) === false) return finish(step, 'cancelled')
    if (change_m < settled.offset_m || small) return finish(step, 'converged')
  }
  return finish(maxSteps, 'iteration-limit')
}

/** Gauss–Newton model ½xᵀHx + gᵀx + constant of Σ(Δθ²/l)/2 around the given offsets, x being the new offsets. */
export const bendingModel = (circuit: BentRoad, offset: Float64Array): { band: PeriodicBand; g: Float64Array; constant: number } => {
  const n = circuit.count
  const normalX = circuit.heading_rad.map((h) => -Math.sin(h))
  const normalY = circuit.heading_rad.map(Math.cos)
  const px = circuit.x_m.map((x, i) => x + offset[i] * normalX[i])
  const py = circuit.y_m.map((y, i) => y + offset[i] * normalY[i])
  const band = emptyBand(n, 2)
  const { values } = band
  const g = new Float64Array(n)
  let constant = 0
  // The ends of an open course bend nothing.
  const [first, end] = circuit.open ? [1, n - 1] : [0, n]
  for (let b = first; b < end; b++) {
    const a = b === 0 ? n - 1 : b - 1
    const c = b + 1 === n ? 0 : b + 1
    const ex = px[b] - px[a]
    const ey = py[b] - py[a]
    const fx = px[c] - px[b]
    const fy = py[c] - py[b]
    const le2 = ex * ex + ey * ey
    const lf2 = fx * fx + fy * fy
    const le = Math.sqrt(le2)
    const lf = Math.sqrt(lf2)
    const mean = (le + lf) / 2
    const turn = Math.atan2(ex * fy - ey * fx, ex * fx + ey * fy)
    const root = 1 / Math.sqrt(mean)
    const residual = turn * root
    // Derivatives of the sides' headings and lengths by the three offsets.
    const cross = (dx: number, dy: number, k: number): number => dx * normalY[k] - dy * normalX[k]
    const along = (dx: number, dy: number, k: number): number => dx * normalX[k] + dy * normalY[k]
    const gradient = (dTurn: number, dMean: number): number => root * (dTurn - (turn * dMean) / (2 * mean))
    const ja = gradient(cross(ex, ey, a) / le2, -along(ex, ey, a) / (2 * le))
    const jb = gradient(-cross(fx, fy, b) / lf2 - cross(ex, ey, b) / le2, (along(ex, ey, b) / le - along(fx, fy, b) / lf) / 2)
    const jc = gradient(cross(fx, fy, c) / lf2, along(fx, fy, c) / (2 * lf))
    const rest = residual - ja * offset[a] - jb * offset[b] - jc * offset[c]
    values[3 * a] += ja * ja
    values[3 * a + 1] += ja * jb
    values[3 * a + 2] += ja * jc
    values[3 * b] += jb * jb
    values[3 * b + 1] += jb * jc
    values[3 * c] += jc * jc
    constant += (rest * rest) / 2
    g[a] += ja * rest
    g[b] += jb * rest
    g[c] += jc * rest
  }
  return { band, g, constant }
}
