import { describe, expect, it } from 'vitest'
import { mistakeCodes } from '../mistakes/mistakes.ts'
import { groupProposal } from '../words/group-proposal.ts'
import { type GroupSeen, groupPicture } from './group.ts'

const seen = (studentId: string, cornerId: string, code: GroupSeen['code']): GroupSeen => ({ studentId, cornerId, code })

describe('what a group gets wrong', () => {
  it('counts each student once, most students first', () => {
    const picture = groupPicture(
      [
        seen('a', 'T1', 'brake-late'),
        seen('a', 'T1', 'brake-late'),
        seen('b', 'T10', 'apex-missed'),
        seen('c', 'T10', 'apex-missed'),
        seen('a', 'T2', 'tense'),
      ],
      5,
    )
    expect(picture.map((t) => [t.cornerId, t.students])).toEqual([
      ['T10', 2],
      ['T1', 1],
      ['T2', 1],
    ])
  })

  it('suspects cone, call or briefing when most do it, and never two of them', () => {
    const three = ['a', 'b', 'c'].map((id) => seen(id, 'T3', 'turn-in-early'))
    expect(groupPicture(three, 5)[0].suspect).toBe(true)
    expect(groupProposal('turn-in-early')).toContain('turn-in cone')
    expect(groupPicture(three, 6)[0].suspect).toBe(false)
    expect(groupPicture(three.slice(0, 2), 2)[0].suspect).toBe(false)
  })

  it('has something to try for every mistake, never more than a car length', () => {
    for (const code of mistakeCodes) {
      const [tally] = groupPicture(
        ['a', 'b', 'c'].map((id) => seen(id, 'T1', code)),
        4,
      )
      expect(tally.suspect).toBe(true)
      expect(groupProposal(tally.code).length).toBeGreaterThan(15)
      expect(groupProposal(tally.code)).not.toMatch(/lengths|\d/)
    }
  })
})
