import { describe, expect, it } from 'vitest'
import { demoPlan, fixtureCircuit, vehicles } from '../../fixtures/load.ts'
import { findCorners } from '../circuit/corners.ts'
import { makeVenue } from '../circuit/venue.ts'
import { markOf } from '../marks/mark.ts'
import { logCodes } from '../mistakes/mistakes.ts'
import { makePlan } from '../plan/make-plan.ts'
import { simulateDrive } from './drive.ts'
import { habitsOf } from './habits.ts'

describe('habits of made-up students', () => {
  const plan = demoPlan()

  it('are the same for the same seed and differ between students', () => {
    expect(habitsOf(4, plan, 0.3)).toEqual(habitsOf(4, plan, 0.3))
    expect(habitsOf(4, plan, 0.3)).not.toEqual(habitsOf(5, plan, 0.3))
  })

  it('concern some corners, each once, in ways that the corner allows', () => {
    for (let seed = 1; seed <= 30; seed++) {
      const habits = habitsOf(seed, plan, 0)
      expect(habits.length).toBeLessThan(plan.corners.length)
      expect(new Set(habits.map((h) => h.cornerId)).size).toBe(habits.length)
      for (const habit of habits) {
        expect(logCodes).toContain(habit.code)
        if (habit.code.startsWith('brake')) expect(markOf(plan.marks, habit.cornerId, 'brake')).toBeDefined()
        expect(habit.probability).toBeGreaterThan(0.3)
        expect(habit.probability).toBeLessThanOrEqual(0.85)
        expect(habit.size).toBeGreaterThan(0)
      }
    }
  })

  it('fade with skill, without changing their kind', () => {
    const [fresh, steady] = [habitsOf(7, plan, 0), habitsOf(7, plan, 1)]
    expect(steady.map((h) => h.code)).toEqual(fresh.map((h) => h.code))
    steady.forEach((habit, k) => {
      expect(habit.probability).toBeCloseTo(0.4 * fresh[k].probability, 9)
    })
  })
})

describe('any circuit with any vehicle', () => {
  it.each(['circle-r50.csv', 'stadium.csv', 'lobes.csv', 'ostrel-mere.csv', 'ostrel-mere.gpx', 'ostrel-mere-short.csv'])(
    'is planned and driven without special cases: %s',
    (file) => {
      const circuit = fixtureCircuit(file)
      const corners = findCorners(circuit)
      for (const car of vehicles) {
        const plan = makePlan(makeVenue(circuit), car, { surface: 'damp', pace: 0.75, school: 'blend' })
        expect(plan.profile.termination).toBe('converged')
        expect(plan.marks.length).toBeGreaterThanOrEqual(3 * corners.length)
        const { lapTimes_s, log } = simulateDrive(plan, { laps: 1, seed: 1 })
        expect(Math.abs(lapTimes_s[0] / plan.profile.lapTime_s - 1)).toBeLessThan(0.03)
        expect(log.time_s.length).toBeGreaterThan(100)
      }
    },
  )
})
