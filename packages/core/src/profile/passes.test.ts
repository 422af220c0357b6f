import { describe, expect, it } from 'vitest'
import { fixtureCircuit, gripOnly } from '../../fixtures/load.ts'
import { centreLine } from '../path/line.ts'
import { GRAVITY_MPS2 as g } from '../units/constants.ts'
import { uniformGrip } from './grip.ts'
import { brakeForward, latestBraking, type PassInput, rollForward } from './passes.ts'

const circuit = fixtureCircuit('stadium.csv')
const line = centreLine(circuit)
const car = gripOnly({ power_W: 120_000, maxDriveForce_N: 60_000 })
const pass = (change: Partial<PassInput> = {}): PassInput => ({
  circuit,
  line,
  vehicle: car,
  grip: new Array(circuit.count).fill(uniformGrip(1)),
  ...change,
})
const free = new Float64Array(circuit.count).fill(Number.POSITIVE_INFINITY)
const from = 5
const count = 60
const length_m = count * circuit.step_m

describe('a local pass on the straight of the stadium', () => {
  it('drives on at constant power as the textbook does: v³ grows by 3P·s/m', () => {
    const speeds = rollForward(pass(), from, 20, free, count)
    const expected = Math.cbrt(20 ** 3 + (3 * car.power_W * length_m) / car.mass_kg)
    expect(Math.abs(speeds[count] - expected) / expected).toBeLessThan(1e-3)
  })

  it('uses a share of the engine where the throttle is kept at one', () => {
    for (const throttle of [0, 0.3, 0.7]) {
      const speeds = rollForward(pass({ throttle }), from, 20, free, count)
      const expected = Math.cbrt(20 ** 3 + (3 * throttle * car.power_W * length_m) / car.mass_kg)
      expect(Math.abs(speeds[count] - expected) / expected).toBeLessThan(1e-3)
    }
  })

  it('never rises above a ceiling', () => {
    const speeds = rollForward(pass(), from, 20, new Float64Array(circuit.count).fill(24), count)
    expect(Math.max(...speeds)).toBe(24)
  })

  it('brakes by v² = u² − 2μg·s, and stands when nothing is left', () => {
    const speeds = brakeForward(pass(), from, 30, count)
    const k = 20
    const expected = Math.sqrt(30 ** 2 - 2 * g * k * circuit.step_m * car.muX)
    expect(Math.abs(speeds[k] - expected) / expected).toBeLessThan(2e-3)
    expect(speeds[count]).toBe(0)
  })

  it('finds the last place to brake from as the difference of two energies', () => {
    const planned = new Float64Array(circuit.count).fill(28)
    const back_m = latestBraking(pass(), from + count, 16, planned, count)
    const expected = (28 ** 2 - 16 ** 2) / (2 * g * car.muX)
    expect(back_m).not.toBeNull()
    expect(Math.abs((back_m ?? 0) - expected)).toBeLessThan(0.3)
    // Too little road to slow down from such a speed.
    expect(latestBraking(pass(), from + 10, 5, new Float64Array(circuit.count).fill(60), 9)).toBeNull()
  })
})
