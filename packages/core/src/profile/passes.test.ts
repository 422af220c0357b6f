import { describe, expect, it } from 'vitest'
import { fixtureCircuit, gripOnly, vehicle } from '../../fixtures/load.ts'
import { centreLine } from '../path/line.ts'
import { GRAVITY_MPS2 as g } from '../units/constants.ts'
import { type GripShare, uniformGrip } from './grip.ts'
import { brakeForward, latestBraking, type PassInput, rollForward } from './passes.ts'
import { solveProfile } from './solve-profile.ts'

const circuit = fixtureCircuit('stadium.csv')
const line = centreLine(circuit)
const input = (lambda: number, car = gripOnly()): PassInput => ({
  circuit,
  line,
  vehicle: car,
  grip: new Array<GripShare>(circuit.count).fill(uniformGrip(lambda)),
})
const noCeiling = new Float64Array(circuit.count).fill(1e3)
/** Stations of the start straight: from its first metre on, 60 of them (120 m). */
const FROM = 3
const COUNT = 60
const length_m = COUNT * circuit.step_m

describe('local passes along a path', () => {
  it('drive on with constant grip as v² = v₀² + 2as', () => {
    const speeds = rollForward(input(0.5), FROM, 10, noCeiling, COUNT)
    expect(speeds).toHaveLength(COUNT + 1)
    expect(speeds[COUNT]).toBeCloseTo(Math.sqrt(100 + 2 * 0.5 * g * length_m), 2)
  })

  it('never go above the ceiling, and meet the profile that it is', () => {
    const car = vehicle('hatchback')
    const profile = solveProfile(circuit, line, car, { grip: uniformGrip(0.8) })
    const own = { ...input(0.8, car) }
    const from = profile.speed_mps.indexOf(Math.min(...profile.speed_mps))
    const same = rollForward(own, from, profile.speed_mps[from], profile.speed_mps, 100)
    same.forEach((v, k) => {
      expect(v).toBeLessThanOrEqual(profile.speed_mps[(from + k) % circuit.count] + 1e-9)
    })
    const slower = rollForward(own, from, profile.speed_mps[from] - 1, profile.speed_mps, 100)
    for (let k = 0; k <= 100; k++) expect(slower[k]).toBeLessThanOrEqual(same[k] + 1e-9)
  })

  it('brake down as v² = v₀² − 2as, and stand still once they do', () => {
    const speeds = brakeForward(input(0.9), FROM, 30, COUNT)
    const stop_m = 900 / (2 * 0.9 * g)
    const before = Math.floor(stop_m / circuit.step_m)
    expect(speeds[before - 5]).toBeCloseTo(Math.sqrt(900 - 2 * 0.9 * g * (before - 5) * circuit.step_m), 2)
    expect(speeds[before + 2]).toBe(0)
    expect(speeds[COUNT]).toBe(0)
  })

  it('find the last place to brake from a speed, exactly, between stations too', () => {
    for (const [lambda, from, to] of [
      [0.9, 30, 12],
      [0.5, 25, 20],
      [1, 35, 30],
    ]) {
      const planned = new Float64Array(circuit.count).fill(from)
      const expected = (from * from - to * to) / (2 * lambda * g)
      const found = latestBraking(input(lambda), FROM + COUNT, to, planned, COUNT)
      expect(found).not.toBeNull()
      expect(Math.abs((found ?? 0) - expected)).toBeLessThan(0.05)
    }
  })

  it('find none within reach where the speed is too high', () => {
    expect(latestBraking(input(0.3), FROM + COUNT, 5, new Float64Array(circuit.count).fill(60), COUNT)).toBeNull()
  })
})
