import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import type { Mark } from '../marks/marks.ts'
import { callSheet, inCarTiming } from './call-sheet.ts'
import { plainBook } from './phrases.ts'

const mark = (kind: Mark['kind'], time_s: number, cornerId = 'T1'): Mark => ({
  kind,
  cornerId,
  time_s,
  station_m: 40 * time_s,
  offset_m: 0,
  speed_mps: 40,
  gear: 3,
})
const kinds = ['lift', 'brake', 'turn-in', 'throttle', 'exit'] as const
const worthOf = { brake: 10, lift: 7, 'turn-in': 6, throttle: 3, exit: 4 } as const

/** The greatest worth by trying every choice of form (or none) for every mark. */
const bruteForce = (marks: readonly Mark[]): number => {
  let best = 0
  const choose = (k: number, worth: number, spans: readonly (readonly [number, number])[]): void => {
    if (k === marks.length) {
      const sorted = [...spans].sort((a, b) => a[0] - b[0])
      if (sorted.every((s, i) => i === 0 || s[0] - sorted[i - 1][1] >= inCarTiming.gap_s)) best = Math.max(best, worth)
      return
    }
    choose(k + 1, worth, spans)
    const m = marks[k]
    const end = m.time_s - inCarTiming.reaction_s
    plainBook.phrases[m.kind]?.forEach((phrase, form) => {
      const start = end - phrase.split(' ').length / inCarTiming.rate_wps
      choose(k + 1, worth + worthOf[m.kind as keyof typeof worthOf] * [1, 0.9, 0.75][form], [...spans, [start, end]])
    })
  }
  choose(0, 0, [])
  return best
}

describe('call sheet', () => {
  it('is worth as much as the best of all choices (seed 31)', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom(...kinds), fc.double({ min: 3, max: 14, noNaN: true })), { maxLength: 6 }), (list) => {
        const marks = list.map(([kind, time], i) => mark(kind, time, `T${i}`))
        const worth = callSheet(marks, plainBook, 'driven').calls.reduce((sum, c) => sum + c.worth, 0)
        expect(worth).toBeCloseTo(bruteForce(marks), 9)
      }),
      { seed: 31, numRuns: 120 },
    )
  })

  it('lets every call end one reaction before its mark, none overlapping', () => {
    const { calls } = callSheet(demoPlan().marks, plainBook, 'driven')
    expect(calls.length).toBeGreaterThan(25)
    calls.forEach((call, i) => {
      expect(call.mark_s - call.end_s).toBeCloseTo(inCarTiming.reaction_s, 9)
      if (i > 0) expect(call.start_s - calls[i - 1].end_s).toBeGreaterThanOrEqual(inCarTiming.gap_s - 1e-9)
    })
  })

  it('says one thing a corner when guided, nothing when quiet, and lists what it left out', () => {
    const { marks, corners } = demoPlan()
    const guided = callSheet(marks, plainBook, 'guided')
    for (const corner of corners) expect(guided.calls.filter((c) => c.cornerId === corner.id).length).toBeLessThanOrEqual(1)
    expect(guided.dropped.some((d) => d.reason === 'intensity')).toBe(true)
    const quiet = callSheet(marks, plainBook, 'quiet')
    expect(quiet.calls).toEqual([])
    expect(quiet.dropped).toHaveLength(marks.filter((m) => plainBook.phrases[m.kind]).length)
  })

  it('takes shorter forms where time is short, and drops the lesser call where there is none', () => {
    const tight = callSheet([mark('brake', 10), mark('turn-in', 10.9)], plainBook, 'driven')
    expect(tight.calls.map((c) => c.phrase)).toEqual(['on the brake, firm and straight', 'turn'])
    const none = callSheet([mark('brake', 10), mark('turn-in', 10.2)], plainBook, 'driven')
    expect(none.calls.map((c) => c.kind)).toEqual(['brake'])
    expect(none.dropped).toEqual([{ cornerId: 'T1', kind: 'turn-in', reason: 'no-time' }])
  })

  it('starts earlier over a slow link', () => {
    const radio = callSheet([mark('brake', 10)], plainBook, 'driven', { ...inCarTiming, link_s: 0.3 })
    expect(radio.calls[0].end_s).toBeCloseTo(10 - 0.8 - 0.3, 9)
  })
})
