import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { demoVenuePlan, fixtureCircuit, kartSurvey, vehicle } from '../../fixtures/load.ts'
import { buildCircuit } from '../circuit/build-circuit.ts'
import { makeVenue } from '../circuit/venue.ts'
import { intensities } from '../day/intensity.ts'
import { brakingSchools } from '../marks/braking-school.ts'
import { markOf } from '../marks/mark.ts'
import { makePlan } from '../plan/make-plan.ts'
import type { Plan } from '../plan/plan.ts'
import { lapKinds } from '../run/lap-kind.ts'
import { phraseBooks } from './books/index.ts'
import { type CallEdit, callKey, intensityCaps } from './call-sheet.ts'
import { cuesOf } from './cues.ts'
import { planCalls } from './plan-calls.ts'

const plan = demoVenuePlan({ pace: 0.75 })
const keys = cuesOf(plan).map((cue) => callKey(cue.cornerId, cue.kind, cue.nth))

const hand = fc.record(
  { earlier_s: fc.double({ min: 0, max: 3, noNaN: true }), locked: fc.boolean(), silent: fc.boolean() },
  { requiredKeys: [] },
) as fc.Arbitrary<CallEdit>

describe('call sheets, whatever was changed by hand (seed 81)', () => {
  it('never overlap, keep their caps and reactions, and account for every mark', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...phraseBooks),
        fc.constantFrom(...intensities),
        fc.dictionary(fc.constantFrom(...keys), hand, { maxKeys: 12 }),
        fc.subarray(
          plan.corners.map((c) => c.id),
          { maxLength: 3 },
        ),
        fc.record({ reaction_s: fc.double({ min: 0.3, max: 1.5, noNaN: true }), link_s: fc.constantFrom(0, 0.3) }),
        (book, intensity, calls, silentCorners, { reaction_s, link_s }) => {
          const timing = { reaction_s, rate_wps: 3.2, link_s, gap_s: 0.3 }
          const sheet = planCalls(plan, book, intensity, { timing, edits: { calls, silentCorners } })
          const lap = plan.profile.lapTime_s
          sheet.calls.forEach((call, i) => {
            const next = sheet.calls[i + 1] ?? { ...sheet.calls[0], start_s: sheet.calls[0].start_s + lap }
            if (sheet.calls.length > 1) expect(next.start_s - call.end_s).toBeGreaterThanOrEqual(timing.gap_s - 1e-6)
            const earlier_s = calls[call.key]?.earlier_s ?? 0
            expect(call.mark_s - call.end_s).toBeCloseTo(reaction_s + link_s + earlier_s, 6)
            expect(silentCorners).not.toContain(call.cornerId)
            expect(calls[call.key]?.silent ?? false).toBe(false)
          })
          const free = sheet.calls.filter((c) => !c.locked)
          for (const corner of plan.corners)
            expect(free.filter((c) => c.cornerId === corner.id).length).toBeLessThanOrEqual(intensityCaps[intensity].perCorner)
          expect(free.length).toBeLessThanOrEqual(intensityCaps[intensity].perLap)
          const told = [...sheet.calls, ...sheet.dropped].map((c) => c.key)
          const wanted = cuesOf(plan).map((cue) => callKey(cue.cornerId, cue.kind, cue.nth))
          expect([...told].sort()).toEqual([...wanted].sort())
        },
      ),
      { seed: 81, numRuns: 60 },
    )
  })

  it('are worth no less when there is more time: a quicker speaker never says less of worth', () => {
    const worth = (rate_wps: number): number =>
      planCalls(plan, phraseBooks[0], 'driven', { timing: { reaction_s: 0.8, rate_wps, link_s: 0, gap_s: 0.3 } }).calls.reduce(
        (sum, c) => sum + c.worth,
        0,
      )
    const rates = [2, 2.6, 3.2, 4, 5]
    const worths = rates.map(worth)
    expect(worths).toEqual([...worths].sort((a, b) => a - b))
  })
})

/** Plans on circuits of every size, by vehicles of every kind. */
const elsewhere = (surface: 'dry' | 'wet'): Plan[] => {
  const venues = [
    makeVenue(fixtureCircuit('ostrel-mere-short.csv')),
    makeVenue(fixtureCircuit('stadium.csv')),
    makeVenue(buildCircuit(kartSurvey(1))),
  ]
  return venues.flatMap((venue) =>
    (['hatchback', 'kart', 'motorcycle'] as const).map((id) => makePlan(venue, vehicle(id), { surface, pace: 0.75, school: 'straight' })),
  )
}

describe('what is said on other circuits', () => {
  it('ends in time, never overlaps, and names no gear that the plan does not use there', () => {
    for (const surface of ['dry', 'wet'] as const)
      for (const of of elsewhere(surface))
        for (const kind of lapKinds)
          for (const book of phraseBooks) {
            const { calls } = planCalls(of, book, 'driven', { lap: { kind, last: true, cones: of } })
            const cues = new Map(cuesOf(of, { kind, last: true, cones: of }).map((cue) => [callKey(cue.cornerId, cue.kind, cue.nth), cue]))
            calls.forEach((call, i) => {
              const label = `${of.circuit.name} ${of.vehicle.id} ${kind} ${call.key}: ${call.phrase}`
              const next = calls[i + 1]
              expect(call.mark_s - call.end_s, label).toBeGreaterThan(0.79)
              if (next) expect(next.start_s - call.end_s, label).toBeGreaterThan(0.29)
              const cue = cues.get(call.key)
              expect(cue, label).toBeDefined()
              if (call.kind === 'downshift' || call.kind === 'upshift') {
                const n = of.circuit.count
                const at = Math.round((cue?.station_m ?? 0) / of.circuit.step_m) % n
                const turn = call.kind === 'downshift' ? -1 : 1
                expect(Math.sign(of.profile.gear[at] - of.profile.gear[(at - 1 + n) % n]), label).toBe(turn)
              }
              // On slow laps nobody is told to work the brake.
              if (kind === 'sighting' || kind === 'out')
                expect(call.phrase, label).not.toMatch(/firm|hard|squeeze|feed|off the brake|bleed|kräftig|fest\b/)
            })
          }
  })
})

describe('what is said, whatever is driven', () => {
  const brakeWords = /\bbrake|\bbrak|bremse|bremsen|\btrail\b|bleed/i
  const offWords = /off the brake|bremse lösen|most of the brake|bleed it off|bleed off/i

  it('is true of the plan: no brake outside a braking zone, nothing firm in the wet, no wheel for a rider, no gear that is not used', () => {
    for (const surface of ['dry', 'damp', 'wet', 'standing'] as const)
      for (const school of brakingSchools)
        for (const kind of ['hatchback', 'kart', 'motorcycle']) {
          const of = demoVenuePlan({ surface, school, pace: 0.75 }, kind)
          for (const book of phraseBooks) {
            const used = new Set(of.marks.map((m) => book.words.gears[m.gear - 1]))
            for (const call of planCalls(of, book, 'driven').calls) {
              const label = `${surface} ${school} ${kind} ${book.id} ${call.cornerId} ${call.phrase}`
              const brake = markOf(of.marks, call.cornerId, 'brake')
              const release = markOf(of.marks, call.cornerId, 'release')
              if (brakeWords.test(call.phrase)) expect(brake, label).toBeDefined()
              // Said while the brake is on, or for its end: never long after it.
              if (offWords.test(call.phrase)) expect((release?.time_s ?? Number.NEGATIVE_INFINITY) + 1, label).toBeGreaterThan(call.mark_s)
              if (surface !== 'dry') expect(call.phrase, label).not.toMatch(/firm|hard|kräftig|fest/)
              if (kind === 'motorcycle') expect(call.phrase, label).not.toMatch(/unwind|wheel|lenkung/i)
              for (const gear of book.words.gears.slice(0, 6))
                if (new RegExp(`\\b${gear}\\b`).test(call.phrase) && !/\bone\b/.test(gear)) expect(used.has(gear), label).toBe(true)
            }
          }
        }
  })
})
