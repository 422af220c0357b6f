import { spreadOf } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { spreadInWords } from './class-review.tsx'

describe('where a group turned in', () => {
  it('is said from the earliest to the latest, with where most did', () => {
    const early = spreadOf([-12, -10, -9, -8, -8, -7, -6, 3])
    expect(spreadInWords(early)).toMatch(
      /^The group turned in from 11 m early to 0 m late|from 11 m early to .*, most around 8 m early: 8 times through\.$/,
    )
    expect(spreadInWords({ low_m: -4.2, middle_m: 0.1, high_m: 6.8, of: 20 })).toBe(
      'The group turned in from 4 m early to 7 m late, most around on the mark: 20 times through.',
    )
  })

  it('is one place where all are alike, and unknown with too few', () => {
    expect(spreadInWords({ low_m: -0.2, middle_m: 0, high_m: 0.3, of: 22 })).toBe('The group turned in on the mark: 22 times through.')
    expect(spreadInWords(spreadOf([1, 2]))).toBe('Too few logs to say where the group turned in.')
  })
})
