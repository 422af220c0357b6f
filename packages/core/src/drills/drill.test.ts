import { describe, expect, it } from 'vitest'
import { GRAVITY_MPS2 } from '../units/constants.ts'
import { defaultSizes, drillKinds, drillTarget } from './drill.ts'

describe('what an exercise asks', () => {
  it('stops from 50 km/h where kinematics say', () => {
    const { stop_m, time_s } = drillTarget('braking-box', 1, 1)
    const v = 50 / 3.6
    expect(stop_m).toBeCloseTo((v * v) / (2 * GRAVITY_MPS2), 9)
    expect(time_s).toBeCloseTo(v / GRAVITY_MPS2, 9)
  })

  it('goes round a circle at the speed whose demand is the grip', () => {
    const { speed_mps, time_s } = drillTarget('circle', 0.9, 0.8)
    expect(speed_mps ** 2 / defaultSizes.radius_m).toBeCloseTo(0.72 * GRAVITY_MPS2, 9)
    expect((time_s ?? 0) * speed_mps).toBeCloseTo(2 * Math.PI * defaultSizes.radius_m, 9)
    expect(drillTarget('figure-of-eight', 0.9, 0.8).time_s).toBeCloseTo(2 * (time_s ?? 0), 9)
  })

  it('weaves a slalom whose sharpest point asks for the grip', () => {
    const { speed_mps } = drillTarget('slalom', 1, 0.75)
    // Curvature of A·sin(πx/L) at its crest, by differences.
    const { amplitude_m: A, spacing_m: L } = defaultSizes
    const y = (x: number): number => A * Math.sin((Math.PI * x) / L)
    const h = 0.01
    const kappa = Math.abs(y(L / 2 + h) - 2 * y(L / 2) + y(L / 2 - h)) / (h * h)
    expect((speed_mps ** 2 * kappa) / (0.75 * GRAVITY_MPS2)).toBeCloseTo(1, 4)
  })

  it('asks for less with less grip, of every kind', () => {
    for (const kind of drillKinds) {
      const [dry, wet] = [drillTarget(kind, 1, 0.8), drillTarget(kind, 0.6, 0.8)]
      if (dry.stop_m !== null) expect(wet.stop_m ?? 0).toBeGreaterThan(dry.stop_m)
      else expect(wet.speed_mps).toBeLessThan(dry.speed_mps)
    }
  })
})
