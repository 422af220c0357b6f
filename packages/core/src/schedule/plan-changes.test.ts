import { describe, expect, it } from 'vitest'
import { planChanges } from './plan-changes.ts'
import type { PlannedSession } from './setup.ts'

const ride = (studentId: string, start: string, change: Partial<PlannedSession> = {}): PlannedSession => ({
  formatId: 'ride',
  groupId: 'all',
  start,
  end: '23:00',
  instructorId: 'ann',
  seats: [{ studentId, carId: 'one' }],
  leaderCarId: null,
  ...change,
})

describe('changes between two plans', () => {
  it('are nothing where both are the same', () => {
    const plan = [ride('a', '10:00'), ride('b', '11:00')]
    expect(planChanges(plan, [...plan].reverse())).toEqual([])
  })

  it('name who is moved, who loses and who gains, by their first difference', () => {
    const before = [ride('a', '10:00'), ride('b', '11:00'), ride('c', '09:30'), ride('d', '12:00')]
    const after = [ride('a', '10:30'), ride('c', '09:30', { instructorId: 'ben' }), ride('d', '12:00'), ride('d', '13:00')]
    expect(planChanges(before, after).map((c) => [c.studentId, c.gone.length, c.added.length])).toEqual([
      ['c', 1, 1],
      ['a', 1, 1],
      ['b', 1, 0],
      ['d', 0, 1],
    ])
  })

  it('are none for whoever is in a lesson that somebody else gives', () => {
    const lesson = (instructorId: string) =>
      ride('a', '09:00', { formatId: 'lesson', instructorId, seats: [{ studentId: 'a', carId: null }] })
    expect(planChanges([lesson('ann')], [lesson('ben')])).toEqual([])
  })

  it('see another car', () => {
    expect(planChanges([ride('a', '10:00')], [ride('a', '10:00', { seats: [{ studentId: 'a', carId: 'two' }] })])).toHaveLength(1)
  })
})
