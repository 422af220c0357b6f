import { describe, expect, it } from 'vitest'
import { cornerOf, demoPlan } from '../../fixtures/load.ts'
import { atStation, wrapStation } from '../circuit/station.ts'
import { type CornerTrace, referenceCorners } from './driven-marks.ts'
import { type JudgedMistake, judgeCorner } from './judge.ts'
import { type LogQuality, planTrace } from './lap-trace.ts'
import { thresholds } from './mistakes.ts'

const plan = demoPlan()
const { circuit, corners } = plan
const trace = planTrace(plan)
const references = referenceCorners(circuit, corners, trace)
const referenceOf = (cornerId: string): CornerTrace => references[corners.findIndex((c) => c.id === cornerId)]
// A fine log: the allowances are the thresholds and what half a metre between fixes adds.
const fine: LogQuality = { offsetNoise_m: 0, interval_s: 0, pedals: true, steering: true }
const fineStation_m = (2 * 0.5) / Math.sqrt(12)
const judged = (cornerId: string, change: Partial<CornerTrace>, quality = fine): JudgedMistake[] => {
  const reference = referenceOf(cornerId)
  return judgeCorner(circuit, cornerOf(plan, cornerId), { ...reference, ...change }, reference, trace, quality)
}
const codes = (...given: Parameters<typeof judged>): string[] => judged(...given).map((m) => m.code)
/** A mark moved along the lap. */
const moved = (station_m: number | null, by_m: number): number => {
  if (station_m === null) throw new Error('The reference has no such mark')
  return wrapStation(station_m + by_m, circuit.length_m)
}
const speedAt = (station_m: number | null): number => atStation(circuit, trace.speed_mps, moved(station_m, 0))

describe('a corner driven as the reference', () => {
  it.each(corners.map((c) => c.id))('shows nothing in %s', (id) => {
    expect(judged(id, {})).toEqual([])
  })
})

describe('the bounds of each mistake', () => {
  const t1 = referenceOf('T1')
  const early_m = Math.max(thresholds.brakeEarly_m, thresholds.brakeEarly_s * speedAt(t1.brake_m)) + fineStation_m
  const late_m = Math.max(thresholds.brakeLate_m, thresholds.brakeLate_s * speedAt(t1.brake_m)) + fineStation_m
  const turn_m = Math.max(thresholds.turnInEarly_m, thresholds.turnInEarly_s * speedAt(t1.turnIn_m)) + fineStation_m

  it('of braking grow with speed and are measured from the reference’s touch', () => {
    expect(early_m).toBeGreaterThan(thresholds.brakeEarly_m)
    expect(codes('T1', { brake_m: moved(t1.brake_m, -early_m + 0.05) })).toEqual([])
    expect(codes('T1', { brake_m: moved(t1.brake_m, -early_m - 0.05) })).toEqual(['brake-early'])
    expect(codes('T1', { brake_m: moved(t1.brake_m, late_m - 0.05) })).toEqual([])
    expect(codes('T1', { brake_m: moved(t1.brake_m, late_m + 0.05) })).toEqual(['brake-late'])
  })

  it('of turning in count to the early side only', () => {
    expect(codes('T1', { turnIn_m: moved(t1.turnIn_m, -turn_m + 0.05) })).toEqual([])
    expect(codes('T1', { turnIn_m: moved(t1.turnIn_m, -turn_m - 0.05) })).toEqual(['turn-in-early'])
    expect(codes('T1', { turnIn_m: moved(t1.turnIn_m, 3 * turn_m) })).not.toContain('turn-in-early')
  })

  it('of speed are a share of the reference’s slowest', () => {
    const share = thresholds.overSlowed + 0.005
    expect(codes('T1', { slowest_mps: t1.slowest_mps * (1 - share + 0.001) })).toEqual([])
    expect(codes('T1', { slowest_mps: t1.slowest_mps * (1 - share - 0.001) })).toEqual(['brake-over'])
    expect(codes('T1', { slowest_mps: t1.slowest_mps * 1.1 })).toEqual([])
  })

  it('of the apex are metres farther from the inner edge than the reference', () => {
    expect(codes('T1', { apexInner_m: t1.apexInner_m + thresholds.apexMissed_m - 0.01 })).toEqual([])
    expect(codes('T1', { apexInner_m: t1.apexInner_m + thresholds.apexMissed_m + 0.01 })).toEqual(['apex-missed'])
    expect(codes('T1', { apexInner_m: t1.apexInner_m - 1 })).toEqual([])
  })

  it('of the exit are a margin at the outer edge, which a reference that uses the road itself lowers to none', () => {
    const half_m = 0.9
    const reference = referenceOf('T4')
    const withRoom: CornerTrace = { ...reference, exitOuter_m: half_m + thresholds.exitOwnMargin_m + 0.1 }
    const without: CornerTrace = { ...reference, exitOuter_m: half_m + thresholds.exitOwnMargin_m - 0.1 }
    const against = (ref: CornerTrace, margin_m: number): string[] =>
      judgeCorner(circuit, cornerOf(plan, 'T4'), { ...ref, exitOuter_m: half_m + margin_m }, ref, trace, fine).map((m) => m.code)
    expect(against(withRoom, thresholds.exitWide_m + 0.01)).toEqual([])
    expect(against(withRoom, thresholds.exitWide_m - 0.01)).toEqual(['exit-wide'])
    expect(against(without, 0.01)).toEqual([])
    expect(against(without, -0.01)).toEqual(['exit-wide'])
  })
})

describe('what a log cannot tell', () => {
  const t1 = referenceOf('T1')
  const early_m = Math.max(thresholds.brakeEarly_m, thresholds.brakeEarly_s * speedAt(t1.brake_m))

  it('is allowed for: two standard errors of position and of the time between fixes', () => {
    const coarse: LogQuality = { ...fine, offsetNoise_m: 1.2, interval_s: 0.1 }
    const doubt_m = 2 * Math.hypot(1.2, (0.1 * speedAt(t1.brake_m)) / Math.sqrt(12))
    expect(codes('T1', { brake_m: moved(t1.brake_m, -early_m - doubt_m + 0.05) }, coarse)).toEqual([])
    expect(codes('T1', { brake_m: moved(t1.brake_m, -early_m - doubt_m - 0.05) }, coarse)).toEqual(['brake-early'])
  })

  it('never makes a mistake appear that a fine log does not show', () => {
    const noisy: LogQuality = { offsetNoise_m: 0.8, interval_s: 0.1, pedals: false, steering: false }
    for (const by_m of [-40, -25, -15, -8, 0, 8, 15, 25, 40])
      for (const wider_m of [0, 0.8, 1.5, 2.5]) {
        const change = { brake_m: moved(t1.brake_m, by_m), apexInner_m: t1.apexInner_m + wider_m }
        const seen = codes('T1', change)
        expect(codes('T1', change, noisy).filter((code) => !seen.includes(code))).toEqual([])
      }
  })

  it('is nothing where there is no mark to compare', () => {
    expect(judged('T1', { brake_m: null, turnIn_m: null, exitOuter_m: null, exit_m: null })).toEqual([])
  })
})

describe('the evidence', () => {
  const t1 = referenceOf('T1')
  const all = judged('T1', {
    brake_m: moved(t1.brake_m, -60),
    turnIn_m: moved(t1.turnIn_m, -25),
    slowest_mps: t1.slowest_mps * 0.8,
    apexInner_m: t1.apexInner_m + 3,
    exitOuter_m: t1.exitOuter_m === null ? null : 0.5,
  })

  it('stands in the order in which a lap meets it', () => {
    const from = cornerOf(plan, 'T1').start_m - 300
    const ahead = all.map((m) => wrapStation(m.station_m - from, circuit.length_m))
    expect(all.length).toBeGreaterThanOrEqual(4)
    expect(ahead).toEqual([...ahead].sort((a, b) => a - b))
    expect(all[0].code).toBe('brake-early')
  })

  it('holds what was measured, what the reference did, and what was allowed', () => {
    const early = all.find((m) => m.code === 'brake-early')
    expect(early?.evidence.later_m).toBeCloseTo(-60, 6)
    expect(early?.evidence.referenceBrake_m).toBeCloseTo(moved(t1.brake_m, 0), 9)
    expect(early?.evidence.allowed_m).toBeLessThan(0)
    const over = all.find((m) => m.code === 'brake-over')
    expect(over?.evidence.underShare).toBeCloseTo(0.2, 9)
    const missed = all.find((m) => m.code === 'apex-missed')
    expect(missed?.evidence.farther_m).toBeCloseTo(3, 9)
    for (const { evidence } of all) for (const value of Object.values(evidence)) expect(Number.isFinite(value)).toBe(true)
  })
})
