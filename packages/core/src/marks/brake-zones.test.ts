import { describe, expect, it } from 'vitest'
import { brakeMarkFaults } from '../../fixtures/brake-zones.ts'
import { demoPlan, fixtureCircuit, vehicle } from '../../fixtures/load.ts'
import { randomPlans } from '../../fixtures/random-plans.ts'
import { makeVenue } from '../circuit/venue.ts'
import { makePlan } from '../plan/make-plan.ts'
import type { PlanSettings } from '../plan/plan.ts'
import { brakingSchools } from './braking-school.ts'
import { markOf } from './mark.ts'
import { findMarks } from './marks.ts'

const planOf = (file: string, vehicleId: string, settings: PlanSettings) =>
  makePlan(makeVenue(fixtureCircuit(file)), vehicle(vehicleId), settings)

describe('the braking zone of a corner', () => {
  it('begins at a brake mark before the turn-in wherever a plan takes off more than 3 m/s (random plans, seed 7)', () => {
    let zones = 0
    for (const plan of randomPlans(7, 120)) {
      const checked = brakeMarkFaults(plan)
      expect(checked.faults).toEqual([])
      zones += checked.zones
    }
    expect(zones).toBeGreaterThan(400)
  })

  it.each([
    [
      'the hatchback on the short layout, blend, late line',
      'ostrel-mere-short.csv',
      'hatchback',
      { surface: 'dry', pace: 0.75, school: 'blend', method: 'late' },
    ],
    ['the same quicker', 'ostrel-mere-short.csv', 'hatchback', { surface: 'dry', pace: 0.85, school: 'blend', method: 'late' }],
    [
      'the motorcycle on the long layout, fast line',
      'ostrel-mere.geojson',
      'motorcycle',
      { surface: 'dry', pace: 0.6, school: 'straight', method: 'fast' },
    ],
  ] as const)('has its mark at T1 for %s', (_name, file, vehicleId, settings) => {
    const plan = planOf(file, vehicleId, settings)
    const [brake, turnIn, slowest] = (['brake', 'turn-in', 'slowest'] as const).map((kind) => markOf(plan.marks, 'T1', kind))
    expect(brake && turnIn && slowest).toBeDefined()
    expect(Math.sign((turnIn?.time_s ?? 0) - (brake?.time_s ?? 0))).toBe(1)
    // Nearly all of the speed is taken off from the mark on.
    expect((brake?.speed_mps ?? 0) * 3.6).toBeGreaterThan(150)
    expect((slowest?.speed_mps ?? 0) * 3.6).toBeLessThan(90)
  })

  it('says so where it begins before the apex of the corner before', () => {
    const linked = [...randomPlans(3, 60)].flatMap((plan) => plan.marks.filter((m) => m.beforeApexOf).map((m) => ({ plan, mark: m })))
    expect(linked.length).toBeGreaterThan(0)
    for (const { plan, mark } of linked) {
      expect(mark.kind).toBe('brake')
      const k = plan.corners.findIndex((c) => c.id === mark.cornerId)
      expect(mark.beforeApexOf).toBe(plan.corners[(k - 1 + plan.corners.length) % plan.corners.length].id)
    }
  })

  it('leaves a later dab a mark of its own, never the brake mark', () => {
    const again = [...randomPlans(11, 200)].flatMap((plan) =>
      plan.marks.filter((m) => m.kind === 'brake-again').map((m) => ({ m, brake: markOf(plan.marks, m.cornerId, 'brake') })),
    )
    for (const { m, brake } of again) expect(brake && brake.station_m !== m.station_m).toBe(true)
    expect(demoPlan().marks.filter((m) => m.kind === 'brake').length).toBeGreaterThan(5)
  })
})

describe('two corners that share one apex', () => {
  it.each(brakingSchools)('have one braking, for the first of them: %s', (school) => {
    const plan = demoPlan({ school })
    const [first, ...others] = plan.corners
    // The first corner numbered twice.
    const corners = [first, { ...first, id: 'T1b' }, ...others]
    const turnings = [plan.turnings[0], ...plan.turnings]
    const marks = findMarks({ circuit: plan.circuit, corners }, plan.vehicle, plan.line, plan.profile, turnings)
    expect(brakeMarkFaults({ ...plan, corners, turnings, marks }).faults).toEqual([])
    expect(markOf(marks, 'T1', 'brake')).toEqual({ ...markOf(plan.marks, 'T1', 'brake'), gear: expect.any(Number) })
    expect(markOf(marks, 'T1b', 'brake')).toBeUndefined()
  })
})
