import { describe, expect, it } from 'vitest'
import { overdueBy, type Recalled } from './spacing.ts'

const asked = (...answers: [string, boolean][]): Recalled => answers.map(([id, right]) => ({ id, right }))
/** A history that goes on with so many other things, all known. */
const then = (history: Recalled, others: number): Recalled => [
  ...history,
  ...asked(...Array.from({ length: others }, (_, k) => [`other ${k}`, true] as [string, boolean])),
]

describe('what comes back when', () => {
  it('is not known of what was never asked', () => {
    expect(overdueBy('a', [])).toBeNull()
    expect(overdueBy('a', asked(['b', true]))).toBeNull()
  })

  it('after a miss comes back after two others', () => {
    const missed = asked(['a', false])
    expect(overdueBy('a', then(missed, 1))).toBeLessThanOrEqual(0)
    expect(overdueBy('a', then(missed, 2))).toBeGreaterThan(0)
  })

  it('comes back three times as late for each time that it was known in a row, and at once again after a miss', () => {
    const distances = [1, 2, 3].map((streak) => {
      const known = asked(...Array.from({ length: streak }, () => ['a', true] as [string, boolean]))
      let others = 0
      while ((overdueBy('a', then(known, others)) ?? 0) <= 0) others++
      return others
    })
    expect(distances).toEqual([6, 18, 54])
    expect(overdueBy('a', then(asked(['a', true], ['a', true], ['a', false]), 2))).toBeGreaterThan(0)
  })

  it('counts only what was asked after it', () => {
    const before = then([], 30)
    expect(overdueBy('a', [...before, ...asked(['a', false])])).toBeLessThanOrEqual(0)
  })
})
