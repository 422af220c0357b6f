import { describe, expect, it } from 'vitest'
import { generatedDay } from '../../fixtures/generated-day.ts'
import { planFigures, withEmphasis } from './plan-figures.ts'
import { type DaySetup, type PlannedSession, usualFormats } from './setup.ts'
import { solveDay } from './solve-day.ts'

const ride = (studentId: string, start: string, end: string, instructorId: string): PlannedSession => ({
  formatId: 'ride',
  groupId: 'all',
  start,
  end,
  instructorId,
  seats: [{ studentId, carId: 'c0' }],
  leaderCarId: null,
})

describe('figures to compare plans by', () => {
  const day = generatedDay({ students: 3, instructors: 2, cars: 2 })
  const setup: DaySetup = {
    ...day,
    students: ['a', 'b', 'c'].map((id) => ({ id, groupId: 'all' })),
    groups: [{ id: 'all', name: '', lap_s: 120, wants: {}, order: [] }],
    formats: [
      { id: 'ride', ...usualFormats['ride-along'] },
      { id: 'pad', ...usualFormats.pad },
    ],
  }
  const [i0, i1] = setup.instructors.map((i) => i.id)

  it('are counted by hand', () => {
    const sessions = [
      ride('a', '10:00', '10:20', i0),
      ride('a', '11:30', '11:50', i1),
      ride('b', '10:25', '10:45', i0),
      ride('b', '11:00', '11:20', i0),
      { ...ride('b', '09:00', '09:30', i1), formatId: 'pad' },
    ]
    expect(planFigures(setup, sessions)).toEqual({
      laps: { least: 0, most: 20 },
      longestWait_min: 70,
      // a: 70; b: 55 and 15; c: nothing.
      waiting_min: (70 + 55 + 15) / 3,
      sessions: { least: 2, most: 3 },
      otherInstructor: 1,
    })
    expect(planFigures({ ...setup, students: [], instructors: [] }, [])).toEqual({
      laps: { least: 0, most: 0 },
      longestWait_min: 0,
      waiting_min: 0,
      sessions: { least: 0, most: 0 },
      otherInstructor: 0,
    })
  })

  it('show what more weight on something buys', () => {
    const wide = generatedDay({ students: 12, instructors: 3, cars: 5 })
    const plain = planFigures(wide, solveDay(wide, { steps: 60_000 }).sessions)
    const steady = planFigures(wide, solveDay(withEmphasis(wide, 'instructor'), { steps: 60_000 }).sessions)
    expect(steady.otherInstructor).toBeLessThanOrEqual(plain.otherInstructor)
    expect(withEmphasis(wide, 'rules')).toEqual(wide)
    expect(withEmphasis(wide, 'waiting').rules.cost.wait.each).toBe(4 * wide.rules.cost.wait.each)
    expect(withEmphasis(wide, 'load').rules.cost.unevenLoad).toBe(4 * wide.rules.cost.unevenLoad)
  })
})
