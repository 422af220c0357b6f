import { describe, expect, it } from 'vitest'
import { fixtureText, vehicle } from '../../fixtures/load.ts'
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
})
