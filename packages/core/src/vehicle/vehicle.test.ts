import { describe, expect, it } from 'vitest'
import { vehicle, vehicles } from '../../fixtures/load.ts'
import { engineSpeed, gearAt } from './gears.ts'
import { checkVehicle } from './vehicle.ts'

describe('vehicles', () => {
  it('accept all that ship', () => {
    for (const one of vehicles) expect(() => checkVehicle(one)).not.toThrow()
  })

  it.each([
    ['a negative mass', { mass_kg: -1 }, 'mass_kg'],
    ['a friction of 9', { muY: 9 }, 'muY'],
    ['no gears', { gears: [] }, 'gears'],
    ['gears that fall', { gears: [20, 15] }, 'gear 2 (top speed)'],
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
})
