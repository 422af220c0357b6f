import { describe, expect, it } from 'vitest'
import { checkDay } from './check-day.ts'
import { type FillRuns, fillRuns } from './fill-runs.ts'

const students = Array.from({ length: 40 }, (_, k) => ({ id: `s${k}`, level: k % 3 === 0 ? ('steady' as const) : ('first-day' as const) }))
const cars = Array.from({ length: 8 }, (_, k) => ({
  id: `c${k}`,
  studentId: k === 7 ? 's5' : null,
  mayDrive: { levels: k === 6 ? ['steady' as const] : [], studentIds: [] },
}))
const fill = (change: Partial<FillRuns> = {}) =>
  fillRuns({
    slots: [],
    students,
    instructorIds: ['i0', 'i1', 'i2', 'i3'],
    cars,
    title: 'Ride-along',
    idOf: (id) => `run-${id}`,
    ...change,
  })

describe('a run for everybody', () => {
  it('is one for each of forty, with nobody and nothing in two places at once', () => {
    const slots = fill()
    expect(new Set(slots.map((s) => s.studentId)).size).toBe(40)
    expect(checkDay({ slots, students, cars, grounded: new Set() })).toEqual([])
    expect(new Set(slots.map((s) => s.start)).size).toBe(10)
    expect(slots.find((s) => s.studentId === 's5')?.carId).toBe('c7')
  })

  it('leaves what stands already, and begins after it', () => {
    const own = { id: 'x', start: '10:00', end: '10:30', kind: 'run' as const, title: '', studentId: 's0' }
    const slots = fill({ slots: [own], students: students.slice(0, 3) })
    expect(slots[0]).toBe(own)
    expect(slots.slice(1).map((s) => `${s.studentId} ${s.start}`)).toEqual(['s1 10:35', 's2 10:35'])
  })

  it('works without instructors and without cars, one at a time, and says what is missing', () => {
    const slots = fill({ instructorIds: [], cars: [], students: students.slice(0, 3) })
    expect(slots.map((s) => s.start)).toEqual(['09:00', '09:25', '09:50'])
    expect(checkDay({ slots, students, cars: [], grounded: new Set() }).map((p) => p.kind)).toEqual(['no-car', 'no-car', 'no-car'])
  })

  it('lets somebody whom no car is open to stand in the list without one', () => {
    const locked = [{ id: 'c', studentId: 'other', mayDrive: { levels: [], studentIds: [] } }]
    expect(fill({ cars: locked, students: students.slice(0, 1) })[0].carId).toBeUndefined()
  })
})
