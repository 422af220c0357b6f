import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fixtureCircuit } from '../../fixtures/load.ts'
import { placeOn } from './place.ts'
import {
  atStation,
  distanceAhead,
  isWithin,
  nearestIndex,
  nearestStation,
  placeAt,
  signedDistance,
  stationIndex,
  wrapStation,
} from './station.ts'

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

  it('are found again by their own distance, whatever rounding does', () => {
    for (const step_m of [2, 1.9996, 1.7320508, 2.0003]) {
      const circuit = { count: 1650, step_m, length_m: 1650 * step_m }
      for (let i = 0; i < circuit.count; i++) expect(stationIndex(circuit, i * step_m)).toBe(i)
      expect(stationIndex(circuit, 5.5 * step_m)).toBe(5)
    }
  })

  it('nearest to a place are found over the whole lap or on a stretch of it, as by trying all of them (seed 6)', () => {
    const circuit = fixtureCircuit('ostrel-mere.geojson')
    const index = fc.integer({ min: 0, max: circuit.count - 1 })
    fc.assert(
      fc.property(index, index, fc.double({ min: -40, max: 40, noNaN: true }), (i, first, away) => {
        const [x, y] = [circuit.x_m[i] + away, circuit.y_m[i] - away]
        const distance = (k: number): number => Math.hypot(x - circuit.x_m[k], y - circuit.y_m[k])
        const least = (all: number[]): number => all.reduce((min, k) => Math.min(min, distance(k)), Number.POSITIVE_INFINITY)
        const all = Array.from(circuit.x_m, (_, k) => k)
        expect(distance(nearestIndex(circuit, x, y))).toBeCloseTo(least(all), 9)
        expect(nearestStation(circuit, x, y)).toBe(circuit.s_m[nearestIndex(circuit, x, y)])
        // A stretch of 200 stations that may run over the line.
        const stretch = all.slice(0, 200).map((k) => (first + k) % circuit.count)
        const found = nearestIndex(circuit, x, y, first, 200)
        expect(stretch).toContain(found)
        expect(distance(found)).toBeCloseTo(least(stretch), 9)
      }),
      { seed: 6, numRuns: 40 },
    )
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
