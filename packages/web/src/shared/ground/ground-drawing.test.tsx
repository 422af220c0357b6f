import { readFileSync } from 'node:fs'
import { atStation, buildCircuit, type GroundItem, placeOn, readCircuit } from '@ochote/core'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { GroundItems } from './ground-items.tsx'
import { NorthArrow, ScaleBar, TravelArrow } from './map-signs.tsx'

const circuit = buildCircuit(
  readCircuit(readFileSync(new URL('../../../../../demo/ostrel-mere.geojson', import.meta.url), 'utf8'), 'Ostrel Mere'),
)
const items: GroundItem[] = [
  { id: 'a', kind: 'marshal-post', name: 'Post 3', side: 'left', from_m: 400, to_m: 400 },
  { id: 'b', kind: 'ditch', name: '', side: 'right', from_m: 600, to_m: 690 },
]
const drawn = (alone: boolean): string => renderToStaticMarkup(<GroundItems circuit={circuit} items={items} alone={alone} pixel={2} />)

describe('what lies beside the road', () => {
  it('is named with its place, and stands on its own side beyond the edge', () => {
    const html = drawn(true)
    expect([...html.matchAll(/<title>([^<]*)/g)].map((m) => m[1])).toEqual(['Post 3, 400 m', 'ditch, 600 m'])
    const places = [...html.matchAll(/translate\((-?[\d.]+) (-?[\d.]+)\) scale\(2\)/g)].map((m) =>
      placeOn(circuit, Number(m[1]), -Number(m[2])),
    )
    expect(places[0].station_m).toBeCloseTo(400, 0)
    expect(places[0].offset_m).toBeCloseTo(atStation(circuit, circuit.widthLeft_m, 400) + 24, 0)
    expect(places[1].station_m).toBeCloseTo(600, 0)
    expect(places[1].offset_m).toBeCloseTo(-atStation(circuit, circuit.widthRight_m, 600) - 24, 0)
  })

  it('with a length is a line along its edge, and has its glyph only where a corner is shown alone', () => {
    expect(drawn(false).match(/scale\(1\.24\)/g)).toHaveLength(1)
    const [, path = ''] = /<path d="(M[^"]*)" fill="none" stroke="[^"]*" stroke-width="6"/.exec(drawn(false)) ?? []
    const points = path
      .slice(1)
      .split('L')
      .map((p) => p.split(' ').map(Number))
      .map(([x, y]) => placeOn(circuit, x, -y))
    expect(points[0].station_m).toBeCloseTo(600, 0)
    expect(points.at(-1)?.station_m).toBeCloseTo(690, 0)
    for (const { station_m, offset_m } of points)
      expect(offset_m).toBeCloseTo(-atStation(circuit, circuit.widthRight_m, station_m) - 1.2, 0)
  })
})

describe('signs of the map', () => {
  it('the scale is a round length of at most about a hundred pixels', () => {
    for (const pixel of [0.1, 0.37, 1, 2.4, 9]) {
      const html = renderToStaticMarkup(<ScaleBar x={0} y={0} pixel={pixel} />)
      const length = Number(/>(\d+) m</.exec(html)?.[1])
      expect(length / pixel).toBeLessThanOrEqual(110)
      expect(length / pixel).toBeGreaterThan(40)
      expect(['1', '2', '5']).toContain(String(length)[0])
      expect(html).toContain(`H${length} V`)
    }
  })

  it('north is up, and the lap goes where its arrow points', () => {
    expect(renderToStaticMarkup(<NorthArrow x={3} y={4} pixel={2} />)).toContain('translate(3 4) scale(2)')
    const arrow = renderToStaticMarkup(<TravelArrow place={{ x_m: 10, y_m: 20, heading_rad: Math.PI / 2 }} size={1} />)
    expect(arrow).toContain('translate(10 -20) rotate(-90) scale(1)')
  })
})
