import { describe, expect, it } from 'vitest'
import { missRates } from './miss-rate.ts'

describe('how often a student misses a mark', () => {
  const seen = (run: number, cornerId: string, code: 'brake-late' | 'apex-missed') => ({ run, cornerId, code, by: 'hand' as const })

  it('counts the last three runs, drawn towards one half', () => {
    const rate = missRates([
      seen(1, 'T1', 'brake-late'),
      seen(2, 'T2', 'brake-late'),
      seen(3, 'T2', 'brake-late'),
      seen(4, 'T2', 'apex-missed'),
    ])
    expect(rate('T2', 'brake')).toBeCloseTo(2.5 / 4, 9)
    expect(rate('T1', 'brake')).toBeCloseTo(0.5 / 4, 9)
    expect(rate('T2', 'apex')).toBeCloseTo(1.5 / 4, 9)
  })

  it('is one half for somebody who was never seen', () => {
    expect(missRates([])('T1', 'brake')).toBe(0.5)
  })
})
