import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { demoVenuePlan } from '../../fixtures/load.ts'
import { intensities } from '../day/intensity.ts'
import { brakingSchools } from '../marks/braking-school.ts'
import { markOf } from '../marks/mark.ts'
import { type CallEdit, callKey, intensityCaps } from './call-sheet.ts'
import { phraseBooks } from './phrases.ts'
import { planCalls } from './plan-calls.ts'

const plan = demoVenuePlan({ pace: 0.75 })
const keys = plan.marks.map((m) => callKey(m.cornerId, m.kind))

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
            const earlier_s = calls[callKey(call.cornerId, call.kind)]?.earlier_s ?? 0
            expect(call.mark_s - call.end_s).toBeCloseTo(reaction_s + link_s + earlier_s, 6)
            expect(silentCorners).not.toContain(call.cornerId)
            expect(calls[callKey(call.cornerId, call.kind)]?.silent ?? false).toBe(false)
          })
          const free = sheet.calls.filter((c) => !c.locked)
          for (const corner of plan.corners)
            expect(free.filter((c) => c.cornerId === corner.id).length).toBeLessThanOrEqual(intensityCaps[intensity].perCorner)
          expect(free.length).toBeLessThanOrEqual(intensityCaps[intensity].perLap)
          const told = [...sheet.calls, ...sheet.dropped].map((c) => callKey(c.cornerId, c.kind))
          const wanted = plan.marks.filter((m) => book.phrases[m.kind as 'brake']).map((m) => callKey(m.cornerId, m.kind))
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
