import { describe, expect, it } from 'vitest'
import { likelyMistakes, nextFocus, type Seen, tallySeen } from './focus.ts'

const seen = (cornerId: string, code: Seen['code'], run: number, by: Seen['by'] = 'log', worth_s = 0): Seen => ({
  cornerId,
  code,
  run,
  by,
  worth_s,
})

describe('what was seen', () => {
  it('is counted by corner and code, with runs counted once', () => {
    const tallies = tallySeen([
      seen('T1', 'apex-missed', 1, 'log', 0.1),
      seen('T1', 'apex-missed', 1, 'hand'),
      seen('T1', 'apex-missed', 3, 'log', 0.2),
      seen('T2', 'brake-over', 2),
    ])
    expect(tallies[0]).toEqual({ cornerId: 'T1', code: 'apex-missed', count: 3, runs: 2, lastRun: 3, worth_s: expect.closeTo(0.3, 9) })
    expect(tallies).toHaveLength(2)
  })
})

describe('the next focus', () => {
  it('puts safety first, however rare', () => {
    const focus = nextFocus([...Array.from({ length: 6 }, () => seen('T1', 'apex-missed', 3)), seen('T2', 'brake-late', 3)])
    expect(focus[0]).toMatchObject({ cornerId: 'T2', code: 'brake-late', reason: 'safety' })
  })

  it('lets what is long gone fade behind what is fresh', () => {
    const focus = nextFocus([
      seen('T1', 'apex-missed', 1),
      seen('T1', 'apex-missed', 1),
      seen('T2', 'turn-in-early', 9),
      seen('T2', 'turn-in-early', 9),
    ])
    expect(focus[0].cornerId).toBe('T2')
  })

  it('names one thing a corner, and nothing where nothing was seen', () => {
    const focus = nextFocus([seen('T1', 'apex-missed', 1), seen('T1', 'brake-over', 1), seen('T1', 'brake-over', 1)])
    expect(focus).toHaveLength(1)
    expect(focus[0].code).toBe('brake-over')
    expect(nextFocus([])).toEqual([])
  })

  it('says so when time is the reason', () => {
    expect(nextFocus([seen('T1', 'apex-missed', 1, 'log', 0.9)])[0].reason).toBe('costly')
  })
})

describe('likely mistakes for one touch', () => {
  it('are always six different ones, the student’s own here first', () => {
    const own = [seen('T3', 'eyes-near', 1), seen('T3', 'eyes-near', 2), seen('T3', 'brake-over', 2), seen('T5', 'tense', 2)]
    const codes = likelyMistakes(own, 'T3', true)
    expect(codes.slice(0, 2)).toEqual(['eyes-near', 'brake-over'])
    expect(new Set(codes).size).toBe(6)
    expect(codes).not.toContain('tense')
  })

  it('leave braking out where nobody brakes', () => {
    const codes = likelyMistakes([seen('T8', 'brake-late', 1)], 'T8', false)
    expect(codes).toHaveLength(6)
    expect(codes.some((c) => c.startsWith('brake'))).toBe(false)
  })
})
