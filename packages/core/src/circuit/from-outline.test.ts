import { describe, expect, it } from 'vitest'
import { buildCircuit } from './build-circuit.ts'
import { surveyFromOutline } from './from-outline.ts'

const circle = (points: number, radius_m: number) =>
  [Math.cos, Math.sin].map((f) => Array.from({ length: points }, (_, i) => radius_m * f((2 * Math.PI * i) / points)))

describe('a circuit drawn by a few points', () => {
  it('is the circle that was meant', () => {
    const [x, y] = circle(12, 100)
    const circuit = buildCircuit(surveyFromOutline('drawn', x, y, 5))
    expect(Math.abs(circuit.length_m / (2 * Math.PI * 100) - 1)).toBeLessThan(0.005)
    const radii = Array.from(circuit.kappa_1pm, (k) => 1 / k)
    expect(Math.min(...radii)).toBeGreaterThan(88)
    expect(Math.max(...radii)).toBeLessThan(112)
  })

  it('needs five points', () => {
    expect(() => surveyFromOutline('x', [0, 100, 0], [0, 0, 100], 5)).toThrow(expect.objectContaining({ code: 'circuit-too-few-points' }))
  })
})
