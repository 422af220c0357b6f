import { describe, expect, it } from 'vitest'
import { cheapestOfAll, tinyDay } from '../../fixtures/every-plan.ts'
import { generatedDay, variedDay } from '../../fixtures/generated-day.ts'
import { boundDay } from './bound-day.ts'
import { solveDay } from './solve-day.ts'

describe('a bound', () => {
  it('is never above the best plan of a day that is small enough to try them all', () => {
    let near = 0
    const days = 16
    for (let seed = 1; seed <= days; seed++) {
      const setup = tinyDay(seed)
      const best = cheapestOfAll(setup)
      const { cost } = boundDay(setup, { above: best, rounds: 60 })
      expect(cost, `day ${seed}`).toBeLessThanOrEqual(best + 1e-6)
      if (cost > 0.5 * best) near++
    }
    // It says something, too.
    expect(near).toBeGreaterThan(days / 2)
  })

  it('is never above what is found on days of all kinds', () => {
    for (let seed = 1; seed <= 16; seed++) {
      const setup = variedDay(seed)
      const found = solveDay(setup, { seed, steps: 3000 }).cost
      expect(boundDay(setup, { above: found, rounds: 8 }).cost, `day ${seed}`).toBeLessThanOrEqual(found + 1e-6)
    }
  })

  it('only rises with more rounds, is the same each time, and ends when asked', () => {
    const setup = generatedDay({ students: 12, instructors: 2, cars: 4 })
    const few = boundDay(setup, { above: 1000, rounds: 5 })
    const many = boundDay(setup, { above: 1000, rounds: 40 })
    expect(many.cost).toBeGreaterThanOrEqual(few.cost)
    expect(boundDay(setup, { above: 1000, rounds: 40 })).toEqual(many)
    expect(boundDay(setup, { above: 1000, rounds: 40, stop: ({ rounds }) => rounds >= 3 }).rounds).toBe(3)
  })
})
