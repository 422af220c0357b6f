import { describe, expect, it } from 'vitest'
import { demoPlan, demoVenuePlan } from '../../fixtures/load.ts'
import { cornerOf } from '../circuit/corners.ts'
import type { GroundItem } from '../circuit/ground.ts'
import { distanceAhead, isWithin } from '../circuit/station.ts'
import { neededRunOffs } from '../corner-numbers/safety.ts'
import { markOf } from './mark.ts'

describe('run-offs that are needed', () => {
  const plan = demoVenuePlan()
  const needed = neededRunOffs(plan)

  it('lie on the outer side of their corner, within the run-off that is noted there', () => {
    expect(needed.length).toBeGreaterThan(5)
    for (const r of needed) {
      const corner = cornerOf(plan.corners, r.cornerId)
      expect(r.side).not.toBe(corner?.side)
      const noted = plan.ground.filter((g) => g.kind === 'run-off' && (g.side === r.side || g.side === 'both'))
      expect(noted.some((g) => isWithin(r.to_m, g.from_m, g.to_m, plan.circuit.length_m))).toBe(true)
    }
  })

  it('begin behind the turn-in: whoever turns there needs nothing yet', () => {
    for (const r of needed) {
      const turnIn = markOf(plan.marks, r.cornerId, 'turn-in')
      expect(distanceAhead(turnIn?.station_m ?? 0, r.from_m, plan.circuit.length_m)).toBeLessThan(plan.circuit.length_m / 2)
    }
  })

  it('are none where none is noted, or where it lies on the inside', () => {
    expect(neededRunOffs(demoPlan())).toEqual([])
    const inside = (side: 'left' | 'right'): GroundItem => ({
      id: side,
      kind: 'run-off',
      name: '',
      side,
      from_m: 290,
      to_m: 420,
      runOff: { surface: 'gravel', length_m: 30 },
    })
    // T1 turns right: the right side is its inside, and no other corner lies there.
    expect(neededRunOffs({ ...demoPlan(), ground: [inside('right')] }).filter((r) => r.cornerId === 'T1')).toEqual([])
    expect(neededRunOffs({ ...demoPlan(), ground: [inside('left')] }).filter((r) => r.cornerId === 'T1')).toHaveLength(1)
  })
})
