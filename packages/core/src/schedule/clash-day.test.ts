import { describe, expect, it } from 'vitest'
import { generatedDay } from '../../fixtures/generated-day.ts'
import { checkSetup } from './check-setup.ts'
import { clashOf, easedBy, reliefKinds } from './clash-day.ts'
import { easedSetups } from './count-load.ts'
import type { DaySetup } from './setup.ts'
import { missingIn, solveDay } from './solve-day.ts'

const left = (setup: DaySetup, steps = 8000): number => missingIn(solveDay(setup, { steps }))

describe('a day on which something must be left out', () => {
  // Twelve students ride twice for half an hour: twelve hours of one instructor who is there for eight.
  const alone = generatedDay({ students: 12, instructors: 1, cars: 4, ride_min: 30, padGroups: 0 })
  it('is proven to be one, by rules each of which is needed for it', () => {
    const missing = left(alone)
    const clash = clashOf(alone, missing)
    expect(clash.proven).toBe(true)
    expect(clash.leftOut).toBeGreaterThan(0.5)
    expect(clash.leftOut).toBeLessThanOrEqual(missing + 1e-6)
    expect(clash.rules).toContain('instructor-time')
    // Without one of them it is no longer proven.
    for (const rule of clash.rules) expect(clashOf(easedBy(alone, rule), missing).rules.length).toBeLessThan(clash.rules.length)
  })

  it('is left alone where nothing proves it', () => {
    const roomy = generatedDay({ students: 6, instructors: 2, cars: 4 })
    expect(clashOf(roomy, 0)).toEqual({ proven: false, leftOut: 0, rules: [] })
    // A search that was bad proves nothing.
    expect(clashOf(roomy, 3).proven).toBe(false)
  })

  it('names the cars where the cars are too few', () => {
    const shared = generatedDay({ students: 12, instructors: 6, cars: 1, ride_min: 30, padGroups: 0, seed: 3 })
    const one = { ...shared, students: shared.students.map(({ carIds: _, ...s }) => s), cars: shared.cars.slice(0, 1) }
    const clash = clashOf(one, left(one))
    expect(clash.proven).toBe(true)
    expect(clash.rules).toContain('car-number')
    expect(clash.rules).not.toContain('instructor-time')
  })
})

describe('what eases a day', () => {
  const setup = generatedDay({ students: 12, instructors: 2, cars: 3, follow: true, padGroups: 1 })
  it('is a day that can be planned, each of them', () => {
    const eased = [...easedSetups(setup).map((e) => e.setup), ...reliefKinds.map((kind) => easedBy(setup, kind))]
    expect(eased.length).toBeGreaterThan(20)
    for (const one of eased) expect(checkSetup(one)).toEqual([])
  })

  it('takes away the rule, and nothing else', () => {
    expect(easedBy(setup, 'lunch').rules).toEqual({ ...setup.rules, lunch: null })
    expect(easedBy(setup, 'one-group')).toEqual({ ...setup, rules: { ...setup.rules, oneGroupOnTrack: false } })
    expect(easedBy(setup, 'presence').students.every((s) => s.arrives === undefined && s.leaves === undefined)).toBe(true)
    expect(easedBy(setup, 'who-may-drive').cars.every((c) => c.studentIds.length === 0)).toBe(true)
    expect(easedBy(setup, 'cooling').cars.map((c) => c.id)).toEqual(setup.cars.map((c) => c.id))
  })
})
