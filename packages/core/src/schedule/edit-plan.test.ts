import { describe, expect, it } from 'vitest'
import { generatedDay, variedDay } from '../../fixtures/generated-day.ts'
import { exchanged, judgePlan, movedBy, withoutSeat } from './edit-plan.ts'
import { sessionKey } from './setup.ts'
import { solveDay } from './solve-day.ts'
import { costFromPlan } from './timetable-cost.test-data.ts'

describe('a plan that a hand changed', () => {
  it('costs what the plan cost, as long as nothing is changed', () => {
    for (let seed = 1; seed <= 12; seed++) {
      const setup = variedDay(seed)
      const plan = solveDay(setup, { steps: 2000 })
      expect(judgePlan(setup, plan.sessions)).toMatchObject({ cost: expect.closeTo(plan.cost, 6), broken: [] })
    }
  })

  it('is told with what it breaks, and with what it costs more', () => {
    const setup = generatedDay({ students: 12, instructors: 2, cars: 4 })
    const plan = solveDay(setup, { steps: 60_000 })
    const rides = plan.sessions.filter((s) => s.formatId === 'ride-along')
    const changed = (k: number, minutes: number) => plan.sessions.map((s) => (s === rides[k] ? movedBy(s, minutes) : s))
    const onto = rides.findIndex((a, k) => k > 0 && a.instructorId === rides[0].instructorId && a.start > rides[0].end)
    const apart =
      (Number(rides[onto].start.slice(0, 2)) - Number(rides[0].start.slice(0, 2))) * 60 +
      Number(rides[onto].start.slice(3)) -
      Number(rides[0].start.slice(3))
    const clash = judgePlan(setup, changed(0, apart))
    expect(clash.broken.map((b) => b.rule)).toContain('instructor-twice')
    // A move that breaks nothing costs what the plan then costs.
    const free = [5, 10, 15, -5, -10, 20, 25]
      .flatMap((m) => rides.map((_, k) => changed(k, m)))
      .find((sessions) => judgePlan(setup, sessions).broken.length === 0)
    expect(free).toBeDefined()
    const costs = costFromPlan(setup, free ?? [])
    expect(judgePlan(setup, free ?? []).costs.waiting).toBeCloseTo(costs.waiting, 6)
  })

  it('exchanges people of two sessions, each keeping its time, instructor and car', () => {
    const setup = generatedDay({ students: 8, instructors: 2, cars: 4 })
    const { sessions } = solveDay(setup, { steps: 20_000 })
    const rides = sessions.filter((s) => s.formatId === 'ride-along')
    const [a, b] = [rides[0], rides.find((r) => r.seats[0].studentId !== rides[0].seats[0].studentId) ?? rides[1]]
    const after = exchanged(sessions, a, b)
    expect(after[sessions.indexOf(a)]).toMatchObject({
      start: a.start,
      instructorId: a.instructorId,
      seats: [{ studentId: b.seats[0].studentId, carId: a.seats[0].carId }],
    })
    expect(exchanged(after, after[sessions.indexOf(a)], after[sessions.indexOf(b)])).toEqual(sessions)
    expect(exchanged(sessions, a, a)).toEqual(sessions)
    const pad = sessions.find((s) => s.formatId !== 'ride-along') ?? a
    expect(exchanged(sessions, a, pad)).toEqual(sessions)
    // Every student still drives as often, and taking one out leaves one drive less.
    const drives = (list: typeof sessions) => list.flatMap((s) => s.seats.map((seat) => seat.studentId)).sort()
    expect(drives(after)).toEqual(drives(sessions))
    expect(withoutSeat(sessions, a, a.seats[0].studentId)).toHaveLength(sessions.length - 1)
    expect(withoutSeat(sessions, a, 'nobody')).toEqual(sessions)
  })

  it('tells which session a broken rule concerns', () => {
    const setup = generatedDay({ students: 8, instructors: 2, cars: 4 })
    const { sessions } = solveDay(setup, { steps: 20_000 })
    const rides = sessions.filter((s) => s.formatId === 'ride-along')
    const ride = rides[0]
    const early = { ...ride, instructorId: null }
    const judged = judgePlan(
      setup,
      sessions.map((s) => (s === ride ? early : s)),
    )
    expect(judged.broken.map((b) => b.rule)).toContain('instructor-away')
    const told = judged.broken.filter((b) => b.rule === 'instructor-away')
    expect(told.flatMap((b) => b.of)).toEqual([sessionKey(early)])
    // A clash is told with both sessions of it.
    const [, other] = rides
    const twice = sessions.map((s) => (s === ride ? { ...s, start: other.start, end: other.end, instructorId: other.instructorId } : s))
    const clash = judgePlan(setup, twice).broken.find((b) => b.rule === 'instructor-twice')
    expect(clash?.of).toContain(sessionKey(other))
    expect(clash?.of).toHaveLength(2)
  })

  it('knows its sessions again', () => {
    const { sessions } = solveDay(variedDay(3), { steps: 1000 })
    expect(new Set(sessions.map(sessionKey)).size).toBe(sessions.length)
    expect(sessionKey(JSON.parse(JSON.stringify(sessions[0])))).toBe(sessionKey(sessions[0]))
    expect(movedBy(sessions[0], 0)).toEqual(sessions[0])
  })
})
