import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { heaviestSet, type Span, type SpanLimits } from './heaviest-set.ts'

const apart = (a: Span, b: Span, { gap_s, period_s }: SpanLimits): boolean => {
  const clear = (shift: number): boolean => a.start_s + shift >= b.end_s + gap_s - 1e-9 || b.start_s >= a.end_s + shift + gap_s - 1e-9
  return [0, ...(period_s === null ? [] : [period_s, -period_s, 2 * period_s, -2 * period_s])].every(clear)
}

const allowed = (spans: readonly Span[], chosen: readonly number[], limits: SpanLimits): boolean =>
  chosen.length <= limits.inAll &&
  chosen.every((i) => chosen.filter((j) => spans[j].group === spans[i].group).length <= limits.perGroup) &&
  chosen.every((i, k) => chosen.slice(k + 1).every((j) => apart(spans[i], spans[j], limits)))

/** The greatest worth among all subsets. */
const bruteForce = (spans: readonly Span[], limits: SpanLimits): number => {
  let best = 0
  for (let bits = 0; bits < 2 ** spans.length; bits++) {
    const chosen = spans.map((_, i) => i).filter((i) => (bits >> i) & 1)
    const worth = chosen.reduce((sum, i) => sum + spans[i].worth, 0)
    if (worth > best && allowed(spans, chosen, limits)) best = worth
  }
  return best
}

const span = fc
  .record({
    start: fc.integer({ min: -20, max: 190 }),
    length: fc.integer({ min: 2, max: 45 }),
    worth: fc.integer({ min: 1, max: 50 }),
    group: fc.integer({ min: 0, max: 3 }),
  })
  .map(({ start, length, worth, group }): Span => ({ start_s: start / 10, end_s: (start + length) / 10, worth, group }))

describe('the heaviest set of spans', () => {
  it.each([
    ['an open lap', null],
    ['a closed lap', 20],
  ])('is that of trying all subsets, on %s, whatever the caps (seed 61)', (_, period_s) => {
    fc.assert(
      fc.property(
        fc.array(span, { maxLength: 9 }),
        fc.integer({ min: 1, max: 3 }),
        fc.integer({ min: 1, max: 6 }),
        (spans, perGroup, inAll) => {
          const limits = { gap_s: 0.3, period_s, perGroup, inAll }
          const chosen = heaviestSet(spans, limits)
          expect(allowed(spans, chosen, limits)).toBe(true)
          expect(chosen.reduce((sum, i) => sum + spans[i].worth, 0)).toBeCloseTo(bruteForce(spans, limits), 9)
        },
      ),
      { seed: 61, numRuns: 250 },
    )
  })

  it('chooses between the spans over the line where something is always being said', () => {
    const spans = [0, 4, 8, 12, 16].map((start_s, i) => ({ start_s, end_s: start_s + 5, worth: i === 4 ? 10 : 3, group: i }))
    const limits = { gap_s: 0, period_s: 20, perGroup: 1, inAll: 9 }
    const chosen = heaviestSet(spans, limits)
    expect(chosen).toContain(4)
    expect(chosen.reduce((sum, i) => sum + spans[i].worth, 0)).toBe(bruteForce(spans, limits))
  })

  it('chooses nothing where nothing may be said', () => {
    const one = { start_s: 1, end_s: 2, worth: 5, group: 0 }
    expect(heaviestSet([one], { gap_s: 0.3, period_s: null, perGroup: 0, inAll: 5 })).toEqual([])
    expect(heaviestSet([], { gap_s: 0.3, period_s: 60, perGroup: 1, inAll: 5 })).toEqual([])
    // Longer than the lap: it would run into itself.
    expect(heaviestSet([{ ...one, end_s: 9 }], { gap_s: 0.3, period_s: 6, perGroup: 1, inAll: 5 })).toEqual([])
  })
})
