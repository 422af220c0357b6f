import { describe, expect, it } from 'vitest'
import type { Slot } from './day.ts'
import { lastingNames, timesOfStudent } from './own-times.ts'

const slot = (id: string, start: string, change: Partial<Slot> = {}): Slot => ({
  id,
  start,
  end: '23:00',
  kind: 'run',
  title: 'Ride',
  ...change,
})
const slots = [
  slot('b', '11:00', { studentId: 'imke' }),
  slot('a', '10:00', { studentId: 'imke' }),
  slot('c', '10:00', { studentId: 'pia' }),
  slot('d', '09:00', { kind: 'briefing', title: 'everybody' }),
  slot('e', '08:00', { kind: 'pad', title: 'Pad' }),
]

describe('the times of one student', () => {
  it('are their own and what is for everybody, in order', () => {
    expect(timesOfStudent(slots, 'imke').map((s) => s.id)).toEqual(['d', 'a', 'b'])
    expect(timesOfStudent(slots, 'imke', (s) => (s.id === 'd' ? false : null)).map((s) => s.id)).toEqual(['a', 'b'])
    expect(timesOfStudent(slots, 'nobody').map((s) => s.id)).toEqual(['d'])
  })
})

describe('names that last', () => {
  it('stay when a time changes, and tell two of one person apart by their order', () => {
    const names = lastingNames(slots)
    const moved = lastingNames(slots.map((s) => (s.id === 'b' ? { ...s, start: '12:30' } : s)))
    expect(moved).toEqual(names)
    expect(new Set(names.values()).size).toBe(slots.length)
    expect(names.get('b')).toBe('imke-run-Ride-2')
  })
})
