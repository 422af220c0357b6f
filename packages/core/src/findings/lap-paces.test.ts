import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { simulateDrive } from '../simulate/drive.ts'
import { analyseLog } from './analyse.ts'
import { withLapPaces } from './lap-paces.ts'

describe('laps that were meant for another pace', () => {
  it('are judged by the plan at that pace, and the others by their own', () => {
    const [quick, slow] = [demoPlan({ pace: 0.75 }), demoPlan({ pace: 0.6 })]
    const { log } = simulateDrive(quick, { laps: 4, seed: 5, habits: [], paceOf: (lap) => (lap <= 2 ? 0.6 : 0.75) })
    const by = (plan: typeof quick) => analyseLog(plan.circuit, plan.corners, log, { kind: 'plan', plan })
    const [own, other] = [by(quick), by(slow)]
    const slowLaps = new Set([1, 2])
    const merged = withLapPaces(own, [{ laps: slowLaps, analysis: other }])
    const roots = (analysis: typeof own, of: (lap: number) => boolean): number =>
      analysis.findings.filter((f) => f.root && of(f.lap)).length
    const isSlow = (lap: number): boolean => slowLaps.has(lap)
    // Held against the quicker plan the slow laps would be one mistake after another.
    expect(roots(own, isSlow)).toBeGreaterThan(6)
    expect(roots(merged, isSlow)).toBe(roots(other, isSlow))
    expect(roots(merged, isSlow)).toBeLessThan(roots(own, isSlow) / 2)
    expect(roots(merged, (lap) => !isSlow(lap))).toBe(roots(own, (lap) => !isSlow(lap)))
    expect(merged.laps).toBe(own.laps)
    expect(merged.passes).toHaveLength(own.passes.length)
    expect(withLapPaces(own, [])).toEqual(own)
  })
})
