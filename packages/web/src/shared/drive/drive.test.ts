import { readFileSync } from 'node:fs'
import { callWorkSchema } from '@ochote/contract'
import {
  bookFor,
  buildCircuit,
  makePlan,
  makeVenue,
  phraseBooks,
  planCalls,
  readCircuit,
  timingOf,
  tooFastToSpeak,
  type Vehicle,
  type VenueNotes,
  wrapTime,
} from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { spansOf } from '../calls/use-call-sheet.ts'
import { groundInView, isInView } from './in-view.ts'
import { advance, betweenFrames, reachedFrom } from './lap-clock.ts'

const demo = (file: string): string => readFileSync(new URL(`../../../../../demo/${file}`, import.meta.url), 'utf8')
const [notes] = (JSON.parse(demo('scenario.json')) as { circuits: VenueNotes[] }).circuits
const venue = makeVenue(buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'x')), notes)
const plan = makePlan(venue, (JSON.parse(demo('vehicles.json')) as Vehicle[])[0], { surface: 'dry', pace: 0.6, school: 'straight' })

describe('the clock of a lap', () => {
  it('runs by its rate, round the lap, and does not leap after a sleep', () => {
    expect(advance(10, 0.02, 4, 100)).toBeCloseTo(10.08, 9)
    expect(advance(99.99, 0.02, 1, 100)).toBeCloseTo(0.01, 9)
    expect(advance(10, 60, 1, 100)).toBeCloseTo(10.25, 9)
    expect(advance(0, -0.004, 1, 100)).toBe(0)
  })

  it('tells a touch between two frames to its moment', () => {
    expect(betweenFrames(10, 0.013, 1, 100)).toBeCloseTo(10.013, 9)
    expect(betweenFrames(10, -0.004, 4, 100)).toBeCloseTo(9.984, 9)
    expect(betweenFrames(99.99, 0.02, 1, 100)).toBeCloseTo(0.01, 9)
    expect(betweenFrames(10, 60, 1, 100)).toBeCloseTo(10.25, 9)
  })

  it('stops once at every time that it is to stop at, however fast the frames are, also over the line', () => {
    const times = [0.4, 2.56, 17.6, 99.99]
    for (const frame_s of [0.001, 1 / 144, 1 / 60, 0.05, 0.25]) {
      const told: number[] = []
      let now_s = 1
      let reachedAt = reachedFrom(times, now_s, 100)
      for (let frames = 0; told.length < times.length && frames * frame_s < 110; frames++) {
        now_s = advance(now_s, frame_s, 1, 100)
        const reached = reachedAt(now_s)
        if (reached === undefined) continue
        // As a page does: it stops there, and goes on when it is told to.
        told.push(reached)
        now_s = wrapTime(reached, 100)
        reachedAt = reachedFrom(times, now_s, 100)
        expect(reachedAt(now_s)).toBeUndefined()
      }
      expect(told).toEqual([2.56, 17.6, 99.99, 0.4])
    }
    // A jump passes none, forward or back.
    const jumping = reachedFrom(times, 1, 100)
    expect([jumping(50), jumping(2), jumping(2.6)]).toEqual([undefined, undefined, 2.56])
  })
})

describe('what is in view', () => {
  it('comes 150 m ahead and goes 45 m behind, also over the line', () => {
    const { length_m } = plan.circuit
    expect(isInView(plan, 100, 249)).toBe(true)
    expect(isInView(plan, 100, 252)).toBe(false)
    expect(isInView(plan, 100, 56)).toBe(true)
    expect(isInView(plan, 100, 54)).toBe(false)
    expect(isInView(plan, length_m - 20, 100)).toBe(true)
  })

  it('tells hazards and references, not run-offs', () => {
    const seen = groundInView(plan, 240)
    expect(seen.some((g) => g.name === 'Seam across the road')).toBe(true)
    expect(seen.some((g) => g.kind === 'run-off')).toBe(false)
  })
})

describe('calls on the road', () => {
  const timing = timingOf(callWorkSchema.parse({ link_s: 0.3 }))
  const sheet = planCalls(plan, phraseBooks[0], 'driven', { timing })
  const state = { sheet, book: phraseBooks[0], timing, tooFast: tooFastToSpeak(plan, sheet, timing) }

  it('begin before they end, before their marks, and follow a drag', () => {
    const spans = spansOf(plan, state)
    const said = spans.filter((s) => s.tone !== 'lost')
    expect(said).toHaveLength(sheet.calls.length)
    for (const span of said.slice(1)) expect(span.from_m < span.to_m && span.to_m < span.mark_m, span.id).toBe(true)
    const [first] = said
    const moved = spansOf(plan, state, { id: first.id, along_m: -12 }).find((s) => s.id === first.id)
    expect(moved?.from_m).toBeCloseTo(first.from_m - 12, 9)
    expect(moved?.mark_m).toBe(first.mark_m)
  })

  it('are spoken from a book in the student’s language where there is one', () => {
    expect(bookFor(phraseBooks, 'brisk', null).id).toBe('brisk')
    expect(bookFor(phraseBooks, 'brisk', 'de').id).toBe('ruhig')
    expect(bookFor(phraseBooks, 'brisk', 'en').id).toBe('brisk')
    expect(bookFor(phraseBooks, 'gone', null).id).toBe('plain')
  })
})
