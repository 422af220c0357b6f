import loadHighs from 'highs'
import { beforeAll, describe, expect, it } from 'vitest'
import { generatedDay, variedDay } from '../../fixtures/generated-day.ts'
import { checkTimetable, wantsOf } from './check-timetable.ts'
import { exchanged } from './edit-plan.ts'
import { type Minimise, seatPeople } from './seat-people.ts'
import type { DaySetup, PlannedSession } from './setup.ts'
import { solveDay } from './solve-day.ts'
import { costFromPlan } from './timetable-cost.test-data.ts'

let minimise: Minimise = () => null
beforeAll(async () => {
  const highs = await loadHighs()
  minimise = (program) => {
    const solution = highs.solve(program)
    if (solution.Status !== 'Optimal') return null
    const values = Object.values(solution.Columns).flatMap((c) => (c.Primal > 0.5 ? [[c.Name, c.Primal] as const] : []))
    return { cost: solution.ObjectiveValue, values: new Map(values) }
  }
})

/** What a plan costs its people, each for themselves. */
const ofPeople = (setup: DaySetup, sessions: readonly PlannedSession[]): number => {
  const { waiting, otherInstructor, wish, leftOut, moved } = costFromPlan(setup, sessions)
  return waiting + otherInstructor + wish + leftOut + moved
}

/** The cheapest of all ways to put people into the drives of a plan, one in each; times, instructors and cars stay. */
const cheapestSeats = (setup: DaySetup, sessions: readonly PlannedSession[]): number => {
  const drives = sessions.filter((s) => s.formatId === 'ride-along')
  const others = sessions.filter((s) => s.formatId !== 'ride-along')
  let best = Number.POSITIVE_INFINITY
  const seated: PlannedSession[] = []
  const go = (k: number): void => {
    if (k === drives.length) {
      const plan = [...others, ...seated]
      if (checkTimetable(setup, plan).length === 0) best = Math.min(best, ofPeople(setup, plan))
      return
    }
    for (const student of setup.students) {
      if (student.groupId !== drives[k].groupId) continue
      const had = seated.filter((s) => s.seats[0].studentId === student.id).length
      if (had >= wantsOf(setup, student, 'ride-along')) continue
      seated.push({ ...drives[k], seats: [{ studentId: student.id, carId: drives[k].seats[0].carId }] })
      go(k + 1)
      seated.pop()
    }
  }
  go(0)
  return best
}

/** A plan in which people have changed places as long as that made it dearer and broke no rule. */
const worsened = (setup: DaySetup, sessions: PlannedSession[]): PlannedSession[] => {
  let now = sessions
  for (let i = 0; i < sessions.length; i++)
    for (let j = i + 1; j < sessions.length; j++) {
      const next = exchanged(now, now[i], now[j])
      if (checkTimetable(setup, next).length === 0 && ofPeople(setup, next) > ofPeople(setup, now)) now = next
    }
  return now
}

describe('people at given sessions', () => {
  it('are placed as well as the best of all ways to place them', () => {
    let bettered = 0
    for (let seed = 1; seed <= 6; seed++) {
      const setup = generatedDay({ students: 4, instructors: 2, cars: 3, seed })
      const plan = { sessions: worsened(setup, solveDay(setup, { steps: 500, seed }).sessions) }
      const { sessions, proven } = seatPeople(setup, plan.sessions, minimise)
      expect(proven).toBe(true)
      expect(checkTimetable(setup, sessions)).toEqual([])
      const best = cheapestSeats(setup, plan.sessions)
      expect(ofPeople(setup, sessions)).toBeCloseTo(best, 6)
      if (best < ofPeople(setup, plan.sessions) - 1e-6) bettered++
    }
    expect(bettered).toBeGreaterThan(0)
  })

  it('stay within the rules on days of all kinds, and never cost more; what is shared or kept stays', () => {
    for (let seed = 1; seed <= 25; seed++) {
      const setup = variedDay(seed)
      const plan = solveDay(setup, { steps: 500, seed })
      const seated = seatPeople(setup, plan.sessions, minimise)
      expect(checkTimetable(setup, seated.sessions)).toEqual([])
      expect(seated.cost).toBeLessThanOrEqual(plan.cost + 1e-6)
      const times = (list: readonly PlannedSession[]) => list.map((s) => `${s.formatId} ${s.groupId} ${s.start} ${s.instructorId}`).sort()
      expect(times(seated.sessions)).toEqual(times(plan.sessions))
    }
  })

  it('stay where they are without a proof', () => {
    const setup = generatedDay({ students: 8, instructors: 2, cars: 4 })
    const plan = solveDay(setup, { steps: 2000 })
    const seated = seatPeople(setup, plan.sessions, () => null)
    expect(seated).toMatchObject({ proven: false, cost: expect.closeTo(plan.cost, 6) })
    expect(seatPeople({ ...setup, rules: { ...setup.rules, helmets: { M: 2 } } }, plan.sessions, minimise).proven).toBe(false)
  })
})
