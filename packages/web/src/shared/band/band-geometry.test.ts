import { readFileSync } from 'node:fs'
import { buildCircuit, readCircuit } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import {
  type BandFrame,
  columnPath,
  offsetToY,
  panView,
  placeGround,
  roadPath,
  roadReach,
  sampleStations,
  stationToX,
  wholeLap,
  xToStation,
  zoomView,
} from './band-geometry.ts'

const circuit = buildCircuit(readCircuit(readFileSync(new URL('../../../../../demo/ostrel-mere.geojson', import.meta.url), 'utf8'), 'x'))
const frame: BandFrame = { width: 1000, middle: 100, half: 20, swell: 40 }
const length = circuit.length_m

describe('the lap laid out flat', () => {
  it('maps stations to pixels and back, also over the start line', () => {
    for (const view of [wholeLap(circuit), { start_m: 500, end_m: 900 }, { start_m: 3200, end_m: 3500 }])
      for (const share of [0, 0.3, 0.99]) {
        const s = (view.start_m + share * (view.end_m - view.start_m)) % length
        expect(xToStation(stationToX(s, view, frame, length), view, frame, length)).toBeCloseTo(s, 6)
      }
  })

  it('swells to the side to which the road bends, and is even on a straight', () => {
    expect(roadReach(0, frame)).toEqual({ up: 20, down: 20 })
    expect(roadReach(1 / 2000, frame)).toEqual({ up: 20, down: 20 })
    const left = roadReach(1 / 40, frame)
    expect(left.up).toBeGreaterThan(40)
    expect(left.down).toBe(20)
    expect(roadReach(-1 / 40, frame)).toEqual({ up: left.down, down: left.up })
    expect(roadReach(1 / 5, frame).up).toBeLessThanOrEqual(60)
  })

  it('puts the left edge on top and the right edge at the bottom', () => {
    const s = 100
    expect(offsetToY(circuit, s, 7, frame)).toBeCloseTo(80, 3)
    expect(offsetToY(circuit, s, -7, frame)).toBeCloseTo(120, 3)
    expect(offsetToY(circuit, s, 0, frame)).toBe(100)
  })

  it('draws no more points than there are pixel pairs or stations', () => {
    expect(sampleStations(wholeLap(circuit), frame, circuit)).toHaveLength(501)
    expect(sampleStations({ start_m: 0, end_m: 100 }, frame, circuit).length).toBeLessThan(60)
    expect(roadPath(circuit, wholeLap(circuit), frame).startsWith('M0.0 ')).toBe(true)
    const heights = columnPath(circuit, circuit.z_m, wholeLap(circuit), frame, { top: 10, bottom: 50 })
    const ys = [...heights.matchAll(/ ([\d.]+)/g)].map((m) => Number(m[1]))
    expect(Math.min(...ys)).toBeGreaterThanOrEqual(9.9)
    expect(Math.max(...ys)).toBeLessThanOrEqual(50.1)
  })

  it('zooms around the pointer and stops at the lap’s ends', () => {
    const zoomed = zoomView(wholeLap(circuit), 1000, 0.5, length)
    expect(zoomed.end_m - zoomed.start_m).toBeCloseTo(length / 2, 6)
    expect((1000 - zoomed.start_m) / (zoomed.end_m - zoomed.start_m)).toBeCloseTo(1000 / length, 6)
    expect(zoomView(zoomed, 1000, 99, length)).toEqual({ start_m: 0, end_m: length })
    const closest = zoomView({ start_m: 0, end_m: 90 }, 10, 0.1, length)
    expect(closest.end_m - closest.start_m).toBeCloseTo(80, 9)
    expect(panView({ start_m: 100, end_m: 500 }, -900, length)).toEqual({ start_m: 0, end_m: 400 })
    expect(panView({ start_m: 100, end_m: 500 }, 1e5, length).end_m).toBeCloseTo(length, 6)
  })
})

describe('ground on the band', () => {
  const at = (id: string, from_m: number, to_m = from_m, side: 'left' | 'right' | 'both' = 'right') => ({
    id,
    kind: 'bump' as const,
    name: id,
    side,
    from_m,
    to_m,
  })

  it('stands at its stretch, on its side, over the start line too', () => {
    const view = { start_m: 0, end_m: circuit.length_m }
    const [a, b] = placeGround(circuit, [at('a', 100, 200), at('b', circuit.length_m - 50, 50, 'left')], view, frame)
    expect(a.from).toBeCloseTo((100 / circuit.length_m) * frame.width, 6)
    expect(a.extent).toBeCloseTo((100 / circuit.length_m) * frame.width, 6)
    expect([a.out, b.out]).toEqual([1, -1])
    expect(b.extent).toBeCloseTo(a.extent, 6)
  })

  it('takes rows where glyphs would cover each other, and leaves out what is not in view', () => {
    const kinds = ['wall', 'bump', 'dip', 'crest', 'wall'] as const
    const near = [100, 104, 108, 112, 900].map((m, i) => ({ ...at('abcde'.charAt(i), m), kind: kinds[i] }))
    const all = placeGround(circuit, near, { start_m: 0, end_m: circuit.length_m }, frame)
    expect(all.map((p) => p.row)).toEqual([0, 1, 2, 2, 0])
    // Above the road the names of the corners keep their place.
    const above = placeGround(
      circuit,
      near.map((item) => ({ ...item, side: 'left' as const })),
      { start_m: 0, end_m: circuit.length_m },
      frame,
    )
    expect(above.map((p) => p.row)).toEqual([0, 1, 1, 1, 0])
    const alike = placeGround(
      circuit,
      near.map((item) => ({ ...item, kind: 'wall' as const })),
      { start_m: 0, end_m: circuit.length_m },
      frame,
    )
    expect(alike.map((p) => [p.item.id, p.count])).toEqual([
      ['a', 4],
      ['e', 1],
    ])
    expect(placeGround(circuit, near, { start_m: 850, end_m: 950 }, frame).map((p) => p.item.id)).toEqual(['e'])
  })
})
