import { describe, expect, it } from 'vitest'
import type { RecallRound } from '../recall/index.ts'
import { homeAndTrack } from './home-and-track.ts'

const round = (at: string, cornerId: string, mode: RecallRound['mode'] = 'fading', off_s: number | null = 0.1): RecallRound => ({
  id: at,
  at,
  mode,
  marks: [{ cornerId, action: 'brake', off_s, off_m: off_s }],
  lap_s: null,
})
const passes = (runId: string, cornerId: string, clean: number, missed: number) => [
  ...Array.from({ length: clean }, () => ({ runId, cornerId, codes: [] })),
  ...Array.from({ length: missed }, () => ({ runId, cornerId, codes: ['turn-in-early' as const] })),
]
const startedAt = new Map([
  ['first', '2027-05-08T10:00:00.000Z'],
  ['second', '2027-05-15T10:00:00.000Z'],
])

describe('training at home', () => {
  it('counts passes of a corner only from the first run after it was driven from memory', () => {
    const all = [...passes('first', 'T1', 1, 3), ...passes('second', 'T1', 3, 1), ...passes('second', 'T2', 1, 1)]
    const found = homeAndTrack(all, [round('2027-05-10T20:00:00.000Z', 'T1')], startedAt)
    expect([found.trained.hits, found.trained.of]).toEqual([3, 4])
    expect([found.others.hits, found.others.of]).toEqual([2, 6])
    expect(found.difference?.by).toBeCloseTo(3 / 4 - 2 / 6, 9)
    // Four against six tell nothing for sure.
    expect(found.difference?.low).toBeLessThan(0)
  })

  it('tells a clear difference by an interval that leaves zero out', () => {
    const all = [...passes('second', 'T1', 95, 5), ...passes('second', 'T2', 40, 60)]
    const { difference } = homeAndTrack(all, [round('2027-05-10T20:00:00.000Z', 'T1')], startedAt)
    expect(difference?.low).toBeGreaterThan(0.4)
  })

  it('leaves out what was not tapped, eyes closed, rounds after the run, and runs that are not known', () => {
    const rounds = [
      round('2027-05-10T20:00:00.000Z', 'T1', 'closed'),
      round('2027-05-10T20:00:00.000Z', 'T1', 'fading', null),
      round('2027-05-15T20:00:00.000Z', 'T1'),
    ]
    const found = homeAndTrack([...passes('second', 'T1', 2, 0), ...passes('gone', 'T1', 5, 0)], rounds, startedAt)
    expect([found.trained.of, found.others.of, found.difference]).toEqual([0, 2, null])
  })
})
