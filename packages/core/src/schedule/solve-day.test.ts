import { describe, expect, it } from 'vitest'
import { cheapestOfAll, tinyDay } from '../../fixtures/every-plan.ts'
import { generatedDay, variedDay } from '../../fixtures/generated-day.ts'
import { checkTimetable, wantsOf } from './check-timetable.ts'
import { totalOf } from './cost.ts'
import type { DaySetup } from './setup.ts'
import { type DayTimetable, solveDay } from './solve-day.ts'
import { costFromPlan } from './timetable-cost.test-data.ts'

const gotOf = (plan: DayTimetable, studentId: string, formatId: string): number =>
  plan.sessions.filter((s) => s.formatId === formatId && s.seats.some((seat) => seat.studentId === studentId)).length

describe('a plan of any day', () => {
  it('breaks no hard rule, costs what it says, and tells what people lack', () => {
    let lacking = 0
    for (let seed = 1; seed <= 36; seed++) {
      const setup = variedDay(seed)
      const plan = solveDay(setup, { seed, steps: 4000 })
      expect(checkTimetable(setup, plan.sessions), `day ${seed}`).toEqual([])
      const costs = costFromPlan(setup, plan.sessions)
      for (const [part, cost] of Object.entries(costs))
        expect(plan.costs[part as keyof typeof costs], `day ${seed}: ${part}`).toBeCloseTo(cost, 6)
      expect(plan.cost).toBeCloseTo(totalOf(costs), 6)
      for (const { studentId, formatId, missing } of plan.leftOut) {
        const student = setup.students.find((s) => s.id === studentId)
        expect(student && wantsOf(setup, student, formatId) - gotOf(plan, studentId, formatId)).toBe(missing)
        lacking += missing
      }
    }
    // Some of these days are too full, so that something was there to be told.
    expect(lacking).toBeGreaterThan(0)
  })

  it('is the same for the same seed and number of steps, and is not worse after more of them', () => {
    const setup = variedDay(5)
    const one = solveDay(setup, { seed: 3, steps: 6000 })
    expect(solveDay(setup, { seed: 3, steps: 6000 })).toEqual(one)
    // The first beginning is the same; more beginnings can only be cheaper.
    expect(solveDay(setup, { seed: 3, steps: 300_000 }).cost).toBeLessThanOrEqual(solveDay(setup, { seed: 3, steps: 150_000 }).cost)
  })

  it('is handed on whenever it gets better, and the best is kept where somebody stops', () => {
    const setup = generatedDay({ students: 12, instructors: 2, cars: 4 })
    const costs: number[] = []
    const plan = solveDay(setup, { steps: 1_000_000, stop: (steps) => steps >= 20_000, onBetter: ({ cost }) => costs.push(cost) })
    expect(costs.length).toBeGreaterThan(0)
    expect([...costs].sort((a, b) => b - a)).toEqual(costs)
    expect(plan.cost).toBe(costs.at(-1))
    expect(plan.steps).toBeLessThan(25_000)
  })

  it('gives everybody all they want on a day with room for it', () => {
    const plan = solveDay(generatedDay({ students: 12, instructors: 2, cars: 4 }), { steps: 20_000 })
    expect(plan.leftOut).toEqual([])
    expect(plan.costs.leftOut).toBe(0)
  })
})

describe('a day so small that every plan of it can be tried', () => {
  it('is planned no better than the best plan there is, and nearly always as well', () => {
    const days = 24
    let equal = 0
    for (let seed = 1; seed <= days; seed++) {
      const setup = tinyDay(seed)
      const best = cheapestOfAll(setup)
      const found = solveDay(setup, { seed, steps: 4000 }).cost
      expect(found, `day ${seed}`).toBeGreaterThan(best - 1e-6)
      if (found < best + 1e-6) equal++
    }
    expect(equal).toBeGreaterThanOrEqual(0.95 * days)
  })
})

describe('a day that changes while it runs', () => {
  const setup = generatedDay({ students: 24, instructors: 3, cars: 6, seed: 4 })
  const first = solveDay(setup, { seed: 2, steps: 60_000 })
  const at = '11:00'
  const later = (change: Partial<DaySetup>): DaySetup => ({
    ...setup,
    ...change,
    announced: first.sessions,
    kept: first.sessions.filter((s) => s.start < at),
    now: at,
  })
  const movedIn = (plan: DayTimetable): number => plan.costs.moved / setup.rules.cost.moved

  it('keeps what has begun and moves nothing without a reason', () => {
    const again = solveDay(later({}), { seed: 3, steps: 30_000 })
    expect(movedIn(again)).toBeLessThanOrEqual(4)
    expect(again.cost).toBeLessThanOrEqual(first.cost + 1e-6)
    for (const kept of later({}).kept) expect(again.sessions).toContainEqual(kept)
  })

  it.each<[string, Partial<DaySetup>]>([
    ['two cars drop out', { cars: setup.cars.map((c, k) => (k < 2 ? { ...c, out: [{ from: at, to: '17:00' }] } : c)) }],
    [
      'the track is closed for rain',
      {
        windows: setup.windows.flatMap((w) =>
          w.place === 'track'
            ? [
                { ...w, to: '13:00' },
                { ...w, from: '14:00' },
              ]
            : [w],
        ),
      },
    ],
    ['somebody comes late', { students: setup.students.map((s, k) => (k === 5 ? { ...s, arrives: '13:00' } : s)) }],
    ['an instructor leaves', { instructors: setup.instructors.map((i, k) => (k === 1 ? { ...i, to: '13:00' } : i)) }],
  ])('is planned anew for the rest where %s, with a price on what was announced', (_what, change) => {
    const changed = later(change)
    const plan = solveDay(changed, { seed: 3, steps: 60_000 })
    expect(checkTimetable(changed, plan.sessions)).toEqual([])
    for (const kept of changed.kept) expect(plan.sessions).toContainEqual(kept)
    expect(plan.sessions.filter((s) => s.start < at)).toHaveLength(changed.kept.length)
    const free = { ...changed, rules: { ...changed.rules, cost: { ...changed.rules.cost, moved: 0 } } }
    const anyhow = solveDay(free, { seed: 3, steps: 60_000 })
    const moves = (sessions: DayTimetable['sessions']): number =>
      costFromPlan({ ...changed, rules: setup.rules }, sessions).moved / setup.rules.cost.moved
    expect(moves(plan.sessions)).toBe(movedIn(plan))
    expect(moves(plan.sessions)).toBeLessThanOrEqual(moves(anyhow.sessions))
  })
})
