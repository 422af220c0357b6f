import { describe, expect, it } from 'vitest'
import { fixtureText, vehicle } from '../../fixtures/load.ts'
import { stationIndex, wrapStation } from '../circuit/station.ts'
import { readCircuit } from '../formats/read-circuit.ts'
import { createPlanner, type PlanSource } from './planner.ts'

const source = (change: Partial<PlanSource['settings']> = {}, notes: PlanSource['notes'] = {}): PlanSource => ({
  circuitKey: 'lobes',
  survey: () => readCircuit(fixtureText('lobes.csv'), 'lobes'),
  notes,
  vehicle: vehicle('hatchback'),
  settings: { surface: 'dry', pace: 0.75, school: 'straight', ...change },
})

describe('the planner', () => {
  it('keeps circuits and lines by what they depend on', () => {
    const planner = createPlanner()
    const first = planner.plan(source())
    expect(planner.plan(source({ pace: 0.6, school: 'trail' })).line).toBe(first.line)
    const fast = planner.plan(source({ method: 'fast' }))
    // Only the fast line is chosen by braking style.
    const late = planner.plan(source({ method: 'late' }))
    expect(planner.plan(source({ method: 'late', school: 'trail' })).line).toBe(late.line)
    const trail = planner.plan(source({ method: 'fast', school: 'trail' }))
    expect(planner.plan(source({ method: 'fast', school: 'trail' })).line).toBe(trail.line)
    expect(planner.plan(source({ method: 'fast', pace: 0.6 })).line).not.toBe(fast.line)
    expect(fast.circuit).toBe(first.circuit)
  })

  it('renames corners without a new line, and solves again when the ground changes', () => {
    const planner = createPlanner()
    const plain = planner.plan(source())
    const named = planner.plan(source({}, { cornerNames: { T1: 'Boathouse' } }))
    expect(named.corners[0].name).toBe('Boathouse')
    expect(named.line).toBe(plain.line)
    const ground = [
      { id: 'x', kind: 'forbidden' as const, name: 'Rough', side: 'left' as const, from_m: 260, to_m: 300, near_m: 0, far_m: 3 },
    ]
    expect(planner.plan(source({}, { ground })).line).not.toBe(plain.line)
  })

  it('answers at once on the smoothest line, then on the last one of the method', () => {
    const planner = createPlanner()
    const before = planner.quick(source({ method: 'fast' }))
    expect(before.settings.method).toBe('fast')
    expect(before.line).toBe(planner.plan(source()).line)
    const fast = planner.plan(source({ method: 'fast' }))
    const after = planner.quick(source({ method: 'fast', pace: 0.6 }))
    expect(after.line).toBe(fast.line)
    expect(after.profile.lapTime_s).toBeGreaterThan(fast.profile.lapTime_s)
  })

  it('keeps so many circuits and no more, the one unused for longest leaving first', () => {
    const planner = createPlanner(2)
    let read = 0
    const of = (key: string) => ({
      ...source(),
      circuitKey: key,
      survey: () => {
        read++
        return readCircuit(fixtureText('lobes.csv'), key)
      },
    })
    for (const key of ['a', 'b', 'a', 'c', 'a']) planner.plan(of(key))
    expect(read).toBe(3)
    planner.plan(of('b'))
    expect(read).toBe(4)
  })

  it('sketches the line and the lap of a mark that is dragged, and keeps nothing of it', () => {
    const planner = createPlanner()
    const plan = planner.plan(source())
    const apex = plan.marks.find((m) => m.kind === 'apex')
    if (!apex) throw new Error('no apex')
    const pin = { station_m: apex.station_m, offset_m: 0.4 * apex.offset_m }
    const { offset_m, lapTime_s } = planner.follow(source(), [pin], pin.station_m)
    const at = stationIndex(plan.circuit, pin.station_m)
    expect(Math.abs(offset_m[at] - pin.offset_m)).toBeLessThan(0.1)
    // The plan that the place leads to, when it is let go.
    const solved = planner.plan(source({}, { pins: [pin] }))
    expect(Math.abs(offset_m[at] - solved.line.offset_m[at])).toBeLessThan(0.05)
    expect(Math.abs(lapTime_s / solved.profile.lapTime_s - 1)).toBeLessThan(1e-3)
    expect(lapTime_s).toBeGreaterThan(plan.profile.lapTime_s)
    expect(planner.plan(source()).line).toBe(plan.line)
  })

  it('follows with other methods too, and refuses a place that is no road', () => {
    const planner = createPlanner()
    const plan = planner.plan(source({ method: 'late' }))
    const apex = plan.marks.find((m) => m.kind === 'apex')
    if (!apex) throw new Error('no apex')
    const pin = { station_m: apex.station_m, offset_m: 0.7 * apex.offset_m }
    const { offset_m } = planner.follow(source({ method: 'late' }), [pin], pin.station_m)
    expect(Math.abs(offset_m[stationIndex(plan.circuit, pin.station_m)] - pin.offset_m)).toBeLessThan(0.1)
    // Far away from it nothing moves.
    const far = stationIndex(plan.circuit, wrapStation(pin.station_m + plan.circuit.length_m / 2, plan.circuit.length_m))
    expect(Math.abs(offset_m[far] - plan.line.offset_m[far])).toBeLessThan(0.02)
    const ground = [
      { id: 'x', kind: 'forbidden' as const, name: 'Rough', side: 'left' as const, from_m: 0, to_m: 40, near_m: 0, far_m: 40 },
    ]
    expect(() => planner.follow(source({}, { ground }), [{ station_m: 20, offset_m: 0 }], 20)).toThrow(/line-no-road|station/)
  })
})
