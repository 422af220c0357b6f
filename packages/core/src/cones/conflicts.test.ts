import { describe, expect, it } from 'vitest'
import { demoVenuePlan, vehicles } from '../../fixtures/load.ts'
import { randomPlans } from '../../fixtures/random-plans.ts'
import { distanceAhead, signedDistance } from '../circuit/station.ts'
import { levelReaction_s } from '../day/level.ts'
import { markOf } from '../marks/mark.ts'
import type { Plan } from '../plan/plan.ts'
import { coneConflicts, isCured } from './conflicts.ts'
import { APART_M, type ConeEdits, placeCones } from './placement.ts'
import { coneSchemes } from './scheme.ts'
import { PAST_APEX_M } from './targets.ts'

const [scheme, oneBox] = coneSchemes
const reaction_s = levelReaction_s['first-day']

/** Random plans with a run-off outside every corner, some of them long. */
const plans: Plan[] = [...randomPlans(41, 80)].map((plan, k) => ({
  ...plan,
  ground: plan.corners.map((corner, c) => ({
    id: `r${c}`,
    kind: 'run-off' as const,
    name: '',
    side: corner.side === 'left' ? ('right' as const) : ('left' as const),
    from_m: corner.peak_m,
    to_m: (corner.end_m + 10 * (k % 4)) % plan.circuit.length_m,
    runOff: { surface: 'grass' as const, length_m: 20 },
  })),
}))

describe('cones of random plans', () => {
  it('never stand in needed run-off, not even the first of a group', () => {
    let groups = 0
    for (const plan of plans)
      for (const rules of [scheme, oneBox]) {
        const { cones, unplaced } = placeCones(plan, rules, { reaction_s })
        groups += cones.length
        const inRunOff = coneConflicts(plan, cones, [], reaction_s).filter((c) => c.conflict === 'run-off')
        expect(inRunOff, `${plan.vehicle.id} ${unplaced.length}`).toEqual([])
      }
    expect(groups).toBeGreaterThan(1000)
  })

  it('to act on stand past another corner’s apex, never before it because of reaction time, and are announced', () => {
    let moved = 0
    for (const plan of plans) {
      const { cones } = placeCones(plan, scheme, { reaction_s })
      const conflicts = coneConflicts(plan, cones, [], reaction_s)
      expect(conflicts.filter((c) => c.conflict === 'before-apex')).toEqual([])
      for (const c of conflicts) {
        if (c.conflict !== 'past-apex' && c.conflict !== 'at-apex') continue
        const mark = markOf(plan.marks, c.cornerId, c.kind as 'brake')
        const cone = cones.findLast((one) => one.groupId === c.groupId)
        if (!mark || !cone) throw new Error('No such cone')
        expect(signedDistance(cone.station_m, mark.station_m, plan.circuit.length_m)).toBeGreaterThan(-1e-6)
        if (!cone.moved.includes('other-apex')) continue
        moved++
        expect(c.lost_s).toBeLessThanOrEqual(reaction_s + 1e-9)
        expect(cones.some((one) => one.groupId === `${c.cornerId}-sighter-${c.kind}`)).toBe(true)
        if (c.conflict === 'past-apex') {
          const other = plan.turnings[plan.corners.findIndex((corner) => corner.id === c.otherCornerId)]
          const past_m = distanceAhead(plan.circuit.s_m[other.apex], cone.station_m, plan.circuit.length_m)
          const markPast_m = distanceAhead(plan.circuit.s_m[other.apex], mark.station_m, plan.circuit.length_m)
          expect(past_m).toBeGreaterThan(Math.min(PAST_APEX_M, markPast_m) - 1e-6)
        }
      }
    }
    expect(moved).toBeGreaterThan(5)
  })

  it('of two groups stand a metre apart', () => {
    let pairs = 0
    for (const plan of [...plans, ...vehicles.map((v) => demoVenuePlan({ pace: 0.75 }, v.id))]) {
      const { cones } = placeCones(plan, scheme, { reaction_s })
      const told = coneConflicts(plan, cones, [], reaction_s)
      for (const cone of cones)
        for (const other of cones) {
          if (cone.groupId >= other.groupId || Math.hypot(cone.x_m - other.x_m, cone.y_m - other.y_m) >= APART_M - 1e-6) continue
          pairs++
          const names = [cone.groupId, other.groupId]
          expect(told.some((c) => c.conflict === 'too-near' && names.includes(c.groupId) && names.includes(c.other.groupId))).toBe(true)
        }
    }
    expect(pairs).toBe(0)
  })
})

describe('cones moved by hand', () => {
  const plan = demoVenuePlan()
  const edits = (groupId: string, station_m: number, offset_m: number): ConeEdits => ({
    nudges: {},
    locks: { [groupId]: { station_m, offset_m } },
  })

  it('are told where they stand on another group’s cone', () => {
    const { cones } = placeCones(plan, scheme)
    const exit = cones.find((c) => c.groupId === 'T1-exit')
    if (!exit) throw new Error('T1 has no exit cone')
    const moved = placeCones(plan, scheme, { edits: edits('T2-brake', exit.station_m, exit.offset_m + 0.4) }).cones
    const conflicts = coneConflicts(plan, moved, [], 0)
    const near = conflicts.find((c) => c.conflict === 'too-near')
    expect(near && near.conflict === 'too-near' && near.distance_m).toBeCloseTo(0.4, 6)
    expect(conflicts.some((c) => c.groupId === 'T2-brake' && (c.conflict === 'before-apex' || c.conflict === 'too-near'))).toBe(true)
    expect(conflicts.every((c) => !isCured(c))).toBe(true)
  })
})
