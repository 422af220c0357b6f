import { describe, expect, it } from 'vitest'
import { type LapMiss, paceAdvice, paceCeiling } from './pace-step.ts'

const miss = (lap: number, code: LapMiss['code'], cornerId = 'T1'): LapMiss => ({ lap, code, cornerId })

describe('advice on the pace', () => {
  it('is to stay while little is known', () => {
    expect(paceAdvice(0.6, [1, 2], [], 0.85)).toEqual({ step: 'stay', to: null, reason: null })
    expect(paceAdvice(0.6, [1], [miss(1, 'turn-in-early')], 0.85).step).toBe('stay')
  })

  it('is a step down after two missed marks in one lap', () => {
    const advice = paceAdvice(0.6, [1, 2], [miss(2, 'turn-in-early'), miss(2, 'apex-missed', 'T5')], 0.85)
    expect(advice).toEqual({ step: 'down', to: 0.45, reason: { kind: 'two-misses', lap: 2 } })
    expect(paceAdvice(0.6, [1, 2], [miss(1, 'turn-in-early'), miss(2, 'apex-missed')], 0.85).step).toBe('stay')
    expect(paceAdvice(0.6, [1, 2], [miss(2, 'throttle-early'), miss(2, 'tense')], 0.85).step).toBe('stay')
  })

  it('is a step down after the same safety mistake twice, in whatever laps and corners', () => {
    const advice = paceAdvice(0.75, [1, 2, 3], [miss(1, 'brake-late'), miss(3, 'brake-late', 'T4')], 0.85)
    expect(advice).toMatchObject({ step: 'down', to: 0.6, reason: { kind: 'same-safety-mistake', code: 'brake-late' } })
    expect(paceAdvice(0.75, [1, 2, 3], [miss(1, 'brake-late'), miss(3, 'exit-wide')], 0.85).step).toBe('stay')
  })

  it('is a step up after three clean laps on end, never above the ceiling', () => {
    expect(paceAdvice(0.6, [3, 4, 5], [miss(2, 'brake-late')], 0.85)).toMatchObject({ step: 'up', to: 0.75 })
    expect(paceAdvice(0.6, [2, 3, 4], [miss(2, 'tense')], 0.85).step).toBe('stay')
    expect(paceAdvice(0.75, [1, 2, 3], [], 0.75)).toEqual({ step: 'stay', to: null, reason: { kind: 'at-ceiling', laps: 3 } })
  })

  it('has nowhere to go below the slowest pace, and says why all the same', () => {
    expect(paceAdvice(0.45, [1], [miss(1, 'turn-in-early'), miss(1, 'brake-late')], 0.85)).toMatchObject({
      step: 'stay',
      to: null,
      reason: { kind: 'two-misses' },
    })
  })

  it('knows that the ceiling falls with the grip', () => {
    expect([paceCeiling('dry'), paceCeiling('damp'), paceCeiling('wet')]).toEqual([0.85, 0.75, 0.6])
  })
})
