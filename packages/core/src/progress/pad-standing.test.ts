import { describe, expect, it } from 'vitest'
import { type PadAttempt, padFocus, padStandings } from './pad-standing.ts'

const attempt = (drill: PadAttempt['drill'], result: PadAttempt['result'], said: string | null = null): PadAttempt => ({
  date: '2027-05-15',
  drill,
  result,
  said,
})

describe('how somebody stands on the pad', () => {
  const attempts = [
    attempt('braking-box', 'in-box'),
    attempt('slalom', 'cone', 'Look one cone further'),
    attempt('slalom', 'clean'),
    attempt('slalom', 'cone'),
    attempt('slalom', 'off-line'),
    attempt('braking-box', 'over'),
  ]
  it('counts what was on target, and keeps the newest sentence', () => {
    expect(padStandings(attempts)).toEqual([
      { drill: 'braking-box', attempts: 2, onTarget: 1, said: null },
      { drill: 'slalom', attempts: 4, onTarget: 1, said: 'Look one cone further' },
    ])
  })

  it('does again first what mostly failed, after enough attempts', () => {
    expect(padFocus(padStandings(attempts))?.drill).toBe('slalom')
    expect(padFocus(padStandings(attempts.slice(0, 3)))).toBeNull()
    expect(padFocus([])).toBeNull()
  })
})
