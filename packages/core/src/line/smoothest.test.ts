import { describe, expect, it } from 'vitest'
import { circleCsv, circuitFile, fixtureCircuit, reference, vehicle } from '../../fixtures/load.ts'
import { buildCircuit } from '../circuit/build-circuit.ts'
import { readCircuit } from '../formats/read-circuit.ts'
import { centreLine, lineFromOffsets } from '../path/line.ts'
import { uniformGrip } from '../profile/grip.ts'
import { solveProfile } from '../profile/solve-profile.ts'
import { offsetBounds } from './bounds.ts'
import { smoothestLine } from './smoothest.ts'

describe('a line from offsets', () => {
  it('is a circle inside a circle', () => {
    const circuit = buildCircuit(readCircuit(circleCsv(50, { points: 300 }), 'circle'))
    const line = lineFromOffsets(circuit, new Float64Array(circuit.count).fill(3))
    // Anticlockwise, left is inside.
    for (const kappa of line.kappa_1pm) expect(kappa).toBeCloseTo(1 / 47, 5)
    expect(line.length_m).toBeCloseTo(2 * Math.PI * 47, 2)
    expect(line.integralKappa2_1pm).toBeCloseTo((2 * Math.PI) / 47, 4)
  })

  it('has the curvature of its own points', () => {
    const circuit = fixtureCircuit('ostrel-mere.csv')
    const { line } = smoothestLine(circuit, offsetBounds(circuit, 1.78))
    for (let i = 0; i < circuit.count; i += 3) {
      const a = (i - 1 + circuit.count) % circuit.count
      const b = (i + 1) % circuit.count
      const e = [line.x_m[i] - line.x_m[a], line.y_m[i] - line.y_m[a]]
      const f = [line.x_m[b] - line.x_m[i], line.y_m[b] - line.y_m[i]]
      const turn = Math.atan2(e[0] * f[1] - e[1] * f[0], e[0] * f[0] + e[1] * f[1])
      const kappa = (2 * turn) / (Math.hypot(e[0], e[1]) + Math.hypot(f[0], f[1]))
      expect(Math.abs(kappa - line.kappa_1pm[i])).toBeLessThan(1.5e-3)
    }
  })

  it.each(['ostrel-mere', 'ostrel-mere-short', 'lobes'])('gives the centreline of %s its reference ∫κ² within 1 %%', (name) => {
    const expected = reference.laps.find((l) => l.circuit === name)?.centreline.integralKappa2_1pm ?? 0
    expect(Math.abs(centreLine(fixtureCircuit(circuitFile(name))).integralKappa2_1pm / expected - 1)).toBeLessThan(0.01)
  })
})

describe('the smoothest line', () => {
  it.each(reference.laps)('has the reference ∫κ² within 0.1 % on $circuit with $vehicle', (lap) => {
    const circuit = fixtureCircuit(circuitFile(lap.circuit))
    const car = vehicle(lap.vehicle)
    const { line, termination } = smoothestLine(circuit, offsetBounds(circuit, car.width_m))
    expect(termination).toBe('converged')
    expect(Math.abs(line.integralKappa2_1pm / lap.minCurvature.integralKappa2_1pm - 1)).toBeLessThan(1e-3)
    if (lap.minCurvature.lapTime_s === null) return
    const profile = solveProfile(circuit, line, car, { grip: uniformGrip(lap.lambda) })
    expect(Math.abs(profile.lapTime_s / lap.minCurvature.lapTime_s - 1)).toBeLessThan(1.5e-3)
  })

  it('stays between its bounds everywhere', () => {
    const circuit = fixtureCircuit('lobes.csv')
    const bounds = offsetBounds(circuit, 1.9, 0.8)
    const { line } = smoothestLine(circuit, bounds)
    for (let i = 0; i < circuit.count; i++) {
      expect(line.offset_m[i]).toBeGreaterThanOrEqual(bounds.low_m[i] - 1e-9)
      expect(line.offset_m[i]).toBeLessThanOrEqual(bounds.high_m[i] + 1e-9)
    }
  })

  it('is the outermost circle on a circle', () => {
    const circuit = fixtureCircuit('circle-r50.csv')
    const { line } = smoothestLine(circuit, offsetBounds(circuit, 1.78))
    for (const offset of line.offset_m) expect(offset).toBeCloseTo(-(5 - 0.89 - 0.5), 2)
  })

  it('tells of its steps and can be stopped', () => {
    const circuit = fixtureCircuit('lobes.csv')
    const steps: number[] = []
    const onStep = (step: number): boolean => {
      steps.push(step)
      return step < 2
    }
    expect(smoothestLine(circuit, offsetBounds(circuit, 1.8), { onStep }).termination).toBe('cancelled')
    expect(steps).toEqual([1, 2])
  })

  it('cannot exist where the vehicle is wider than the road, and says where', () => {
    const circuit = fixtureCircuit('circle-r50.csv')
    expect(() => offsetBounds(circuit, 9.5)).toThrow(expect.objectContaining({ code: 'line-no-road', place: 'station 0 m' }))
  })
})
