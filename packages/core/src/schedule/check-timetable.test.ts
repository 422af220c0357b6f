import { describe, expect, it } from 'vitest'
import { generatedDay } from '../../fixtures/generated-day.ts'
import { checkTimetable } from './check-timetable.ts'
import { type DaySetup, type PlannedSession, usualFormats, usualRules } from './setup.ts'

const base = generatedDay({ students: 4, instructors: 2, cars: 3, groups: 2, padGroups: 0 })
const setup: DaySetup = {
  ...base,
  students: base.students.map(({ id, groupId }) => ({ id, groupId })),
  instructors: base.instructors.map((i) => ({ ...i, groupIds: [], breaks: [{ from: '15:00', to: '15:15' }] })),
  cars: base.cars.slice(0, 3),
  formats: [...base.formats, { id: 'sighting', ...usualFormats.sighting }],
  rules: { ...usualRules, briefingFirst: false, lunch: null },
}
const ride = (student: number, start: string, change: Partial<PlannedSession> = {}): PlannedSession => ({
  formatId: 'ride-along',
  groupId: setup.students[student].groupId,
  start,
  end: `${start.slice(0, 3)}${String(Number(start.slice(3)) + 15).padStart(2, '0')}`,
  instructorId: 'instructor-1',
  seats: [{ studentId: setup.students[student].id, carId: 'school-1' }],
  leaderCarId: null,
  ...change,
})
const rulesOf = (sessions: PlannedSession[], change: Partial<DaySetup> = {}): string[] => [
  ...new Set(checkTimetable({ ...setup, ...change }, sessions).map((b) => b.rule)),
]
const withRules = (change: Partial<DaySetup['rules']>): Partial<DaySetup> => ({ rules: { ...setup.rules, ...change } })
const other = { instructorId: 'instructor-2' }
const inCar = (student: number, carId: string): Partial<PlannedSession> => ({ seats: [{ studentId: setup.students[student].id, carId }] })

describe('each hard rule', () => {
  it('is kept by a plain plan', () => {
    expect(rulesOf([ride(0, '10:00'), ride(2, '10:00', { ...other, ...inCar(2, 'school-2') }), ride(1, '10:30')])).toEqual([])
  })

  it.each<[string, PlannedSession[], Partial<DaySetup>]>([
    ['unknown', [ride(0, '10:00', { formatId: 'none' })], {}],
    ['times', [ride(0, '10:02', { end: '10:17' })], {}],
    ['seats', [ride(0, '10:00', { seats: [...ride(0, '10:00').seats, { studentId: 'student-3', carId: 'school-2' }] })], {}],
    ['group', [ride(0, '10:00', { groupId: 'group-2' })], {}],
    ['place-closed', [ride(0, '09:15')], {}],
    ['groups-mixed', [ride(0, '10:00'), ride(1, '10:00', { ...other, ...inCar(1, 'school-2') })], {}],
    ['student-away', [ride(0, '10:00')], { students: setup.students.map((s) => ({ ...s, arrives: '10:30' })) }],
    ['student-twice', [ride(0, '10:00'), ride(0, '10:15', { ...other, ...inCar(0, 'school-2') })], withRules({ restBetweenDrives_min: 0 })],
    ['rest', [ride(0, '10:00'), ride(0, '10:30', inCar(0, 'school-2'))], {}],
    ['leaving', [ride(0, '10:00')], { students: setup.students.map((s) => ({ ...s, leaves: '10:20' })) }],
    ['briefing-first', [ride(0, '10:00')], withRules({ briefingFirst: true })],
    ['sighting-first', [ride(0, '10:00')], { groups: setup.groups.map((g) => ({ ...g, wants: { ...g.wants, sighting: 1 } })) }],
    ['instructor-away', [ride(0, '15:00')], {}],
    ['instructor-twice', [ride(0, '10:00'), ride(2, '10:00', inCar(2, 'school-2'))], {}],
    ['instructor-group', [ride(0, '10:00')], { instructors: setup.instructors.map((i) => ({ ...i, groupIds: ['group-2'] })) }],
    ['instructor-car', [ride(0, '10:00')], { instructors: setup.instructors.map((i) => ({ ...i, carIds: ['school-3'] })) }],
    [
      'instructor-language',
      [ride(0, '10:00')],
      {
        ...withRules({ languages: true }),
        students: setup.students.map((s) => ({ ...s, language: 'de' })),
        instructors: setup.instructors.map((i) => ({ ...i, languages: ['en'] })),
      },
    ],
    ['car-missing', [ride(0, '10:00', { seats: [{ studentId: 'student-1', carId: null }] })], {}],
    ['car-not-allowed', [ride(0, '10:00')], { cars: setup.cars.map((c) => ({ ...c, studentIds: ['student-4'] })) }],
    ['car-out', [ride(0, '10:00')], { cars: setup.cars.map((c) => ({ ...c, out: [{ from: '10:10', to: '12:00' }] })) }],
    // A car stands for ten minutes after each use.
    ['car-twice', [ride(0, '10:00'), ride(2, '10:20', other)], {}],
    // Fifteen minutes are six laps of 130 s; the tank holds ten, and ten minutes fill none.
    ['fuel', [ride(0, '10:00'), ride(2, '10:25')], { cars: setup.cars.map((c) => ({ ...c, fuel_laps: 10 })) }],
    ['cars-out', [ride(0, '10:00'), ride(2, '10:00', { ...other, ...inCar(2, 'school-2') })], withRules({ maxCarsOut: 1 })],
    [
      'helmets',
      [ride(0, '10:00'), ride(2, '10:00', { ...other, ...inCar(2, 'school-2') })],
      { ...withRules({ helmets: { M: 1 } }), students: setup.students.map((s) => ({ ...s, helmet: 'M' })) },
    ],
    ['radios', [ride(0, '10:00'), ride(2, '10:00', { ...other, ...inCar(2, 'school-2') })], withRules({ radios: 1 })],
    ['loggers', [ride(0, '10:00'), ride(2, '10:00', { ...other, ...inCar(2, 'school-2') })], withRules({ loggers: 1 })],
    ['before-now', [ride(0, '10:00')], { now: '10:05' }],
    ['fixed-time', [ride(0, '10:00')], { formats: setup.formats.map((f) => ({ ...f, at: '09:45' })) }],
    ['lunch', [ride(0, '12:00'), ride(2, '12:30')], withRules({ lunch: { from: '12:10', to: '13:00', minutes: 30 } })],
  ])('is found broken: %s', (rule, sessions, change) => {
    expect(rulesOf(sessions, change)).toContain(rule)
    expect(rulesOf(sessions, { ...change, kept: sessions }).filter((r) => r !== 'unknown')).toEqual([])
  })

  it('holds for order and for places where only one session is', () => {
    const order = setup.groups.map((g) => ({ ...g, order: [['sighting', 'ride-along']] as [string, string][] }))
    const sighting = ride(0, '11:00', { formatId: 'sighting', end: '11:10' })
    expect(rulesOf([ride(0, '10:00'), sighting], { groups: order })).toContain('order')
    const pad = (student: number): PlannedSession =>
      ride(student, '10:00', { formatId: 'pad', end: '10:30', seats: [{ studentId: setup.students[student].id, carId: null }] })
    expect(rulesOf([pad(0), { ...pad(1), ...other }])).toEqual(['place-twice'])
  })
})
