import { describe, expect, it } from 'vitest'
import { gripOnly, vehicle } from '../../fixtures/load.ts'
import { cornerMetrics } from '../corner-numbers/corner-metrics.ts'
import { readCircuit } from '../formats/read-circuit.ts'
import { offsetBounds } from '../line/bounds.ts'
import { lineMethods } from '../line/line-method.ts'
import { markOf } from '../marks/mark.ts'
import { centreLine } from '../path/line.ts'
import { makePlan } from '../plan/make-plan.ts'
import { uniformGrip } from '../profile/grip.ts'
import { solveProfile } from '../profile/solve-profile.ts'
import { GRAVITY_MPS2 as g } from '../units/constants.ts'
import { buildCircuit } from './build-circuit.ts'
import { makeVenue } from './venue.ts'

const csv = (points: readonly (readonly [number, number])[], width_m = 5): string =>
  ['x_m,y_m,width_left_m,width_right_m', ...points.map(([x, y]) => `${x},${y},${width_m},${width_m}`)].join('\n')
const course = (points: readonly (readonly [number, number])[]) => buildCircuit(readCircuit(csv(points), 'course', { open: true }))

const straight = course(Array.from({ length: 101 }, (_, i) => [5 * i, 0] as const))
/** 300 m straight on, a quarter of a circle of 50 m to the left, 300 m on. */
const bend = course([
  ...Array.from({ length: 60 }, (_, i) => [5 * i, 0] as const),
  ...Array.from({ length: 16 }, (_, i) => [300 + 50 * Math.sin((i * Math.PI) / 32), 50 * (1 - Math.cos((i * Math.PI) / 32))] as const),
  ...Array.from({ length: 61 }, (_, i) => [350, 50 + 5 * i] as const),
])

describe('an open course', () => {
  it('has its own length and ends, and no way back', () => {
    expect(straight.length_m).toBeCloseTo(500, 6)
    expect(straight.s_m[straight.count - 1]).toBeCloseTo(500, 6)
    expect(centreLine(straight).length_m).toBeCloseTo(500, 6)
    expect(bend.length_m).toBeCloseTo(600 + 25 * Math.PI, 0)
    expect(() => buildCircuit(readCircuit(csv([[0, 0]]), 'x', { open: true }))).toThrow(
      expect.objectContaining({ code: 'circuit-too-few-points' }),
    )
  })

  it('is driven from rest or at a speed of entry, by the textbook', () => {
    const end = (entry_mps: number): number => {
      const profile = solveProfile(straight, centreLine(straight), gripOnly(), { grip: uniformGrip(0.5), entry_mps })
      expect(profile.speed_mps[0]).toBeCloseTo(Math.max(entry_mps, 0.5), 9)
      return profile.speed_mps[straight.count - 1]
    }
    for (const entry of [0.5, 10, 30]) expect(end(entry)).toBeCloseTo(Math.sqrt(entry ** 2 + 2 * 0.5 * g * 500), 1)
    const { lapTime_s } = solveProfile(straight, centreLine(straight), gripOnly(), { grip: uniformGrip(0.5), entry_mps: 20 })
    // Constant acceleration: s = v₀t + at²/2.
    const a = 0.5 * g
    expect(lapTime_s).toBeCloseTo((Math.sqrt(400 + 2 * a * 500) - 20) / a, 2)
  })

  it('turns with a radius that stays, and brakes for it', () => {
    const plan = makePlan(makeVenue(bend), vehicle('hatchback'), { surface: 'dry', pace: 0.85, school: 'straight', entry_mps: 15 })
    expect(plan.corners).toHaveLength(1)
    expect(plan.corners[0]).toMatchObject({ side: 'left' })
    const order = ['brake', 'turn-in', 'apex', 'throttle'].map((kind) => markOf(plan.marks, 'T1', kind as 'brake')?.station_m ?? Number.NaN)
    expect([...order].sort((x, y) => x - y)).toEqual(order)
    expect(cornerMetrics(plan)[0].grace?.time_s).toBeGreaterThan(0)
  })

  it.each(lineMethods)('has a line by every method between its edges: %s', (method) => {
    const car = vehicle('hatchback')
    const plan = makePlan(makeVenue(bend), car, { surface: 'dry', pace: 0.85, school: 'trail', method, entry_mps: 15 })
    const { low_m, high_m } = offsetBounds(bend, car.width_m)
    for (let i = 0; i < bend.count; i++) {
      expect(plan.line.offset_m[i]).toBeGreaterThan(low_m[i] - 1e-6)
      expect(plan.line.offset_m[i]).toBeLessThan(high_m[i] + 1e-6)
    }
    const smoothest = makePlan(makeVenue(bend), car, { surface: 'dry', pace: 0.85, school: 'trail', entry_mps: 15 })
    if (method === 'fast') expect(plan.profile.lapTime_s).toBeLessThan(smoothest.profile.lapTime_s + 0.02)
    if (method === 'shortest') expect(plan.line.length_m).toBeLessThan(smoothest.line.length_m)
  })

  it('can be driven the other way round from its other end', () => {
    const back = buildCircuit(
      readCircuit(csv([[0, 0], ...Array.from({ length: 99 }, (_, i) => [5 * (i + 1), i > 60 ? 1 : 0] as const)]), 'x', {
        open: true,
        reverse: true,
      }),
    )
    expect(back.x_m[0]).toBeGreaterThan(490)
    expect(back.x_m[back.count - 1]).toBeCloseTo(0, 6)
  })
})
