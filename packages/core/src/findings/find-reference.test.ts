import { describe, expect, it } from 'vitest'
import { fixtureCircuit, vehicle } from '../../fixtures/load.ts'
import { makeVenue } from '../circuit/venue.ts'
import type { LineMethod } from '../line/line-method.ts'
import type { Log } from '../log/log.ts'
import type { BrakingSchool } from '../marks/braking-school.ts'
import { makePlan } from '../plan/make-plan.ts'
import type { Plan, PlanSettings } from '../plan/plan.ts'
import { simulateDrive } from '../simulate/drive.ts'
import { habitsOf } from '../simulate/habits.ts'
import { findReference } from './find-reference.ts'
import { differsThroughout, holdAgainst, referenceTold } from './held-against.ts'

const venue = makeVenue(fixtureCircuit('lobes.csv'))
const car = vehicle('hatchback')
const settings: PlanSettings = { surface: 'dry', pace: 0.75, school: 'straight' }
const planned = (school: BrakingSchool, method: LineMethod, pace = 0.7): Plan =>
  makePlan(venue, car, { surface: 'dry', pace, school, method })
/** A log of positions and speed alone. */
const bare = ({ time_s, lat_deg, lon_deg, ele_m, speed_mps }: Log): Log => ({ time_s, lat_deg, lon_deg, ele_m, speed_mps }) as Log

describe('the reference of a log from elsewhere', { timeout: 180_000 }, () => {
  const drivers: [BrakingSchool, LineMethod][] = [
    ['straight', 'smoothest'],
    ['blend', 'late'],
    ['trail', 'fast'],
  ]
  it.each(drivers)('is the plan in the style and on the line of the driver, whatever habits they have: %s, %s', (school, method) => {
    const plan = planned(school, method)
    const drive = simulateDrive(plan, { laps: 3, seed: 5, noise_m: 0.2, habits: habitsOf(4, plan, 0) })
    for (const log of [drive.log, bare(drive.log)]) {
      const found = findReference(venue, car, log, settings)
      expect(found.why).toBe('plan-explains')
      expect(referenceTold(found.reference)).toMatchObject({ kind: 'plan', school, method })
      expect(found.reference.kind === 'plan' && found.reference.plan.settings.pace).toBeCloseTo(0.7, 1)
    }
  })

  it('is the quickest whole lap where no plan explains the drive, and where nobody says which vehicle it was', () => {
    const fast = makePlan(venue, vehicle('single-seater'), { surface: 'dry', pace: 0.95, school: 'trail', method: 'fast' })
    const { log, lapTimes_s } = simulateDrive(fast, { laps: 3, seed: 2, noise_m: 0.1, paceOf: (lap) => (lap === 2 ? 0.95 : 0.9) })
    const quickest = 1 + lapTimes_s.indexOf(Math.min(...lapTimes_s))
    const kart = findReference(venue, vehicle('kart'), log, settings)
    expect(kart).toMatchObject({ reference: { kind: 'lap', lap: quickest }, why: 'no-plan-explains' })
    expect(findReference(venue, null, log, settings)).toEqual({ reference: { kind: 'lap', lap: quickest }, fit: null, why: 'no-vehicle' })
  })
})

describe('a log held against what was wished for', { timeout: 180_000 }, () => {
  it('of a trail driver against a straight plan has no wall of mistakes, but one sentence with the better reference', () => {
    const trail = simulateDrive(planned('trail', 'fast'), { laps: 4, seed: 3, noise_m: 0.1 })
    const straight = planned('straight', 'smoothest', 0.6)
    const held = holdAgainst(venue, car, trail.log, { kind: 'plan', plan: straight }, settings)
    expect(held.analysis.findings).toEqual([])
    expect(held.instead && referenceTold(held.instead.reference)).toMatchObject({ kind: 'plan', school: 'trail', method: 'fast' })
    const found = holdAgainst(venue, car, trail.log, { kind: 'auto' }, settings)
    expect(found.analysis.findings.filter((f) => f.root).length).toBeLessThanOrEqual(4)
  })

  it('of a student of that plan keeps its mistakes, however many there are', () => {
    const plan = planned('straight', 'smoothest')
    for (const seed of [1, 2, 3]) {
      const habits = habitsOf(seed, plan, 0).map((h) => ({ ...h, probability: 0.95, size: 1.3 * h.size }))
      const { log } = simulateDrive(plan, { laps: 4, seed, noise_m: 0.1, habits })
      const held = holdAgainst(venue, car, log, { kind: 'plan', plan }, settings)
      expect(held.instead).toBeNull()
      expect(held.analysis.findings.length).toBeGreaterThan(5)
    }
  })

  it('takes the quickest lap where that is asked for, and names a lap as it is told', () => {
    const { log, lapTimes_s } = simulateDrive(planned('blend', 'smoothest'), { laps: 3, seed: 9, noise_m: 0.1 })
    const best = holdAgainst(venue, car, log, { kind: 'best' }, settings)
    expect(referenceTold(best.reference)).toEqual({ kind: 'lap', lap: 1 + lapTimes_s.indexOf(Math.min(...lapTimes_s)) })
    expect(holdAgainst(venue, car, log, { kind: 'lap', lap: 2 }, settings)).toMatchObject({
      why: 'named',
      reference: { kind: 'lap', lap: 2 },
    })
  })

  it('of a lap of another drive: a clean one holds, a student who brakes early there is told so', () => {
    const plan = planned('straight', 'smoothest')
    const instructor = simulateDrive(plan, { laps: 3, seed: 21, noise_m: 0.1 }).log
    const wish = { kind: 'drive', log: instructor, lap: 2, runId: 'run-of-the-instructor' } as const
    const clean = simulateDrive(plan, { laps: 3, seed: 22, noise_m: 0.1 }).log
    const held = holdAgainst(venue, car, clean, wish, settings)
    expect(referenceTold(held.reference)).toEqual({ kind: 'drive', lap: 2, runId: 'run-of-the-instructor' })
    expect(held.analysis.findings.filter((f) => f.root)).toEqual([])
    // Every lap is judged: the reference is none of them.
    expect(new Set(held.analysis.passes.map((p) => p.lap))).toEqual(new Set([1, 2, 3]))
    const { cornerId } = plan.marks.filter((m) => m.kind === 'brake').reduce((a, b) => (a.speed_mps > b.speed_mps ? a : b))
    const early = simulateDrive(plan, {
      laps: 3,
      seed: 23,
      noise_m: 0.1,
      habits: [{ cornerId, code: 'brake-early', probability: 1, size: 45 }],
    }).log
    const found = holdAgainst(venue, car, early, wish, settings).analysis.findings.filter((f) => f.root)
    const told = found.filter((f) => f.code === 'brake-early')
    expect(told.map((f) => [f.lap, f.cornerId])).toEqual([1, 2, 3].map((lap) => [lap, cornerId]))
    expect(found.length - told.length).toBeLessThanOrEqual(1)
    expect(() => holdAgainst(venue, car, clean, { ...wish, lap: 9 }, settings)).toThrow(
      expect.objectContaining({ code: 'reference-lap-missing' }),
    )
  })

  it('differs from its reference only where that is so at most corners of every lap', () => {
    const of = (lap: number, cornerId: string) => ({ lap, cornerId, root: true })
    const passes = [1, 2].flatMap((lap) => ['T1', 'T2', 'T3', 'T4'].map((cornerId) => ({ lap, cornerId })))
    const laps = [{ lap: 1 }, { lap: 2 }]
    const differs = (findings: ReturnType<typeof of>[]) =>
      differsThroughout({ laps, passes, findings } as unknown as Parameters<typeof differsThroughout>[0])
    const three = (lap: number) => ['T1', 'T2', 'T4'].map((id) => of(lap, id))
    expect(differs([...three(1), ...three(2)])).toBe(true)
    expect(differs([...three(1), of(2, 'T1')])).toBe(false)
    expect(differs([])).toBe(false)
  })
})
