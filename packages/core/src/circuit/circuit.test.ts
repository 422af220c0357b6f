import { describe, expect, it } from 'vitest'
import { circleCsv, fixtureCircuit } from '../../fixtures/load.ts'
import { readCircuit } from '../formats/read-circuit.ts'
import { buildCircuit } from './build-circuit.ts'
import { findCorners } from './corners.ts'

describe('circuit from a survey', () => {
  it('gives a circle its length, its curvature and even stations', () => {
    const circuit = buildCircuit(readCircuit(circleCsv(50), 'circle'))
    expect(circuit.length_m).toBeCloseTo(2 * Math.PI * 50, 4)
    expect(circuit.step_m * circuit.count).toBeCloseTo(circuit.length_m, 9)
    for (const kappa of circuit.kappa_1pm) expect(kappa).toBeCloseTo(1 / 50, 5)
  })

  it('recovers the radius of an arc sampled every 5 m within 1 %, 20 m from its ends', () => {
    const circuit = fixtureCircuit('stadium.csv')
    const inArc = Array.from(circuit.s_m).flatMap((s, i) => (s > 170 && s < 318 ? [circuit.kappa_1pm[i]] : []))
    expect(inArc.length).toBeGreaterThan(50)
    for (const kappa of inArc) expect(Math.abs(1 / kappa / 60 - 1)).toBeLessThan(0.01)
  })

  it('has a direction that agrees with its points, and heights with its grade', () => {
    const circuit = fixtureCircuit('ostrel-mere.csv')
    for (let i = 0; i < circuit.count; i += 7) {
      const j = (i + 1) % circuit.count
      const chord = Math.atan2(circuit.y_m[j] - circuit.y_m[i], circuit.x_m[j] - circuit.x_m[i])
      const middle = circuit.heading_rad[i] + (circuit.kappa_1pm[i] * circuit.step_m) / 2
      expect(Math.abs(Math.sin(chord - middle))).toBeLessThan(2e-3)
      expect(Math.abs((circuit.z_m[j] - circuit.z_m[i]) / circuit.step_m - Math.tan(circuit.grade_rad[i]))).toBeLessThan(4e-3)
    }
  })

  it('takes any step that is asked for', () => {
    const circuit = buildCircuit(readCircuit(circleCsv(50), 'circle'), { step_m: 5 })
    expect(circuit.count).toBe(63)
  })
})

describe('corners from curvature', () => {
  it.each([
    ['ostrel-mere.csv', 11],
    ['ostrel-mere.geojson', 11],
    ['ostrel-mere.gpx', 11],
    ['ostrel-mere-short.csv', 5],
    ['lobes.csv', 9],
    ['stadium.csv', 2],
  ])('finds those of %s', (file, count) => {
    const corners = findCorners(fixtureCircuit(file))
    expect(corners.map((c) => c.id)).toEqual(Array.from({ length: count }, (_, i) => `T${i + 1}`))
    const peaks = corners.map((c) => c.peak_m)
    expect(peaks).toEqual([...peaks].sort((a, b) => a - b))
  })

  it('knows side, radius and turn of the half circles of the stadium', () => {
    for (const corner of findCorners(fixtureCircuit('stadium.csv'))) {
      expect(corner.side).toBe('left')
      expect(corner.radius_m).toBeGreaterThan(57)
      expect(corner.radius_m).toBeLessThan(61)
      expect(Math.abs(corner.turn_rad - Math.PI)).toBeLessThan(0.05)
    }
  })

  it('finds right-hand corners on a clockwise circuit, with turns that add up to a full one', () => {
    const corners = findCorners(fixtureCircuit('ostrel-mere.csv'))
    const total = corners.reduce((sum, c) => sum + (c.side === 'right' ? c.turn_rad : -c.turn_rad), 0)
    expect(Math.abs(total - 2 * Math.PI)).toBeLessThan(0.15)
    expect(corners.filter((c) => c.shape === 'hairpin').map((c) => c.id)).toEqual(['T6'])
  })

  it('calls a whole circle one corner', () => {
    expect(findCorners(fixtureCircuit('circle-r50.csv'))).toHaveLength(1)
  })
})
