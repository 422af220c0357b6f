import { describe, expect, it } from 'vitest'
import { demoVenuePlan } from '../../fixtures/load.ts'
import { stationIndex } from '../circuit/station.ts'
import { markOf } from '../marks/mark.ts'
import { offsetBounds } from './bounds.ts'
import { followLine } from './follow.ts'
import { smoothestLine } from './smoothest.ts'

const { circuit, marks, vehicle, line, corners } = demoVenuePlan()

const apexes = corners.flatMap(({ id }) => markOf(marks, id, 'apex') ?? [])

describe('a line that follows a dragged mark', () => {
  it.each(apexes.slice(0, 5).map((apex) => [apex.cornerId, apex] as const))(
    'goes through it at %s, as smooth as one solved from nothing',
    (_, apex) => {
      for (const [along_m, share] of [
        [0, 1],
        [12, 0.8],
        [-10, 0.5],
      ]) {
        const pin = { station_m: apex.station_m + along_m, offset_m: apex.offset_m * share }
        const bounds = offsetBounds(circuit, vehicle.width_m, 0.5, { pins: [pin] })
        const followed = followLine(circuit, bounds, 'smoothest', line, pin.station_m)
        const fresh = smoothestLine(circuit, bounds).line
        expect(Math.abs(followed.integralKappa2_1pm / fresh.integralKappa2_1pm - 1)).toBeLessThan(5e-5)
        expect(Math.abs(followed.offset_m[stationIndex(circuit, pin.station_m)] - pin.offset_m)).toBeLessThan(0.1)
        for (let i = 0; i < circuit.count; i++) {
          expect(followed.offset_m[i]).toBeGreaterThan(bounds.low_m[i] - 1e-3)
          expect(followed.offset_m[i]).toBeLessThan(bounds.high_m[i] + 1e-3)
        }
      }
    },
  )

  it('stays where it was far from the mark, and everywhere while the mark stays', () => {
    const [apex] = apexes
    const moved = { station_m: apex.station_m, offset_m: 0.5 * apex.offset_m }
    const bounds = offsetBounds(circuit, vehicle.width_m, 0.5, { pins: [moved] })
    for (const method of ['smoothest', 'fast'] as const) {
      const followed = followLine(circuit, bounds, method, line, moved.station_m)
      const far = stationIndex(circuit, apex.station_m + circuit.length_m / 2)
      expect(Math.abs(followed.offset_m[far] - line.offset_m[far])).toBeLessThan(0.02)
      const same = followLine(circuit, offsetBounds(circuit, vehicle.width_m), method, line, moved.station_m)
      expect(Math.max(...same.offset_m.map((o, i) => Math.abs(o - line.offset_m[i])))).toBeLessThan(0.06)
    }
  })

  it('of another method is bent no more than it has to be', () => {
    const [apex] = apexes
    const pin = { station_m: apex.station_m, offset_m: 0.6 * apex.offset_m }
    const bounds = offsetBounds(circuit, vehicle.width_m, 0.5, { pins: [pin] })
    const followed = followLine(circuit, bounds, 'late', line, pin.station_m)
    const straight = { ...line, offset_m: line.offset_m.map((o, i) => (i === stationIndex(circuit, pin.station_m) ? pin.offset_m : o)) }
    const bendAdded = (offset: ArrayLike<number>): number => {
      let sum = 0
      for (let i = 1; i < circuit.count - 1; i++) {
        const d = [i - 1, i, i + 1].map((k) => offset[k] - line.offset_m[k])
        sum += (d[0] - 2 * d[1] + d[2]) ** 2
      }
      return sum
    }
    expect(Math.abs(followed.offset_m[stationIndex(circuit, pin.station_m)] - pin.offset_m)).toBeLessThan(0.1)
    expect(bendAdded(followed.offset_m)).toBeLessThan(0.01 * bendAdded(straight.offset_m))
  })
})
