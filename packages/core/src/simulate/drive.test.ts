import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { tangentPlane } from '../circuit/geodesy.ts'
import { seededRandom } from '../units/random.ts'
import { simulateDrive } from './drive.ts'
import { habitsOf, seedOf } from './habits.ts'

const plan = demoPlan()

describe('the simulated student', () => {
  it('drives the same run for the same seed, another for another', () => {
    const one = simulateDrive(plan, { laps: 2, seed: 5, noise_m: 0.3, habits: habitsOf(1, plan, 0) })
    const again = simulateDrive(plan, { laps: 2, seed: 5, noise_m: 0.3, habits: habitsOf(1, plan, 0) })
    const other = simulateDrive(plan, { laps: 2, seed: 6, noise_m: 0.3, habits: habitsOf(1, plan, 0) })
    expect(again.log).toEqual(one.log)
    expect(again.made).toEqual(one.made)
    expect(other.lapTimes_s).not.toEqual(one.lapTimes_s)
  })

  it('keeps near the planned lap time, and on the road when it makes no mistake', () => {
    const { lapTimes_s } = simulateDrive(plan, { laps: 4, seed: 2 })
    for (const time of lapTimes_s) expect(Math.abs(time / plan.profile.lapTime_s - 1)).toBeLessThan(0.02)
  })

  it('moves without jumps, and its speed is the way it goes', () => {
    const { log } = simulateDrive(plan, { laps: 2, seed: 3 })
    const plane = tangentPlane(plan.circuit.origin ?? { lat_deg: 0, lon_deg: 0 })
    const at = (i: number) => plane.toPlane(log.lat_deg[i], log.lon_deg[i], log.ele_m[i])
    for (let i = 1; i < log.time_s.length; i++) {
      const [a, b] = [at(i - 1), at(i)]
      const way = Math.hypot(b.x_m - a.x_m, b.y_m - a.y_m, log.ele_m[i] - log.ele_m[i - 1])
      const mean = ((log.speed_mps?.[i] ?? 0) + (log.speed_mps?.[i - 1] ?? 0)) / 2
      expect(Math.abs(way - mean * 0.1)).toBeLessThan(0.35)
    }
  })

  it('never presses both pedals, and makes its habits more often without skill', () => {
    const { log } = simulateDrive(plan, { laps: 1, seed: 3 })
    for (let i = 0; i < log.time_s.length; i++) expect(Math.min(log.throttle_pct?.[i] ?? 0, log.brake_bar?.[i] ?? 0)).toBe(0)
    const made = (skill: number): number =>
      [1, 2, 3].reduce((sum, seed) => sum + simulateDrive(plan, { laps: 6, seed, habits: habitsOf(seed, plan, skill) }).made.length, 0)
    expect(made(0)).toBeGreaterThan(made(1))
  })
})

describe('seeded randomness', () => {
  it('is uniform and normal enough (seed 99)', () => {
    const random = seededRandom(99)
    const n = 20_000
    const u = Array.from({ length: n }, random.uniform)
    const z = Array.from({ length: n }, random.normal)
    const mean = (a: number[]): number => a.reduce((s, v) => s + v, 0) / a.length
    expect(mean(u)).toBeCloseTo(0.5, 1)
    expect(Math.min(...u)).toBeGreaterThanOrEqual(0)
    expect(Math.max(...u)).toBeLessThan(1)
    expect(Math.abs(mean(z))).toBeLessThan(0.03)
    expect(Math.abs(mean(z.map((v) => v * v)) - 1)).toBeLessThan(0.04)
  })

  it('makes the same seed of the same text', () => {
    expect(seedOf('imke')).toBe(seedOf('imke'))
    expect(seedOf('imke')).not.toBe(seedOf('pia'))
  })
})
