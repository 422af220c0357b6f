import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { bandSolver, bandTimes, emptyBand, type PeriodicBand } from './banded.ts'
import { solveBoxProgram } from './box-program.ts'

const column = (n: number, min: number, max: number) =>
  fc.array(fc.double({ min: min, max: max, noNaN: true }), { minLength: n, maxLength: n }).map((a) => Float64Array.from(a))

/** A positive definite periodic band JᵀJ + εI from second-difference-like rows. */
const bandOf = (n: number, weights: Float64Array): PeriodicBand => {
  const band = emptyBand(n, 2)
  const { values } = band
  for (let i = 0; i < n; i++) values[3 * i] = 0.05
  for (let i = 0; i < n; i++) {
    const w = weights[i]
    const rows = [1, -2 - w / 5, 1 + w / 7]
    const at = [i, (i + 1) % n, (i + 2) % n]
    values[3 * at[0]] += w * rows[0] * rows[0]
    values[3 * at[1]] += w * rows[1] * rows[1]
    values[3 * at[2]] += w * rows[2] * rows[2]
    values[3 * at[0] + 1] += w * rows[0] * rows[1]
    values[3 * at[1] + 1] += w * rows[1] * rows[2]
    values[3 * at[0] + 2] += w * rows[0] * rows[2]
  }
  return band
}

describe('periodic band systems', () => {
  it('are solved to rounding, by putting the solution back in (seed 21)', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 6, max: 60 }).chain((n) => fc.tuple(column(n, 0.1, 2), column(n, -5, 5))),
        ([weights, right]) => {
          const band = bandOf(right.length, weights)
          const x = Float64Array.from(right)
          const solver = bandSolver(right.length, 2)
          expect(solver.factor(band)).toBe(true)
          solver.solve(x)
          for (let i = 0; i < x.length; i++) expect(Math.abs(bandTimes(band, x, i) - right[i])).toBeLessThan(1e-7)
        },
      ),
      { seed: 21, numRuns: 100 },
    )
  })
})

describe('box programs', () => {
  it('end where no single unknown can do better, compared with coordinate descent (seed 22)', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 6, max: 24 }).chain((n) => fc.tuple(column(n, 0.2, 2), column(n, -3, 3), column(n, -1, 0), column(n, 0.1, 1))),
        ([weights, g, low, high]) => {
          const n = g.length
          const band = bandOf(n, weights)
          const { x, termination } = solveBoxProgram(band, g, low, high, new Float64Array(n))
          expect(termination).toBe('converged')
          const slow = new Float64Array(n)
          for (let round = 0; round < 4000; round++)
            for (let i = 0; i < n; i++) {
              const rest = bandTimes(band, slow, i) - band.values[3 * i] * slow[i] + g[i]
              slow[i] = Math.min(high[i], Math.max(low[i], -rest / band.values[3 * i]))
            }
          const cost = (y: Float64Array): number => y.reduce((sum, v, i) => sum + v * (bandTimes(band, y, i) / 2 + g[i]), 0)
          expect(cost(x)).toBeLessThan(cost(slow) + 1e-5)
          for (let i = 0; i < n; i++) {
            expect(x[i]).toBeGreaterThan(low[i] - 1e-9)
            expect(x[i]).toBeLessThan(high[i] + 1e-9)
          }
        },
      ),
      { seed: 22, numRuns: 40 },
    )
  })
})
