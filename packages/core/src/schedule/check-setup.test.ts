import { describe, expect, it } from 'vitest'
import { generatedDay, variedDay } from '../../fixtures/generated-day.ts'
import { describeError } from '../words/words.ts'
import { checkSetup } from './check-setup.ts'
import { countLoad, FULL_LOAD } from './count-load.ts'
import type { DaySetup } from './setup.ts'

const small = generatedDay({ students: 6, instructors: 2, cars: 3 })
const told = (change: Partial<DaySetup>): string[] => checkSetup({ ...small, ...change }).map((e) => `${e.code} ${e.place}`)

describe('a setup with something wrong in it', () => {
  it('is told with the place of each', () => {
    const [first, ...others] = small.students
    const [instructor] = small.instructors
    expect(told({})).toEqual([])
    expect(told({ students: [...small.students, first] })).toEqual(['day-twice students[6]'])
    expect(told({ from: '17:00', to: '09:00' })).toContain('day-times to')
    expect(told({ students: [{ ...first, arrives: '15:00', leaves: '11:00' }, ...others] })).toEqual(['day-times students[0]'])
    expect(told({ students: [{ ...first, groupId: 'nowhere' }, ...others] })).toEqual(['day-unknown students[0].groupId'])
    expect(told({ students: [{ ...first, wants: { dancing: 1 } }, ...others] })).toEqual(['day-unknown students[0].wants'])
    const breaks = [
      { from: '11:00', to: '11:30' },
      { from: '11:15', to: '11:45' },
    ]
    expect(told({ instructors: [{ ...instructor, breaks }] })).toEqual(['day-overlap instructors[0].breaks[1]'])
    const nobody = small.instructors.map((i) => ({ ...i, groupIds: ['group-1'] }))
    expect(told({ instructors: nobody })).toEqual(['day-nobody students[1]', 'day-nobody students[3]', 'day-nobody students[5]'])
    const students = small.students.map(({ id, groupId }) => ({ id, groupId }))
    expect(told({ students, cars: [{ ...small.cars[0], studentIds: ['student-2'] }] })).toHaveLength(5)
    expect(told({ formats: small.formats.map((f) => ({ ...f, minutes: 600 })) })).toHaveLength(small.formats.length)
    expect(told({ step_min: 1, from: '06:00', to: '22:00' })).toEqual(['day-too-many step_min'])
    const crowd = Array.from({ length: 200 }, (_, k) => ({ id: `s${k}`, groupId: 'group-1' }))
    expect(told({ students: crowd })).toContain('day-too-many students')
    const kept = [
      { formatId: 'ride-along', groupId: 'group-1', start: '10:02', end: '10:17', instructorId: null, seats: [], leaderCarId: null },
    ]
    expect(told({ kept })).toEqual(['day-times kept[0]'])
    const crowded = checkSetup({ ...small, students: crowd }).map((error) => describeError(error).message)
    expect(crowded[0]).toBe('200 students are more than a day is planned for: 120 at most.')
  })

  it('is not made up where there is none', () => {
    for (let seed = 1; seed <= 40; seed++) expect(checkSetup(variedDay(seed)).filter((e) => e.code !== 'day-nobody')).toEqual([])
  })
})

describe('what a day needs, counted', () => {
  it('is the instructors’ minutes and the waves of each group', () => {
    // Forty ride twice for 20 minutes: 1600 minutes, of four instructors who are there 480 each, less lunch, less two breaks of 15.
    const forty = generatedDay({ students: 40, instructors: 4, cars: 8, ride_min: 20, padGroups: 0 })
    const { loads, fullest, eases } = countLoad(forty)
    const instructors = loads.find((l) => l.what === 'instructors')
    expect(instructors).toMatchObject({ needed_min: 1600 + 30, there_min: 4 * (480 - 30) - 2 * 15 })
    // Each group has twenty rides: five waves of four, or seven of three where one instructor does not teach it.
    const track = loads.find((l) => l.what === 'track')
    expect(track).toMatchObject({ needed_min: 20 * (5 + 5 + 5 + 7), there_min: 450 })
    expect(fullest).toBeGreaterThan(FULL_LOAD)
    expect(eases.map((e) => e.kind)).toEqual(expect.arrayContaining(['instructor', 'shorter-rides', 'longer-day', 'fewer-wants']))
    expect(eases.every((e, k) => k === 0 || e.share >= eases[k - 1].share)).toBe(true)
    expect(eases.every((e) => e.share < fullest)).toBe(true)
  })

  it('says nothing of easing where there is room', () => {
    const { fullest, eases } = countLoad(small)
    expect(fullest).toBeLessThan(FULL_LOAD)
    expect(eases).toEqual([])
  })
})
