import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { type LapTrace, planTrace } from '../drive/lap-trace.ts'
import { stationInLap } from '../plan/lap-time.ts'
import { brakeShape, gripOfTrace, phaseDifferences, splicedTrace } from './compare-laps.ts'
import { idealLap } from './theoretical-best.ts'

const plan = demoPlan()
const { circuit, corners, profile } = plan
const own = planTrace(plan)
/** The plan's lap, slower by so much time between two stations. */
const slower = (from: number, to: number, by_s: number): LapTrace => {
  const lost = (i: number): number => by_s * Math.min(1, Math.max(0, (i - from) / (to - from)))
  return { ...own, time_s: own.time_s.map((t, i) => t + lost(i)), lapTime_s: own.lapTime_s + by_s }
}

describe('a lap beside another', () => {
  it('has no difference to itself in any phase', () => {
    for (const { phases_s } of phaseDifferences(plan, own, own)) for (const t of phases_s) expect(t).toBeCloseTo(0, 9)
  })

  it('has phases that add up to the difference of the lap times, wherever it was lost', () => {
    const late = slower(800, 1100, 0.7)
    const all = phaseDifferences(plan, late, own)
    expect(all).toHaveLength(corners.length)
    expect(all.flatMap((c) => c.phases_s).reduce((a, b) => a + b, 0)).toBeCloseTo(0.7, 6)
  })

  it('is somewhere at any time, the inverse of its time at a station', () => {
    for (const i of [3, 400, 1500, circuit.count - 2]) expect(stationInLap(circuit, own, own.time_s[i])).toBeCloseTo(circuit.s_m[i], 3)
    expect(stationInLap(circuit, own, own.time_s[400] + own.lapTime_s)).toBeCloseTo(circuit.s_m[400], 3)
    expect(stationInLap(circuit, own, own.time_s[400] - own.lapTime_s)).toBeCloseTo(circuit.s_m[400], 3)
  })
})

describe('grip used', () => {
  it('of the plan’s own trace is what the plan says', () => {
    const used = gripOfTrace(plan, own)
    const apart = Array.from(used, (g, i) => Math.abs(g - profile.gripUsed[i])).sort((a, b) => a - b)
    expect(apart[Math.floor(0.5 * apart.length)]).toBeLessThan(0.02)
    expect(apart[Math.floor(0.95 * apart.length)]).toBeLessThan(0.15)
  })

  it('is not told where an older log has no path', () => {
    expect(gripOfTrace(plan, { ...own, kappa_1pm: new Float64Array(0) })).toHaveLength(0)
  })
})

describe('the best of each corner as one lap', () => {
  const laps = new Map([
    [1, slower(10, 150, 0.4)],
    [2, slower(1500, 1700, 0.7)],
  ])
  const theoreticalBest = idealLap(
    circuit,
    [...laps].map(([lap, trace]) => ({ lap, trace })),
    [400, 1000, 1700, 2400],
  )

  it('runs on in time through its pieces and takes the ideal time', () => {
    const spliced = splicedTrace(circuit, theoreticalBest?.pieces ?? [], laps)
    expect(spliced?.lapTime_s).toBeCloseTo(own.lapTime_s, 9)
    for (let i = 1; i < circuit.count; i++) expect((spliced?.time_s[i] ?? 0) - (spliced?.time_s[i - 1] ?? 0)).toBeGreaterThan(0)
    expect(spliced?.time_s[circuit.count - 1]).toBeCloseTo(own.time_s[circuit.count - 1], 6)
  })

  it('is nothing where a lap of it is missing', () => {
    expect(splicedTrace(circuit, [{ lap: 9, from_m: 0, to_m: circuit.length_m, time_s: 1 }], laps)).toBeNull()
    expect(splicedTrace(circuit, [], laps)).toBeNull()
  })
})

describe('the shape of a brake', () => {
  const at = (m: number): number => Math.round(m / circuit.step_m)
  const brake = (points: readonly [number, number][]): LapTrace => ({
    ...own,
    brake: Float64Array.from(own.brake, (_, i) => {
      const k = points.findIndex(([m]) => at(m) > i)
      if (k <= 0) return 0
      const [[a, x], [b, y]] = [points[k - 1], points[k]]
      return x + ((i * circuit.step_m - a) / (b - a)) * (y - x)
    }),
  })

  it('begins at the first touch, with its peak and the time to it', () => {
    const shape = brakeShape(
      circuit,
      brake([
        [100, 0],
        [120, 0.8],
        [180, 0],
      ]),
      { from_m: 60, to_m: 260 },
    )
    expect(shape?.onset_m).toBeGreaterThanOrEqual(100)
    expect(shape?.onset_m).toBeLessThan(104)
    expect(shape?.peak_g).toBeCloseTo(0.8, 1)
    expect(shape?.toPeak_s).toBeCloseTo(own.time_s[at(120)] - own.time_s[at(102)], 1)
    expect(shape?.at_m.at(-1)).toBeGreaterThan(70)
  })

  it('goes on through a pedal let go for a moment, and ends where the stretch does', () => {
    const twice = brakeShape(
      circuit,
      brake([
        [100, 0],
        [110, 0.6],
        [120, 0.02],
        [130, 0.6],
        [150, 0],
      ]),
      { from_m: 60, to_m: 260 },
    )
    expect(twice?.at_m.at(-1)).toBeGreaterThan(40)
    expect(
      brakeShape(
        circuit,
        brake([
          [300, 0],
          [320, 0.8],
          [380, 0],
        ]),
        { from_m: 60, to_m: 260 },
      ),
    ).toBeNull()
  })
})
