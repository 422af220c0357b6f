import { describe, expect, it } from 'vitest'
import { demoPlan, fixtureCircuit, gripOnly, vehicles } from '../../fixtures/load.ts'
import { distanceAhead } from '../circuit/station.ts'
import { makeVenue } from '../circuit/venue.ts'
import { centreLine } from '../path/line.ts'
import { EXIT_NEAR_M, innerDistance, outerDistance } from '../path/turning.ts'
import { planOnLine } from '../plan/make-plan.ts'
import { GRAVITY_MPS2 as g } from '../units/constants.ts'
import { markOf } from './mark.ts'
import { TOUCH_MPS2 } from './touch.ts'

describe('marks of a corner', () => {
  it('put the brake point where the textbook does, on the stadium', () => {
    const circuit = fixtureCircuit('stadium.csv')
    const car = gripOnly({ power_W: 150_000, maxDriveForce_N: 9000 })
    const plan = planOnLine(makeVenue(circuit), car, { surface: 'dry', pace: 0.8, school: 'straight' }, centreLine(circuit))
    for (const corner of plan.corners) {
      const brake = markOf(plan.marks, corner.id, 'brake')
      const release = markOf(plan.marks, corner.id, 'release')
      if (!brake || !release) throw new Error('No braking zone')
      const expected = (brake.speed_mps ** 2 - release.speed_mps ** 2) / (2 * 0.8 * g)
      expect(Math.abs(distanceAhead(brake.station_m, release.station_m, circuit.length_m) - expected)).toBeLessThan(5)
    }
  })

  it.each(vehicles.map((v) => v.id))('come in order, each once, with plausible numbers: %s', (id) => {
    const plan = demoPlan({ pace: 0.85, school: 'trail' }, id)
    const { circuit } = plan
    for (const corner of plan.corners) {
      const own = plan.marks.filter((m) => m.cornerId === corner.id)
      expect(new Set(own.map((m) => m.kind)).size).toBe(own.length)
      expect(own.some((m) => m.kind === 'turn-in') && own.some((m) => m.kind === 'apex') && own.some((m) => m.kind === 'slowest')).toBe(
        true,
      )
      for (let k = 1; k < own.length; k++)
        expect(distanceAhead(own[k - 1].station_m, own[k].station_m, circuit.length_m)).toBeLessThan(circuit.length_m / 2)
      for (const mark of own) expect(mark.gear).toBeGreaterThan(0)
    }
  })

  it('have their apex at the inner edge and their exit at the outer one', () => {
    const plan = demoPlan()
    plan.corners.forEach((corner, k) => {
      const { apex, exit, turnIn } = plan.turnings[k]
      const own = innerDistance(plan.circuit, corner, plan.line.offset_m[apex], apex)
      for (let i = turnIn; i !== apex; i = (i + 1) % plan.circuit.count)
        expect(innerDistance(plan.circuit, corner, plan.line.offset_m[i], i)).toBeGreaterThan(own - 0.031)
      if (exit !== null) expect(outerDistance(plan.circuit, corner, plan.line.offset_m[exit], exit)).toBeLessThan(EXIT_NEAR_M)
    })
  })

  it('move up the road in the wet and down it at a lower pace of nothing else', () => {
    const dry = markOf(demoPlan().marks, 'T1', 'brake')
    const wet = markOf(demoPlan({ surface: 'wet' }).marks, 'T1', 'brake')
    const quick = markOf(demoPlan({ pace: 0.85 }).marks, 'T1', 'brake')
    expect(wet?.station_m).toBeLessThan((dry?.station_m ?? 0) - 20)
    expect(quick?.station_m).toBeGreaterThan(dry?.station_m ?? 0)
  })
})

describe('schools of braking', () => {
  const brakedInCorner = (school: 'straight' | 'blend' | 'trail'): number => {
    const plan = demoPlan({ school })
    let max = 0
    for (const { turnIn, apex } of plan.turnings)
      for (
        let i = (turnIn + 2) % plan.circuit.count;
        i !== (apex - 2 + plan.circuit.count) % plan.circuit.count;
        i = (i + 1) % plan.circuit.count
      )
        max = Math.max(max, -plan.profile.ax_mps2[i] / g)
    return max
  }

  it('end braking before turn-in, lightly after it, or at the apex', () => {
    const [straight, blend, trail] = [brakedInCorner('straight'), brakedInCorner('blend'), brakedInCorner('trail')]
    expect(straight * g).toBeLessThan(TOUCH_MPS2)
    expect(blend).toBeGreaterThan(0.1)
    expect(trail).toBeGreaterThan(blend)
  })

  it('gain time in that order', () => {
    const times = (['straight', 'blend', 'trail'] as const).map((school) => demoPlan({ school }).profile.lapTime_s)
    expect(times[0]).toBeGreaterThan(times[1])
    expect(times[1]).toBeGreaterThan(times[2])
  })

  it('refuse a pace outside 0 to 1', () => {
    expect(() => demoPlan({ pace: 1.2 })).toThrow(expect.objectContaining({ code: 'setting-range' }))
  })
})
