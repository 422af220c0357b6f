import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { markOf } from '../marks/mark.ts'
import { lapOfTouch } from './lap-of-touch.ts'
import { bestLapTime, isOwnLap, type LapsOfRun, withOwnLaps } from './own-laps.ts'
import type { RunEvent } from './run-events.ts'

const drove = (lap: number, driver: 'student' | 'instructor'): RunEvent => ({
  id: `${lap} ${driver}`,
  runId: 'r',
  at: '2027-05-15T10:00:00Z',
  kind: 'lap-driver',
  lap,
  driver,
})

describe('the lap of a touch', () => {
  const plan = demoPlan()
  const apex_m = markOf(plan.marks, 'T3', 'apex')?.station_m ?? 0

  it('is the car’s own lap once it has passed the apex, and the lap before until then', () => {
    expect(apex_m).toBeGreaterThan(0)
    expect(lapOfTouch(plan, 'T3', { lap: 4, station_m: apex_m + 1 })).toBe(4)
    expect(lapOfTouch(plan, 'T3', { lap: 4, station_m: apex_m })).toBe(4)
    expect(lapOfTouch(plan, 'T3', { lap: 4, station_m: apex_m - 1 })).toBe(3)
    expect(lapOfTouch(plan, 'T3', { lap: 4, station_m: 2 })).toBe(3)
  })

  it('is never before the out lap, and goes by the tightest point where the plan has no apex', () => {
    expect(lapOfTouch(plan, 'T3', { lap: 0, station_m: 2 })).toBe(0)
    const bare = { marks: [], corners: [{ id: 'T9', peak_m: 500 }] }
    expect(lapOfTouch(bare, 'T9', { lap: 2, station_m: 501 })).toBe(2)
    expect(lapOfTouch(bare, 'T9', { lap: 2, station_m: 499 })).toBe(1)
  })
})

describe('laps that somebody else drove', () => {
  const of = (laps: number[]) => laps.map((lap) => ({ lap }))
  const run: LapsOfRun = { laps: of([1, 2, 3]), findings: of([1, 2, 2]), review: { passes: of([2, 3]), undecidable: of([2, 1]) } }

  it('leave laps, findings, passes and what could not be decided together', () => {
    expect(withOwnLaps(run, [drove(2, 'instructor')])).toEqual({
      laps: of([1, 3]),
      findings: of([1]),
      review: { passes: of([3]), undecidable: of([1]) },
    })
  })

  it('come back by a later word, and nothing is copied where all laps are the student’s', () => {
    expect(withOwnLaps(run, [drove(2, 'instructor'), drove(2, 'student')])).toBe(run)
    const isOwn = isOwnLap([drove(2, 'student'), drove(2, 'instructor')])
    expect([1, 2, 3].filter((lap) => isOwn({ lap }))).toEqual([1, 3])
  })

  it('give the best of those left, none for none', () => {
    expect(bestLapTime([{ time_s: 91 }, { time_s: 88.5 }])).toBe(88.5)
    expect(bestLapTime([])).toBeNull()
  })
})
