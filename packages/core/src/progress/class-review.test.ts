import { describe, expect, it } from 'vitest'
import { cornersToReview, spreadOf } from './class-review.ts'

describe('a class looks at', () => {
  it('the corner first where most make the same mistake', () => {
    const tally = (cornerId: string, code: 'turn-in-early' | 'brake-late' | 'apex-missed', students: number) => ({
      cornerId,
      code,
      students,
      of: 8,
      suspect: false,
    })
    const picture = [
      tally('T10', 'turn-in-early', 3),
      tally('T3', 'brake-late', 5),
      tally('T2', 'brake-late', 3),
      tally('T2', 'apex-missed', 2),
      tally('T9', 'brake-late', 3),
    ]
    expect(cornersToReview(picture)).toEqual(['T3', 'T2', 'T9', 'T10'])
    expect(cornersToReview([])).toEqual([])
  })

  it('the spread of a group: its middle and what nine in ten lie between', () => {
    const values = Array.from({ length: 101 }, (_, k) => k - 50)
    expect(spreadOf(values)).toEqual({ low_m: expect.closeTo(-45, 9), middle_m: 0, high_m: expect.closeTo(45, 9), of: 101 })
    expect(spreadOf([4, 1, 3])).toMatchObject({ middle_m: 3 })
    expect(spreadOf([1, 2])).toBeNull()
  })
})
