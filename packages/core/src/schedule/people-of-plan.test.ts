import { describe, expect, it } from 'vitest'
import { withPeople } from './people-of-plan.ts'
import { usualPlanning } from './planning.ts'
import { type PlannedSession, sessionKey } from './setup.ts'

const session = (start: string, ...students: string[]): PlannedSession => ({
  formatId: 'ride-along',
  groupId: 'all',
  start,
  end: '11:00',
  instructorId: 'teo',
  seats: students.map((studentId) => ({ studentId, carId: null })),
  leaderCarId: null,
})
const [alone, both] = [session('10:00', 'imke'), session('10:30', 'imke', 'rashid')]
const planning = {
  ...usualPlanning(),
  people: { imke: { arrives: '10:00' }, rashid: { leaves: '15:00' } },
  pairs: [{ studentId: 'imke', instructorId: 'teo', wish: 'keep' as const }],
  sessions: [alone, both],
  told: [alone],
  locked: [alone, both].map(sessionKey),
}

describe('people of a planning', () => {
  it('are gone everywhere once they are taken out', () => {
    const without = withPeople(planning, (id) => (id === 'imke' ? null : id))
    expect(JSON.stringify(without)).not.toContain('imke')
    expect(without.sessions).toEqual([session('10:30', 'rashid')])
    expect(without.locked).toEqual([sessionKey(session('10:30', 'rashid'))])
    expect(without).toMatchObject({ people: { rashid: { leaves: '15:00' } }, pairs: [], told: [] })
  })

  it('stand where another stood, once in each session', () => {
    const merged = withPeople(planning, (id) => (id === 'imke' ? 'rashid' : id))
    expect(JSON.stringify(merged)).not.toContain('imke')
    expect(merged.sessions).toEqual([session('10:00', 'rashid'), session('10:30', 'rashid')])
    expect(merged.people).toEqual({ rashid: { arrives: '10:00', leaves: '15:00' } })
    expect(withPeople(planning, (id) => id)).toEqual(planning)
  })
})
