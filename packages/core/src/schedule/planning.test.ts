import { describe, expect, it } from 'vitest'
import { checkDay } from '../day/check-day.ts'
import { checkSetup } from './check-setup.ts'
import { checkTimetable } from './check-timetable.ts'
import { type DayToPlan, EVERYBODY, groupsOfDay, type KnownPeople, setupOfDay, slotsOfPlan, usualPlanning } from './planning.ts'
import { usualFormats } from './setup.ts'
import { solveDay } from './solve-day.ts'

const profile = { experience: '', car: '', goals: '', worries: [], language: null }
const students: KnownPeople['students'] = Array.from({ length: 6 }, (_, k) => ({
  id: `s${k}`,
  level: k < 3 ? 'first-day' : 'steady',
  profile: k === 0 ? { ...profile, language: 'de' } : profile,
}))
const car = (id: string, change: Partial<KnownPeople['schoolCars'][number]> = {}) => ({
  id,
  studentId: null,
  mayDrive: { levels: [], studentIds: [] },
  ...change,
})
const known: KnownPeople = {
  students,
  schoolCars: [
    car('one'),
    car('two'),
    car('own', { studentId: 's5' }),
    car('elsewhere', { mayDrive: { levels: ['building'], studentIds: [] } }),
  ],
  teaching: { ann: { levels: [], vehicleIds: [], languages: [] }, ben: { levels: ['steady'], vehicleIds: ['coupe'], languages: ['en'] } },
  lap_s: (groupId) => (groupId === 'quick' ? 100 : 140),
}
const day: DayToPlan = {
  date: '2027-05-15',
  studentIds: students.map((s) => s.id),
  instructorIds: ['ann', 'ben'],
  cars: ['one', 'two', 'own', 'elsewhere'].map((id) => ({ id, number: id, vehicleId: id === 'two' ? 'coupe' : 'hatch', owner: '' })),
  groups: [{ id: 'quick', name: 'Quick', studentIds: ['s3', 's4', 's5', 'gone'] }],
  planning: {
    ...usualPlanning(),
    people: { s1: { arrives: '10:30' } },
    cars: { one: { cooling_min: 5, fuel_laps: 30, refuel_min: 15, out: [] } },
  },
}

describe('the setup of a day', () => {
  const setup = setupOfDay(day, known)
  it('has its people in their groups, with who teaches them and what they may drive', () => {
    expect(groupsOfDay(day)).toEqual([
      { id: 'quick', name: 'Quick', studentIds: ['s3', 's4', 's5'] },
      { id: EVERYBODY, name: '', studentIds: ['s0', 's1', 's2'] },
    ])
    expect(setup.students[0]).toEqual({ id: 's0', groupId: EVERYBODY, language: 'de' })
    expect(setup.students[1]).toMatchObject({ arrives: '10:30' })
    expect(setup.students[5]).toMatchObject({ groupId: 'quick', carIds: ['own'] })
    expect(setup.instructors).toEqual([
      { id: 'ann', groupIds: [], carIds: [], languages: [], breaks: [] },
      { id: 'ben', groupIds: ['quick'], carIds: ['two'], languages: ['en'], breaks: [] },
    ])
    // Nobody here may take the car of another level; the student's own is theirs.
    expect(setup.cars.map((c) => [c.id, c.studentIds, c.cooling_min])).toEqual([
      ['one', [], 5],
      ['two', [], 10],
      ['own', ['s5'], 10],
    ])
    expect(setup.groups.map((g) => [g.id, g.lap_s, g.wants])).toEqual([
      ['quick', 100, { briefing: 1, 'ride-along': 2 }],
      [EVERYBODY, 140, { briefing: 1, 'ride-along': 2 }],
    ])
    expect(checkSetup(setup)).toEqual([])
  })

  it('is planned into a run list in which nothing clashes, and replanned with what began kept', () => {
    const plan = solveDay(setup, { steps: 20_000 })
    expect(plan.leftOut).toEqual([])
    const slots = slotsOfPlan(plan.sessions, setup.formats, (f) => f.kind)
    expect(slots.filter((s) => s.kind === 'run')).toHaveLength(12)
    expect(slots.filter((s) => s.kind === 'briefing').length).toBeGreaterThan(0)
    expect(new Set(slots.map((s) => s.id)).size).toBe(slots.length)
    const cars = known.schoolCars
    expect(checkDay({ slots, students, cars, grounded: new Set() })).toEqual([])
    const later = setupOfDay({ ...day, planning: { ...day.planning, sessions: plan.sessions } }, known, '11:00')
    expect(later.kept).toEqual(plan.sessions.filter((s) => s.start < '11:00'))
    expect(later.announced).toEqual(plan.sessions)
    // A format that was taken out, a student who went home and a car that broke stop nothing: what was driven stays.
    const gone = plan.sessions.find((s) => s.formatId === 'ride-along' && s.start < '11:00')
    const changed = setupOfDay(
      {
        ...day,
        studentIds: day.studentIds.filter((id) => id !== gone?.seats[0].studentId),
        planning: { ...day.planning, sessions: plan.sessions, formats: day.planning.formats.filter((f) => f.kind !== 'briefing') },
      },
      { ...known, grounded: new Set(['one']) },
      '11:00',
    )
    expect(checkSetup(changed)).toEqual([])
    expect(changed.kept.some((s) => s.formatId === 'briefing')).toBe(false)
    expect(changed.cars.find((c) => c.id === 'one')?.out).toEqual([{ from: '11:00', to: '17:00' }])
    const again = solveDay(later, { steps: 10_000 })
    expect(checkTimetable(later, again.sessions)).toEqual([])
    expect(again.costs.moved).toBe(0)
  })

  it('lists what all do together once, and pad exercises for each', () => {
    const seats = ['s0', 's1'].map((studentId) => ({ studentId, carId: null }))
    const session = { groupId: EVERYBODY, start: '10:00', end: '10:30', instructorId: 'ann', seats, leaderCarId: null }
    const formats = [
      { id: 'p', ...usualFormats.pad },
      { id: 'c', ...usualFormats.classroom },
    ]
    const slots = slotsOfPlan(
      [
        { ...session, formatId: 'p' },
        { ...session, formatId: 'c' },
        { ...session, formatId: 'gone' },
      ],
      formats,
      (f) => f.kind,
    )
    expect(slots.map((s) => [s.kind, s.studentId, s.instructorId])).toEqual([
      ['pad', 's0', 'ann'],
      ['pad', 's1', 'ann'],
      ['classroom', undefined, 'ann'],
    ])
  })
})
