import { describe, expect, it } from 'vitest'
import { demoVenuePlan } from '../../fixtures/load.ts'
import { markOf } from '../marks/mark.ts'
import { planRisks } from './risks.ts'

describe('what a plan makes easy to get wrong', () => {
  const plan = demoVenuePlan()

  it('names a late brake exactly where much speed is taken off', () => {
    for (const { id } of plan.corners) {
      const taken = (markOf(plan.marks, id, 'brake')?.speed_mps ?? 0) - (markOf(plan.marks, id, 'slowest')?.speed_mps ?? 0)
      const brakes = markOf(plan.marks, id, 'brake') !== undefined
      expect(planRisks(plan, id).includes('brake-late')).toBe(brakes && taken > 12)
    }
  })

  it('names eyes and an early turn-in where a crest or a blind place hides the turn-in', () => {
    const [corner] = plan.corners
    const turnIn = markOf(plan.marks, corner.id, 'turn-in')
    if (!turnIn) throw new Error('no turn-in')
    const bare = { ...plan, ground: [] }
    expect(planRisks(bare, corner.id)).not.toContain('eyes-near')
    const crest = {
      id: 'c',
      kind: 'crest' as const,
      name: 'Crest',
      side: 'both' as const,
      from_m: turnIn.station_m,
      to_m: turnIn.station_m + 10,
    }
    expect(planRisks({ ...plan, ground: [crest] }, corner.id)).toEqual(expect.arrayContaining(['turn-in-early', 'eyes-near']))
    const away = { ...crest, from_m: turnIn.station_m + 80, to_m: turnIn.station_m + 90 }
    expect(planRisks({ ...plan, ground: [away] }, corner.id)).not.toContain('eyes-near')
  })

  it('has nothing to say of a corner that is not there', () => {
    expect(planRisks(plan, 'T99')).toEqual([])
  })
})
