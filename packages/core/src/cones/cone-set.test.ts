import { describe, expect, it } from 'vitest'
import { demoVenuePlan } from '../../fixtures/load.ts'
import { phraseBooks } from '../calls/books/index.ts'
import { radioTiming } from '../calls/call-sheet.ts'
import { type CallWork, callsFor } from '../calls/day-calls.ts'
import { cornerMetrics } from '../corner-numbers/corner-metrics.ts'
import { lateInSight } from '../corner-numbers/sight.ts'
import type { PlanChoice } from '../day/day.ts'
import type { Intensity } from '../day/intensity.ts'
import { makeQuiz } from '../quiz/quiz.ts'
import { type ConeWork, coneSetOfDay, coneWorkOn } from './cone-set.ts'
import { hiddenMarks } from './hidden.ts'
import { CLEARANCE_M, placeCones } from './placement.ts'
import { coneSchemes } from './scheme.ts'
import type { ConeStock } from './stock.ts'

const settings: PlanChoice = {
  circuitId: 'demo',
  vehicleId: 'hatchback',
  surface: 'dry',
  pace: 0.75,
  school: 'straight',
  method: 'smoothest',
  schemeId: 'pairs-and-colours',
}
const work: ConeWork = {
  level: 'first-day',
  served: [],
  lines: [],
  clearance_m: CLEARANCE_M,
  useStock: true,
  fade: false,
  nudges: {},
  locks: {},
}
const calls: CallWork = { bookId: 'plain', ...radioTiming, gears: 'named' as const, silentCorners: [], calls: {} }
const planFor = ({ vehicleId, pace, method, surface, school }: PlanChoice) => demoVenuePlan({ pace, method, surface, school }, vehicleId)
const student = (talk: Intensity) => ({ talk, profile: { experience: '', car: '', goals: '', worries: [], language: null } })
const conesOf = (cones: Partial<ConeWork>, stock: ConeStock = {}) =>
  coneSetOfDay(
    {
      day: { settings, cones: { ...work, ...cones }, calls },
      school: { schemes: coneSchemes, stock, reserved: [], books: phraseBooks },
      students: [student('guided')],
    },
    planFor,
  )
const plan = planFor(settings)
const [scheme] = coneSchemes

describe('the cones of a day', () => {
  it('stand where a hand locked them, for everyone served, and the sheet lists exactly them', () => {
    const bare = conesOf({})
    const [group] = bare.cones.filter((c) => c.kind === 'brake')
    const locked = conesOf({
      locks: { [group.groupId]: { station_m: group.station_m - 20, offset_m: group.offset_m } },
      served: [{ vehicleId: 'coupe', level: 'steady', pace: 0.8 }],
    })
    const moved = locked.cones.filter((c) => c.groupId === group.groupId)
    expect(Math.max(...moved.map((c) => c.station_m))).toBeCloseTo(group.station_m - 20, 6)
    expect(locked.sheet.map((row) => row.cone.station_m).toSorted((a, b) => a - b)).toEqual(
      locked.cones.map((c) => c.station_m).toSorted((a, b) => a - b),
    )
    expect(locked.shared.some((s) => s.audience.length === 2)).toBe(true)
    expect(locked.least).toBe('first-day')
    expect(conesOf({ level: 'building' }).least).toBe('building')
  })

  it('are what the quiz asks about: a corner without brake cones in stock starts with another cone', () => {
    const colour = scheme.rules.brake?.colour ?? 'yellow'
    const laid = conesOf({}, { [colour]: 0 })
    expect(laid.dropped.length).toBeGreaterThan(0)
    expect(laid.cones.filter((c) => c.colour === colour)).toEqual([])
    const firstAt = (cones: typeof laid.cones) => {
      const asked = makeQuiz({ plan, scheme: laid.scheme, flags: [], cones }, 7).find((k) => k.question.id === 'first-cone T1')
      const right = asked?.key.form === 'choose' ? asked.question.choices[asked.key.choice] : null
      return right?.kind === 'cone' ? right.rule : null
    }
    expect(firstAt(placeCones(plan, scheme).cones)?.colour).toBe(colour)
    expect(firstAt(laid.cones)?.colour).not.toBe(colour)
    expect(firstAt(laid.cones)).not.toBeNull()
  })
})

describe('what a hand did to the cones', () => {
  const [group] = conesOf({}).cones.filter((c) => c.kind === 'brake')
  const locks = { [group.groupId]: { station_m: group.station_m - 20, offset_m: group.offset_m } }
  const stands = (cones: Partial<ConeWork>): number =>
    Math.max(
      ...conesOf(cones)
        .cones.filter((c) => c.groupId === group.groupId)
        .map((c) => c.station_m),
    )

  it('holds on the layout on which it was done, and on no other', () => {
    const computed = stands({})
    expect(stands({ locks, handsOn: 'demo' })).toBeCloseTo(group.station_m - 20, 6)
    expect(stands({ locks, handsOn: 'elsewhere' })).toBe(computed)
    expect(stands({ nudges: { [group.groupId]: { along_m: -5, across_m: 0 } }, handsOn: 'elsewhere' })).toBe(computed)
  })

  it('is taken for the layout of the day where it does not say', () => {
    expect(stands({ locks })).toBeCloseTo(group.station_m - 20, 6)
    const looked = coneWorkOn({ ...work, locks }, 'another', settings.circuitId)
    expect(looked).toEqual({ ...work, nudges: {}, locks: {} })
    expect(coneWorkOn({ ...work, locks }, settings.circuitId, settings.circuitId).locks).toEqual(locks)
  })
})

describe('marks that are seen late', () => {
  const numbers = cornerMetrics(plan)
  const sheetFor = (intensity: Intensity) =>
    callsFor({ plan, books: phraseBooks, work: calls, numbers }, { intensity, language: null }).sheet
  const [{ cornerId }] = sheetFor('driven').calls.filter((c) => c.kind === 'brake')
  // As if a crest hid this mark until a second before it.
  const sight = numbers
    .flatMap((n) => n.sight)
    .filter((s) => s.cornerId === cornerId && s.kind === 'brake')
    .map((s) => ({ ...s, time_s: 1, enough: false }))
  const helpsBy = (intensities: Intensity[]) => hiddenMarks(plan, sight, [], intensities.map(sheetFor)).map((h) => h.helps)

  it('are helped by a call only as far as the day’s students get it', () => {
    expect(lateInSight(sight)).toHaveLength(1)
    expect(helpsBy(['driven'])).toEqual(['call'])
    expect(helpsBy(['quiet'])).toEqual(['neither'])
    expect(helpsBy(['driven', 'quiet'])).toEqual(['call-for-some'])
  })
})
