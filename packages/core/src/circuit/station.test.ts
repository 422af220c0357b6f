import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fixtureCircuit } from '../../fixtures/load.ts'
import { placeOn } from './place.ts'
import { atStation, distanceAhead, isWithin, placeAt, signedDistance, wrapStation } from './station.ts'

const length = 3000
const anywhere = fc.double({ min: -1e4, max: 1e4, noNaN: true })

describe('stations round a lap', () => {
  it('wrap, measure ahead and measure the short way consistently (seed 5)', () => {
    fc.assert(
      fc.property(anywhere, anywhere, (a, b) => {
        const from = wrapStation(a, length)
        expect(from).toBeGreaterThanOrEqual(0)
        expect(from).toBeLessThan(length)
        const ahead = distanceAhead(a, b, length)
        expect(Math.abs(signedDistance(0, wrapStation(a + ahead, length) - wrapStation(b, length), length))).toBeLessThan(1e-6)
        expect(Math.abs(signedDistance(a, b, length))).toBeLessThanOrEqual(length / 2)
      }),
      { seed: 5 },
    )
  })

  it('know stretches that run over the start line', () => {
    expect(isWithin(10, 2900, 100, length)).toBe(true)
    expect(isWithin(200, 2900, 100, length)).toBe(false)
  })

  it('interpolate linearly, also between the last station and the first', () => {
    const lap = { count: 3, step_m: 10, length_m: 30 }
    const column = Float64Array.from([0, 10, 40])
    expect(atStation(lap, column, 5)).toBe(5)
    expect(atStation(lap, column, 25)).toBe(20)
    expect(atStation(lap, column, -5)).toBe(20)
  })

  it('place and match are inverse to each other anywhere on the road (seed 7)', () => {
    const circuit = fixtureCircuit('ostrel-mere.csv')
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: circuit.length_m - 0.01, noNaN: true }),
        fc.double({ min: -6, max: 6, noNaN: true }),
        (s_m, offset_m) => {
          const { x_m, y_m } = placeAt(circuit, s_m, offset_m)
          const back = placeOn(circuit, x_m, y_m)
          expect(Math.abs(signedDistance(s_m, back.station_m, circuit.length_m))).toBeLessThan(0.03)
          expect(Math.abs(back.offset_m - offset_m)).toBeLessThan(0.03)
        },
      ),
      { seed: 7, numRuns: 400 },
    )
  })
})
