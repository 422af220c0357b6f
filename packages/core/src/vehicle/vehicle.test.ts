import { describe, expect, it } from 'vitest'
import { gripOnly, vehicle, vehicles } from '../../fixtures/load.ts'
import { vehicleSummary } from '../profile/vehicle-summary.ts'
import { engineSpeed, gearAt } from './gears.ts'
import { vehicleTemplates } from './templates.ts'
import { checkVehicle } from './vehicle.ts'

describe('vehicles', () => {
  it('accept all that ship', () => {
    for (const one of vehicles) expect(() => checkVehicle(one)).not.toThrow()
  })

  it.each([
    ['a negative mass', { mass_kg: -1 }, 'mass_kg'],
    ['a friction of 9', { muY: 9 }, 'muY'],
    ['no gears', { gears: [] }, 'gears'],
    ['gears that fall', { gears: [20, 15] }, 'gears, 2'],
    ['a motorcycle without a centre of mass', { kind: 'motorcycle' as const, cgHeight_m: undefined }, 'wheelbase_m'],
  ])('refuse %s with the field', (_name, change, place) => {
    expect(() => checkVehicle(vehicle('hatchback', change))).toThrow(expect.objectContaining({ code: 'vehicle-range', place }))
  })

  it('take the lowest gear that reaches a speed', () => {
    const car = vehicle('hatchback')
    expect([5, 15, 15.1, 48, 90].map((v) => gearAt(car, v))).toEqual([1, 1, 2, 4, 6])
    expect(engineSpeed(car, 15, 1)).toBe(6200)
    expect(engineSpeed(car, 13, 2)).toBe(3100)
  })

  it('have templates of each kind that are plausible themselves', () => {
    for (const template of Object.values(vehicleTemplates)) expect(() => checkVehicle({ ...template, id: 'x' })).not.toThrow()
  })

  it('say in words what they can do, as the textbook has it', () => {
    // Grip alone: constant deceleration of 1 g, v²/2g from 100 km/h; constant force to 100 km/h.
    const plain = gripOnly({ maxDriveForce_N: 5000, muX: 1, muY: 1, mass_kg: 1000 })
    const summary = vehicleSummary(plain)
    const v = 100 / 3.6
    expect(summary.stopFrom100_m).toBeCloseTo((v * v) / (2 * 9.80665), 1)
    expect(summary.zeroTo100_s).toBeCloseTo(v / 5, 1)
    expect(summary.corner_g).toBeCloseTo(1, 9)
    const kart = vehicleSummary(vehicle('kart'))
    expect(kart.topSpeed_mps).toBeGreaterThan(20)
    expect(vehicleSummary(vehicle('motorcycle')).lean_deg).toBeCloseTo(47.7, 1)
    // Power P against drag alone tops out where P = ½ρ·CdA·v³.
    const draggy = gripOnly({ dragArea_m2: 1, power_W: 100_000 })
    expect(vehicleSummary(draggy).topSpeed_mps).toBeCloseTo((100_000 / (0.5 * 1.225)) ** (1 / 3), 0)
  })
})
