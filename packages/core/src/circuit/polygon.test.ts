import { describe, expect, it } from 'vitest'
import { fixtureCircuit } from '../../fixtures/load.ts'
import { polygonOver } from './polygon.ts'

const circuit = fixtureCircuit('lobes.csv')
const wave = Float64Array.from({ length: circuit.count }, (_, i) => 2 * Math.sin(i / 9) + 0.3 * Math.cos(i / 2))

describe('the polygon through a path', () => {
  it('has the length and curvature of a circle where it lies on one', () => {
    const circle = fixtureCircuit('circle-r50.csv')
    const polygon = polygonOver(circle)
    polygon.layOut(new Float64Array(circle.count).fill(5), 1)
    // Five metres to the left of an anticlockwise circle is inside it: radius 45 m.
    for (let i = 0; i < circle.count; i++) {
      expect(polygon.kappa_1pm[i]).toBeCloseTo(1 / 45, 4)
      expect(polygon.length_m[i]).toBeCloseTo(2 * 45 * Math.sin(Math.PI / circle.count), 4)
    }
  })

  it('has derivatives of curvature that finite differences confirm', () => {
    const polygon = polygonOver(circuit)
    const h = 1e-5
    for (const k of [0, 1, 57, 300, circuit.count - 1]) {
      const moved = (by: number): Float64Array => {
        const x = Float64Array.from(wave)
        x[k] += by
        polygon.layOut(x, 1)
        return Float64Array.from(polygon.kappa_1pm)
      }
      const [ahead, behind] = [moved(h), moved(-h)]
      polygon.layOut(wave, 1)
      const [before, after] = [(k - 1 + circuit.count) % circuit.count, (k + 1) % circuit.count]
      const difference = (i: number): number => (ahead[i] - behind[i]) / (2 * h)
      expect(polygon.kappaByOwn[k]).toBeCloseTo(difference(k), 5)
      expect(polygon.kappaByAfter[before]).toBeCloseTo(difference(before), 5)
      expect(polygon.kappaByBefore[after]).toBeCloseTo(difference(after), 5)
    }
  })

  it('takes offsets that stand apart from each other', () => {
    const packed = polygonOver(circuit)
    packed.layOut(wave, 1)
    const spread = polygonOver(circuit)
    const x = new Float64Array(3 * circuit.count).fill(7)
    for (let i = 0; i < circuit.count; i++) x[3 * i] = wave[i]
    spread.layOut(x, 3)
    expect(spread.kappa_1pm).toEqual(packed.kappa_1pm)
  })

  it('has no curvature at the ends of an open course', () => {
    const open = polygonOver({ ...circuit, open: true })
    open.layOut(wave, 1)
    expect([open.kappa_1pm[0], open.kappa_1pm[circuit.count - 1]]).toEqual([0, 0])
    expect(Math.abs(open.kappa_1pm[1])).toBeGreaterThan(0)
  })
})
