import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { simulateDrive } from './drive.ts'
import { habitsInLap } from './learning.ts'

const plan = demoPlan()
const habits = [{ cornerId: 'T3', code: 'turn-in-early' as const, probability: 0.8, size: 12 }]

describe('a student who is told', () => {
  it('does it less from the next lap on, and more when tired', () => {
    const told = [{ cornerId: 'T3', code: 'turn-in-early' as const, lap: 2 }]
    expect(habitsInLap(habits, 2, told, 0)[0].probability).toBe(0.8)
    expect(habitsInLap(habits, 3, told, 0)[0].probability).toBeCloseTo(0.36, 9)
    expect(habitsInLap(habits, 3, [{ ...told[0], cornerId: 'T4' }], 0)[0].probability).toBe(0.8)
    expect(habitsInLap(habits, 6, [], 0.02)[0].probability).toBeCloseTo(0.88, 9)
    expect(habitsInLap(habits, 60, [], 0.1)[0].probability).toBe(0.95)
  })

  it('drives the laps before the word exactly as without it', () => {
    const base = { laps: 4, seed: 12, habits, rate_hz: 10 }
    const without = simulateDrive(plan, base)
    const withWord = simulateDrive(plan, { ...base, corrected: [{ cornerId: 'T3', code: 'turn-in-early', lap: 2 }] })
    expect(withWord.lapTimes_s.slice(0, 2)).toEqual(without.lapTimes_s.slice(0, 2))
    const longer = simulateDrive(plan, { ...base, laps: 5 })
    expect(longer.lapTimes_s.slice(0, 4)).toEqual(without.lapTimes_s)
  })

  it('makes fewer mistakes over many runs', () => {
    const made = (corrected: boolean): number =>
      Array.from(
        { length: 12 },
        (_, seed) =>
          simulateDrive(plan, {
            laps: 4,
            seed,
            habits,
            rate_hz: 2,
            ...(corrected ? { corrected: [1, 2].map((lap) => ({ cornerId: 'T3', code: 'turn-in-early' as const, lap })) } : {}),
          }).made.filter((m) => m.lap > 2).length,
      ).reduce((a, b) => a + b, 0)
    expect(made(true)).toBeLessThan(0.6 * made(false))
  })
})

describe('a simulated receiver and pace', () => {
  it('is silent now and then, and its stamps still rise', () => {
    const { log } = simulateDrive(plan, { laps: 3, seed: 5, dropOuts: 2 })
    const gaps = Array.from(log.time_s.subarray(1), (t, i) => t - log.time_s[i])
    expect(Math.min(...gaps)).toBeGreaterThan(0)
    expect(gaps.filter((g) => g > 1.5).length).toBeGreaterThan(1)
    expect(log.time_s.length).toBe(log.lat_deg.length)
  })

  it('drives each lap at the pace wanted', () => {
    const { lapTimes_s } = simulateDrive(plan, { laps: 3, seed: 5, paceOf: (lap) => (lap === 1 ? 0.45 : 0.75) })
    expect(lapTimes_s[0]).toBeGreaterThan(1.12 * lapTimes_s[1])
    expect(Math.abs(lapTimes_s[1] / plan.profile.lapTime_s - 1)).toBeLessThan(0.02)
  })
})
