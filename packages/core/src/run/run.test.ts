import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { planTrace } from '../drive/lap-trace.ts'
import { markOf } from '../marks/mark.ts'
import { bestLapTime, changesCounting, countedLaps, type LapsOfRun, withCountedLaps } from './counted-laps.ts'
import { lapOfTouch } from './lap-of-touch.ts'
import { type LapUse, lapUse, slowLapRemarks } from './lap-use.ts'
import { passesFrom } from './passes-from.ts'
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

let number = 0
/** An event of the run, in the order in which they are made. */
const event = (told: Record<string, unknown>): RunEvent =>
  ({ id: `e${number++}`, runId: 'r', at: '2027-05-15T10:00:00Z', ...told }) as RunEvent
const numbers = (of: { counts: (lap: { lap: number }) => boolean }, to: number): number[] =>
  Array.from({ length: to + 1 }, (_, lap) => lap).filter((lap) => of.counts({ lap }))

describe('the laps that count', () => {
  const of = (laps: number[]) => laps.map((lap) => ({ lap }))
  const run: LapsOfRun = {
    laps: of([1, 2, 3]),
    findings: of([1, 2, 2]),
    review: { passes: of([2, 3]), undecidable: of([2, 1]), theoreticalBest: { pieces: of([1, 3]) } },
  }

  it('are all of a run without a programme, and the coached and timed ones of one that has it', () => {
    expect(numbers(countedLaps([]), 4)).toEqual([1, 2, 3, 4])
    const programme = { sighting: 1, warmUp: 1, coached: 2, timed: 1, coolDown: 1 }
    const counted = countedLaps([event({ kind: 'sent-out', program: programme })])
    expect(numbers(counted, 8)).toEqual([3, 4, 5])
    expect([0, 1, 2, 3, 5, 6, 7].map((lap) => counted.of(lap).kind)).toEqual([
      'out',
      'sighting',
      'warm-up',
      'coached',
      'timed',
      'cool-down',
      'in',
    ])
  })

  it('end where a person names a cool-down lap on the way, and change by one where a lap is named afterwards', () => {
    const sent = event({ kind: 'sent-out', program: { sighting: 0, coached: 6, coolDown: 0 } })
    expect(numbers(countedLaps([sent, event({ kind: 'lap-kind', lap: 3, lapKind: 'cool-down' })]), 6)).toEqual([1, 2])
    expect(numbers(countedLaps([sent, event({ kind: 'lap-kind', lap: 3, lapKind: 'sighting', only: true })]), 6)).toEqual([1, 2, 4, 5, 6])
  })

  it('leave out what was set aside and what an instructor drove, and take it back by a later word or an undo', () => {
    const aside = event({ kind: 'set-aside', lap: 2, reason: 'traffic' })
    const events = [aside, drove(3, 'instructor')]
    expect(numbers(countedLaps(events), 4)).toEqual([1, 4])
    expect(countedLaps(events).of(2).aside).toBe('traffic')
    expect(countedLaps(events).of(3).aside).toBe('instructor')
    expect(numbers(countedLaps([...events, event({ kind: 'undo', undoes: aside.id })]), 4)).toEqual([1, 2, 4])
    expect(numbers(countedLaps([...events, event({ kind: 'set-aside', lap: 2, reason: null }), drove(3, 'student')]), 4)).toEqual([
      1, 2, 3, 4,
    ])
    expect(events.every(changesCounting)).toBe(true)
  })

  it('keep their other passes where traffic or a flag spoilt some', () => {
    const { counts } = countedLaps([
      event({
        kind: 'traffic',
        lap: 2,
        way: 'let-by',
        cornerId: 'T3',
        passes: [
          { lap: 2, cornerId: 'T3' },
          { lap: 2, cornerId: 'T4' },
        ],
      }),
      event({ kind: 'passes-aside', why: 'flag', passes: [{ lap: 3, cornerId: 'T1' }] }),
      event({ kind: 'traffic', lap: 4, way: 'went-by', cornerId: 'T5' }),
    ])
    const left = [2, 3, 4].flatMap((lap) => ['T1', 'T3', 'T4', 'T5'].map((cornerId) => ({ lap, cornerId }))).filter((p) => !counts(p))
    expect(left.map(({ lap, cornerId }) => `${lap} ${cornerId}`)).toEqual(['2 T3', '2 T4', '3 T1', '4 T5'])
    expect(counts({ lap: 2 })).toBe(true)
  })

  it('alone are left of a log: laps, findings, passes and what could not be decided; a best lap from others is left out', () => {
    expect(withCountedLaps(run, [drove(2, 'instructor')])).toEqual({
      laps: of([1, 3]),
      findings: of([1]),
      review: { passes: of([3]), undecidable: of([1]), theoreticalBest: { pieces: of([1, 3]) } },
    })
    expect(withCountedLaps(run, [drove(1, 'instructor')]).review.theoreticalBest).toBeNull()
    expect(withCountedLaps(run, [drove(2, 'instructor'), drove(2, 'student')])).toBe(run)
  })

  it('give the best of those left, none for none', () => {
    expect(bestLapTime([{ time_s: 91 }, { time_s: 88.5 }])).toBe(88.5)
    expect(bestLapTime([])).toBeNull()
  })
})

describe('passes that something spoils', () => {
  const plan = demoPlan()
  const apex = (id: string): number => markOf(plan.marks, id, 'apex')?.station_m ?? Number.NaN

  it('are those up to the next apex, and that of the corner which the car is still in', () => {
    const halfway = (apex('T3') + apex('T4')) / 2
    expect(passesFrom(plan, { lap: 2, station_m: halfway })).toEqual([{ lap: 2, cornerId: 'T4' }])
    expect(passesFrom(plan, { lap: 2, station_m: apex('T3') + 10 })).toEqual([
      { lap: 2, cornerId: 'T3' },
      { lap: 2, cornerId: 'T4' },
    ])
  })

  it('belong to the next lap past the last apex', () => {
    const last = plan.corners[plan.corners.length - 1].id
    expect(passesFrom(plan, { lap: 2, station_m: apex(last) + 80 })).toEqual([{ lap: 3, cornerId: 'T1' }])
    expect(passesFrom({ ...plan, corners: [] }, { lap: 2, station_m: 10 })).toEqual([])
  })
})

describe('slow laps', () => {
  const use: LapUse = { lap: 1, top_mps: 40, topAt_m: 900, brake_g: 0.6, brakeAt_m: 1200, braked_s: 2.5 }

  it('are checked for the speed cap, and the cool-down lap for hard braking; nothing else is', () => {
    expect(slowLapRemarks('sighting', use, 110 / 3.6)).toEqual([{ remark: 'over-cap', speed_mps: 40, cap_mps: 110 / 3.6, station_m: 900 }])
    expect(slowLapRemarks('sighting', use, null)).toEqual([])
    expect(slowLapRemarks('cool-down', use, 41).map((r) => r.remark)).toEqual(['braked'])
    expect(slowLapRemarks('cool-down', { ...use, braked_s: 0.4 }, null)).toEqual([])
    expect(slowLapRemarks('coached', use, 10)).toEqual([])
  })

  it('are measured by the highest speed and the hardest braking of the lap', () => {
    const trace = planTrace(demoPlan())
    const measured = lapUse(demoPlan().circuit, 4, trace)
    expect(measured.top_mps).toBe(Math.max(...trace.speed_mps))
    expect(measured.brake_g).toBe(Math.max(...trace.brake))
    expect(measured.braked_s).toBeGreaterThan(1)
    expect(measured.lap).toBe(4)
  })
})
