import { describe, expect, it } from 'vitest'
import { judgePractice } from './practice.ts'

const call = (start_s: number) =>
  ({
    key: 'T1 brake',
    cornerId: 'T1',
    kind: 'brake',
    phrase: 'brake',
    start_s,
    end_s: start_s + 1,
    mark_s: 0,
    markStation_m: 0,
    worth: 1,
    locked: false,
  }) as const

describe('a rehearsed lap', () => {
  it('tells how early or late each call came', () => {
    const { calls, extra } = judgePractice([call(5), call(9), call(20)], [5.3, 8.9])
    expect(calls.map((c) => c.late_s)).toEqual([expect.closeTo(0.3, 9), expect.closeTo(-0.1, 9), null])
    expect(extra).toBe(0)
  })

  it('gives a press to the nearest call only, and counts those that belong to none', () => {
    const { calls, extra } = judgePractice([call(5), call(6)], [5.92, 6.05, 40])
    expect(calls.map((c) => c.late_s)).toEqual([expect.closeTo(0.92, 9), expect.closeTo(0.05, 9)])
    expect(extra).toBe(1)
  })
})
