import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { gripOnly, vehicle } from '../../fixtures/load.ts'
import { GRAVITY_MPS2 as g } from '../units/constants.ts'
import { brakeLimit, corneringLimit, driveLimit, loadsAt, type RoadPoint, resistance, uniformGrip } from './grip.ts'

const flat: RoadPoint = { kappa_1pm: 0.02, grade_rad: 0, bank_rad: 0, kappaVertical_1pm: 0 }
const limit = (car: Parameters<typeof loadsAt>[0], road: RoadPoint, grip = 1): number => corneringLimit(loadsAt(car, road), grip * car.muY)

describe('cornering limit', () => {
  it('is √(μ g R) on the flat', () => {
    const car = gripOnly({ muY: 1.05 })
    expect(limit(car, flat)).toBeCloseTo(Math.sqrt(1.05 * g * 50), 9)
    expect(limit(car, { ...flat, kappa_1pm: -0.02 })).toBeCloseTo(Math.sqrt(1.05 * g * 50), 9)
  })

  it('follows v² = gR(μ cosβ + sinβ)/(cosβ − μ sinβ) on a helpful bank', () => {
    const car = gripOnly()
    for (const bank of [0.02, 0.08, 0.2]) {
      // The left edge higher helps right-hand bends.
      const expected = Math.sqrt((50 * g * (Math.cos(bank) + Math.sin(bank))) / (Math.cos(bank) - Math.sin(bank)))
      expect(limit(car, { ...flat, kappa_1pm: -0.02, bank_rad: bank })).toBeCloseTo(expected, 9)
      expect(limit(car, { ...flat, kappa_1pm: 0.02, bank_rad: -bank })).toBeCloseTo(expected, 9)
      expect(limit(car, { ...flat, kappa_1pm: 0.02, bank_rad: bank })).toBeLessThan(Math.sqrt(g * 50))
    }
  })

  it('falls over a crest, rises in a dip and with downforce', () => {
    const car = gripOnly()
    const level = limit(car, flat)
    expect(limit(car, { ...flat, kappaVertical_1pm: -0.005 })).toBeLessThan(level)
    expect(limit(car, { ...flat, kappaVertical_1pm: 0.005 })).toBeGreaterThan(level)
    expect(limit(gripOnly({ liftArea_m2: 2 }), flat)).toBeGreaterThan(level)
  })

  it('is the take-off speed on a straight crest, infinite on a straight, zero on a bank beyond friction', () => {
    const car = gripOnly()
    expect(limit(car, { ...flat, kappa_1pm: 0, kappaVertical_1pm: -0.01 })).toBeCloseTo(Math.sqrt(g / 0.01), 9)
    expect(limit(car, { ...flat, kappa_1pm: 0 })).toBe(Number.POSITIVE_INFINITY)
    expect(limit(car, { ...flat, bank_rad: 1 }, 0.5)).toBe(0)
  })

  it('is the first speed at which the demand meets the grip, by brute force (seed 3)', () => {
    const car = vehicle('single-seater')
    fc.assert(
      fc.property(
        fc.double({ min: -0.06, max: 0.06, noNaN: true }),
        fc.double({ min: -0.12, max: 0.12, noNaN: true }),
        fc.double({ min: -0.004, max: 0.004, noNaN: true }),
        fc.double({ min: 0.3, max: 1, noNaN: true }),
        (kappa_1pm, bank_rad, kappaVertical_1pm, grip) => {
          const loads = loadsAt(car, { kappa_1pm, bank_rad, kappaVertical_1pm, grade_rad: 0.03 })
          const found = corneringLimit(loads, grip * car.muY)
          const over = (v: number): boolean => {
            const support = loads.n0 + loads.n1 * v * v
            return support <= 0 || Math.abs(loads.y0 + loads.y1 * v * v) > grip * car.muY * support
          }
          let v = 0.05
          while (v < 130 && !over(v)) v += 0.05
          if (v < 130) expect(Math.abs(found - v)).toBeLessThan(0.06)
          else expect(found).toBeGreaterThan(129.9)
        },
      ),
      { seed: 3, numRuns: 150 },
    )
  })
})

describe('lengthways limits', () => {
  it('fill the ellipse that cornering leaves', () => {
    const car = gripOnly({ muX: 1.1, muY: 1 })
    const loads = loadsAt(car, flat)
    for (const share of [0, 0.3, 0.8, 0.99]) {
      const u = share * g * 50
      const rest = 1.1 * g * Math.sqrt(1 - share * share)
      expect(brakeLimit(car, loads, u, uniformGrip(1))).toBeCloseTo(rest, 9)
    }
    expect(brakeLimit(car, loads, 1.01 * g * 50, uniformGrip(1))).toBe(0)
  })

  it('hold drive to power, force and the driven axle, and braking to its own limit', () => {
    const car = vehicle('hatchback')
    const loads = loadsAt(car, { ...flat, kappa_1pm: 0 })
    expect(driveLimit(car, loads, 40 ** 2, uniformGrip(1))).toBeCloseTo(110_000 / 40 / 1250, 9)
    expect(driveLimit(car, loads, 10 ** 2, uniformGrip(1))).toBeCloseTo(6800 / 1250, 9)
    expect(driveLimit(car, loads, 10 ** 2, uniformGrip(0.5))).toBeCloseTo(0.58 * 0.5 * g, 9)
    expect(brakeLimit(vehicle('kart'), loadsAt(vehicle('kart'), { ...flat, kappa_1pm: 0 }), 100, uniformGrip(0.8))).toBeCloseTo(
      0.8 * 6.5,
      9,
    )
  })

  it('keep a motorcycle on both wheels', () => {
    const bike = vehicle('motorcycle', { power_W: 1_500_000, maxDriveForce_N: 60_000, muX: 3, maxBrake_mps2: 60 })
    const loads = loadsAt(bike, { ...flat, kappa_1pm: 0 })
    expect(driveLimit(bike, loads, 100, uniformGrip(1))).toBeCloseTo((g * 0.69) / 0.66, 6)
    expect(brakeLimit(bike, loads, 100, uniformGrip(1))).toBeCloseTo((g * (1.43 - 0.69)) / 0.66, 6)
  })

  it('resist with slope, air and rolling', () => {
    const car = vehicle('hatchback')
    const loads = loadsAt(car, { ...flat, kappa_1pm: 0, grade_rad: 0.05 })
    const expected = g * Math.sin(0.05) + (1.225 * 0.66 * 900) / (2 * 1250) + 0.013 * g * Math.cos(0.05)
    expect(resistance(car, loads, 900)).toBeCloseTo(expected, 9)
  })
})
