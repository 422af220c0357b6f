import { describe, expect, it } from 'vitest'
import { demoPlan, fixtureCircuit, gripOnly, kartSurvey, vehicle } from '../../fixtures/load.ts'
import { buildCircuit } from '../circuit/build-circuit.ts'
import type { GroundItem } from '../circuit/ground.ts'
import { distanceAhead, isWithin } from '../circuit/station.ts'
import { makeVenue } from '../circuit/venue.ts'
import { brakingSchools } from '../marks/braking-school.ts'
import { findTurnings, innerDistance } from '../path/turning.ts'
import { makePlan, planLine } from '../plan/make-plan.ts'
import type { PlanSettings } from '../plan/plan.ts'
import { uniformGrip } from '../profile/grip.ts'
import { offsetBounds } from './bounds.ts'
import { type LineMethod, lineMethods } from './line-method.ts'
import { solveLine } from './methods.ts'

const car = vehicle('hatchback')
const lobes = makeVenue(fixtureCircuit('lobes.csv'))
const settings: PlanSettings = { surface: 'dry', pace: 0.85, school: 'trail' }
const planBy = (method: LineMethod, change: Partial<PlanSettings> = {}) => makePlan(lobes, car, { ...settings, method, ...change })
const plans = Object.fromEntries(lineMethods.map((method) => [method, planBy(method)])) as Record<LineMethod, ReturnType<typeof planBy>>

describe('line methods', () => {
  it.each(lineMethods)('keep to the road: %s', (method) => {
    const { low_m, high_m } = offsetBounds(lobes.circuit, car.width_m)
    const { offset_m } = plans[method].line
    for (let i = 0; i < lobes.circuit.count; i++) {
      expect(offset_m[i]).toBeGreaterThan(low_m[i] - 1e-6)
      expect(offset_m[i]).toBeLessThan(high_m[i] + 1e-6)
    }
  })

  it('are each the best at what they are for', () => {
    for (const method of lineMethods) {
      const { line, profile } = plans[method]
      expect(line.length_m).toBeGreaterThanOrEqual(plans.shortest.line.length_m)
      expect(line.integralKappa2_1pm).toBeGreaterThan(0.9995 * plans.smoothest.line.integralKappa2_1pm)
      expect(profile.lapTime_s).toBeGreaterThan(0.9995 * plans.fast.profile.lapTime_s)
    }
    const price = (method: LineMethod): number => plans[method].profile.lapTime_s + 0.02 * plans[method].line.length_m
    expect(price('compact')).toBeLessThan(price('fast') + 1e-3)
    expect(plans.compact.line.length_m).toBeLessThan(plans.fast.line.length_m)
  })

  it('take a visibly shorter way on a kart track when compact, the more so the more a metre costs', () => {
    const track = makeVenue(buildCircuit(kartSurvey(0.75)))
    const kart = vehicle('kart')
    const lineBy = (method: LineMethod, perMetre_s?: number) => planLine(track, kart, { ...settings, pace: 0.75, method, perMetre_s })
    const fast = lineBy('fast')
    const apart_m = (line: typeof fast): number => Math.max(...line.offset_m.map((n, i) => Math.abs(n - fast.offset_m[i])))
    expect(apart_m(lineBy('compact'))).toBeGreaterThan(1)
    const lengths = [0, 0.05, 0.1, 0.2].map((price) => lineBy('compact', price).length_m)
    for (let i = 1; i < lengths.length; i++) expect(lengths[i]).toBeLessThan(lengths[i - 1])
  })

  it('are never quicker than the fast one, in any braking style: a motorcycle in the rain', () => {
    const short = makeVenue(fixtureCircuit('ostrel-mere-short.csv'))
    const bike = vehicle('motorcycle')
    for (const school of brakingSchools) {
      const wish: PlanSettings = { surface: 'wet', pace: 0.6, school }
      const times = lineMethods.map((method) => makePlan(short, bike, { ...wish, method }).profile.lapTime_s)
      expect(times[lineMethods.indexOf('fast')]).toBe(Math.min(...times))
    }
  })

  it('go along the inner edge of a stadium when they are short', () => {
    const circuit = fixtureCircuit('stadium.csv')
    const narrow = gripOnly({ width_m: 1 })
    const line = solveLine(circuit, makeVenue(circuit).corners, narrow, { method: 'shortest', grip: uniformGrip(1) })
    // Straights and half circles of R = 60 m less the room to the inner edge; the penalty on bending costs a little.
    const inner = circuit.widthLeft_m[0] - 0.5 - 0.5
    const expected = 2 * 300 + 2 * Math.PI * (60 - inner)
    expect(line.length_m).toBeGreaterThan(expected - 0.1)
    expect(line.length_m).toBeLessThan(1.002 * expected)
  })

  it('put the apexes of the late line downstream, for less than 4 % of the lap', () => {
    const { circuit, corners } = lobes
    const late = findTurnings(circuit, corners, plans.late.line)
    plans.fast.turnings.forEach(({ apex }, k) => {
      const moved = distanceAhead(circuit.s_m[apex], circuit.s_m[late[k].apex], circuit.length_m)
      expect(moved).toBeGreaterThan(2)
      expect(moved).toBeLessThan(40)
    })
    expect(plans.late.profile.lapTime_s).toBeLessThan(1.04 * plans.fast.profile.lapTime_s)
  })

  it('keep the wet line off the rubber of the dry one inside every corner', () => {
    plans.fast.turnings.forEach(({ apex }, k) => {
      const corner = lobes.corners[k]
      const dry = innerDistance(lobes.circuit, corner, plans.fast.line.offset_m[apex], apex)
      const wet = innerDistance(lobes.circuit, corner, plans.wet.line.offset_m[apex], apex)
      expect(wet - dry).toBeGreaterThan(1.5)
    })
  })

  it('tell of their steps and can be stopped', () => {
    let steps = 0
    const grip = uniformGrip(0.8)
    solveLine(lobes.circuit, lobes.corners, car, {
      method: 'fast',
      grip,
      onStep: () => {
        steps++
        return steps < 12
      },
    })
    expect(steps).toBeGreaterThan(8)
    expect(steps).toBeLessThan(25)
  })
})

describe('constraints of a line', () => {
  const item = (change: Partial<GroundItem>): GroundItem => ({
    id: 'x',
    kind: 'forbidden',
    name: 'Rough edge',
    side: 'left',
    from_m: 400,
    to_m: 480,
    near_m: 0,
    far_m: 3,
    ...change,
  })
  const withGround = (ground: GroundItem[], method: LineMethod = 'fast') => {
    const venue = { ...lobes, ground }
    return makePlan(venue, car, { ...settings, method })
  }
  const stations = (from_m: number, to_m: number): number[] =>
    Array.from({ length: lobes.circuit.count }, (_, i) => i).filter((i) =>
      isWithin(lobes.circuit.s_m[i], from_m, to_m, lobes.circuit.length_m),
    )

  it.each(['left', 'right'] as const)('keep the vehicle out of a forbidden band at the %s edge', (side) => {
    const { line, circuit } = withGround([item({ side })])
    for (const i of stations(402, 478)) {
      const edge = side === 'left' ? circuit.widthLeft_m[i] - line.offset_m[i] : circuit.widthRight_m[i] + line.offset_m[i]
      expect(edge).toBeGreaterThan(3 + car.width_m / 2 - 0.02)
    }
  })

  it('pass a band in the middle on its wider side, all along', () => {
    const { line, circuit } = withGround([item({ near_m: 3, far_m: 4, side: 'right' })])
    for (const i of stations(402, 478)) expect(circuit.widthRight_m[i] + line.offset_m[i]).toBeGreaterThan(4 + car.width_m / 2 - 0.02)
  })

  it('hold a lane', () => {
    const { line, circuit } = withGround([item({ kind: 'lane', near_m: 1, far_m: 5 })], 'smoothest')
    for (const i of stations(402, 478)) {
      const fromLeft = circuit.widthLeft_m[i] - line.offset_m[i]
      expect(fromLeft).toBeGreaterThan(1 + car.width_m / 2 - 0.02)
      expect(fromLeft).toBeLessThan(5 - car.width_m / 2 + 0.02)
    }
  })

  it('close painted bands to the wet line alone', () => {
    const paint = item({ kind: 'paint', name: 'Paint', far_m: 4 })
    const closed = (method: LineMethod): boolean => {
      const { line, circuit } = withGround([paint], method)
      return stations(402, 478).every((i) => circuit.widthLeft_m[i] - line.offset_m[i] > 4 + car.width_m / 2 - 0.02)
    }
    expect(closed('wet')).toBe(true)
    expect(closed('fast')).toBe(false)
  })

  it('lead through a mark that was dragged', () => {
    const free = plans.fast.line.offset_m[220]
    const wanted = free + (free > 0 ? -1.5 : 1.5)
    const { line } = planBy('fast', { pins: [{ station_m: lobes.circuit.s_m[220], offset_m: wanted }] })
    expect(Math.abs(line.offset_m[220] - wanted)).toBeLessThan(0.1)
  })

  it('say where no road is left, and what took it', () => {
    expect(() =>
      withGround([item({ side: 'left', far_m: 6.5 }), item({ id: 'y', name: 'Standing water', side: 'right', far_m: 4 })]),
    ).toThrow(
      expect.objectContaining({ code: 'line-no-road', place: 'station 400 m', data: expect.objectContaining({ cause: 'Standing water' }) }),
    )
    expect(() => planBy('fast', { pins: [{ station_m: 100, offset_m: 30 }] })).toThrow(
      expect.objectContaining({ code: 'line-no-road', place: 'station 100 m' }),
    )
  })

  it('leave more room to a vehicle with a greater margin of its own', () => {
    const wide = solveLine(lobes.circuit, lobes.corners, { ...car, margin_m: 1.2 }, { method: 'smoothest', grip: uniformGrip(1) })
    const min = Math.min(...wide.offset_m.map((n, i) => Math.min(lobes.circuit.widthLeft_m[i] - n, lobes.circuit.widthRight_m[i] + n)))
    expect(min).toBeGreaterThan(1.2 + car.width_m / 2 - 1e-6)
  })
})

describe('the fastest line of the demo', () => {
  it('is the same lap when surface or pace give the same grip', () => {
    const wet = demoPlan({ surface: 'wet', pace: 0.8, method: 'fast', school: 'trail' })
    const slow = demoPlan({ surface: 'dry', pace: 0.48, method: 'fast', school: 'trail' })
    expect(Math.abs(wet.profile.lapTime_s - slow.profile.lapTime_s)).toBeLessThan(1e-6)
  })
})
