import { readFileSync } from 'node:fs'
import {
  buildCircuit,
  type Cone,
  coneSchemes,
  type GroundItem,
  makePlan,
  makeVenue,
  placeCones,
  readCircuit,
  type Vehicle,
} from '@ochote/core'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { dashes, overlayDash } from '../marks/dashes.ts'
import { nearestCorner } from '../marks/nearest-corner.ts'
import type { BandSpan } from '../road-layers.ts'
import { BandCursor } from './band-cursor.tsx'
import { type BandFrame, offsetToY, placeGround, stationToX, wholeLap } from './band-geometry.ts'
import { ConesOnBand } from './cones-on-band.tsx'
import { CornerNames } from './corner-names.tsx'
import { GroundOnBand } from './ground-on-band.tsx'
import { NotesOnBand } from './notes-on-band.tsx'
import { SpansOnBand } from './spans-on-band.tsx'
import { StripLegend, speedStrip } from './strips.tsx'

const demo = (file: string): string => readFileSync(new URL(`../../../../../demo/${file}`, import.meta.url), 'utf8')
const circuit = buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'x'))
const [vehicle] = JSON.parse(demo('vehicles.json')) as Vehicle[]
const plan = makePlan(makeVenue(circuit), vehicle, { surface: 'dry', pace: 0.6, school: 'straight' })
const frame: BandFrame = { width: 1000, middle: 100, half: 20, swell: 40 }
const view = wholeLap(circuit)
const x = (s_m: number): number => stationToX(s_m, view, frame, circuit.length_m)
const numbers = (html: string, pattern: RegExp): number[] => [...html.matchAll(pattern)].map((m) => Number(m[1]))

describe('what is said, on the road', () => {
  const span = (change: Partial<BandSpan> = {}): BandSpan => ({
    id: 'a',
    from_m: 400,
    to_m: 520,
    mark_m: 560,
    label: 'brake firmly',
    tone: 'said',
    ...change,
  })
  const drawn = (spans: BandSpan[], props: { selected?: string; close?: boolean; onDrag?: () => void } = {}): string =>
    renderToStaticMarkup(
      <SpansOnBand
        spans={spans}
        x={x}
        middle={100}
        half={20}
        selected={props.selected ?? null}
        close={props.close ?? false}
        onDrag={props.onDrag}
      />,
    )

  it('runs from where it starts to where it ends, and is tied to its mark', () => {
    const html = drawn([span()])
    expect(numbers(html, /<rect x="([\d.]+)" y="93"/g)).toEqual([x(400)])
    expect(numbers(html, /width="([\d.]+)" height="14"/g)[0]).toBeCloseTo(x(520) - x(400), 6)
    expect(html).toContain(`M${x(520)} 100 H${x(560)}`)
    expect(html).toContain('<title>brake firmly</title>')
  })

  it('is never too narrow to be hit', () => {
    const [target] = numbers(drawn([span({ to_m: 400.1 })]), /width="([\d.]+)" height="28"/g)
    expect(target).toBeGreaterThanOrEqual(8)
  })

  it('leaves out what runs over the end of what is seen', () => {
    expect(drawn([span({ from_m: circuit.length_m - 10, to_m: 15 })])).toBe('<g></g>')
  })

  it('shows the chosen one larger, and a locked one in its own tone', () => {
    const html = drawn([span(), span({ id: 'b', tone: 'locked', from_m: 900, to_m: 990, mark_m: 1000 })], { selected: 'b' })
    expect(html.match(/height="18"/g)).toHaveLength(1)
    expect(html).toMatch(/height="18" fill="var\(--plannedOnRoad\)"/)
    expect(html).toMatch(/height="14" fill="var\(--drivenOnRoad\)"/)
  })

  it('shows a stretch too fast to speak in over the road, not on it', () => {
    const html = drawn([span({ tone: 'lost', label: 'too fast to speak' })])
    expect(numbers(html, /y="([\d.]+)"/g)).toEqual([73])
    expect(html).not.toContain('ew-resize')
  })

  it('writes the first word where it fits, and close up as many as fit', () => {
    const long = span({ from_m: 400, to_m: 650, label: 'brake firmly, then look for the second cone on the inside' })
    expect(drawn([long])).toMatch(/<text[^>]*>brake<\/text>/)
    expect(drawn([span({ from_m: 400, to_m: 404, label: long.label })])).not.toContain('<text')
    const [, text] = drawn([long], { close: true }).match(/<text[^>]*>([^<]*)<\/text>/) ?? []
    expect(text?.endsWith('…')).toBe(true)
    expect((text?.length ?? 99) * 5.3).toBeLessThanOrEqual(x(650) - x(400))
  })

  it('says by the pointer whether it can be dragged', () => {
    expect(drawn([span()])).toContain('cursor:pointer')
    expect(drawn([span()], { onDrag: () => {} })).toContain('cursor:ew-resize')
  })
})

describe('ground on the road', () => {
  const item = (change: Partial<GroundItem>): GroundItem => ({
    id: 'g',
    kind: 'bump',
    side: 'left',
    from_m: 1000,
    to_m: 1000,
    name: '',
    ...change,
  })
  const drawn = (ground: GroundItem): string =>
    placeGround(circuit, [ground], view, frame)
      .map((placed) => renderToStaticMarkup(<GroundOnBand placed={placed} frame={frame} />))
      .join('')

  it('is named with its station, or from where to where', () => {
    expect(drawn(item({}))).toContain('<title>bump, 1000 m</title>')
    expect(drawn(item({ kind: 'ditch', name: 'Fleet', to_m: 1120 }))).toContain('<title>Fleet, 1000 to 1120 m</title>')
  })

  it('has a bar along its stretch only where it has one', () => {
    expect(drawn(item({})).match(/height="4"/g)).toBeNull()
    const [width] = numbers(drawn(item({ kind: 'ditch', to_m: 1120 })), /width="([\d.]+)" height="4"/g)
    expect(width).toBeCloseTo(x(1120) - x(1000), 3)
  })

  it('keeps its glyph inside the picture at the ends of the lap', () => {
    for (const at of [0.5, circuit.length_m - 0.5]) {
      const [middle] = numbers(drawn(item({ from_m: at, to_m: at })), /translate\(([\d.]+) /g)
      expect(middle).toBeGreaterThanOrEqual(8)
      expect(middle).toBeLessThanOrEqual(frame.width - 8)
    }
  })
})

describe('the strip beneath the road', () => {
  it('says its range in the units of the screen, and the height of the circuit', () => {
    const html = renderToStaticMarkup(<StripLegend plan={plan} strips={[speedStrip(plan.profile)]} y={10} />)
    const [min, max] = [Math.min(...plan.profile.speed_mps), Math.max(...plan.profile.speed_mps)]
    expect(html).toContain(`speed ${Math.round(min * 3.6)} to ${Math.round(max * 3.6)} km/h`)
    const height_m = Math.round(Math.max(...circuit.z_m) - Math.min(...circuit.z_m))
    expect(html).toContain(`height, ${height_m} m from lowest to highest`)
  })

  it('dashes lines laid over the road apart from the plan’s own', () => {
    expect(new Set([0, 1, 2].map(overlayDash)).size).toBe(3)
    expect([0, 1, 2, 3, 4, 5].map(overlayDash)).not.toContain(dashes[0])
  })
})

describe('the corner to which a place belongs', () => {
  it('is the one whose peak is nearest, also over the line', () => {
    for (const s_m of [0, 150, 700, 1900, circuit.length_m - 1]) {
      const apart = plan.corners.map((c) => Math.min(...[-1, 0, 1].map((lap) => Math.abs(c.peak_m + lap * circuit.length_m - s_m))))
      expect(nearestCorner(plan.corners, s_m, circuit.length_m)).toBe(plan.corners[apart.indexOf(Math.min(...apart))])
    }
    expect(nearestCorner([], 10, circuit.length_m)).toBeUndefined()
  })
})

describe('notes at the foot of the band', () => {
  it('stand at their station, say what they are, and point where they lead, backwards too', () => {
    const html = renderToStaticMarkup(
      <NotesOnBand
        notes={[
          { station_m: 300, label: 'eyes up', tone: 'own' },
          { station_m: 500, to_m: 700, label: 'longer', tone: 'danger' },
          { station_m: 900, to_m: 800, label: 'back', tone: 'own' },
        ]}
        x={x}
        y={90}
      />,
    )
    expect(numbers(html, /translate\(([\d.]+) 90\)/g)).toEqual([300, 500, 900].map((s_m) => Number(x(s_m).toFixed(1))))
    expect([...html.matchAll(/<title>([^<]*)/g)].map((m) => m[1])).toEqual(['eyes up', 'longer', 'back'])
    expect(numbers(html, /M0 -2 H(-?[\d.]+)/g)).toEqual([Number((x(700) - x(500)).toFixed(1)), Number((x(800) - x(900)).toFixed(1))])
    expect(html).toContain('var(--danger)')
  })
})

describe('cones beside the road', () => {
  const { cones } = placeCones(plan, coneSchemes[0])
  const drawn = (list: readonly Cone[]): string =>
    renderToStaticMarkup(<ConesOnBand circuit={circuit} cones={list} x={x} frame={frame} close={false} />)

  it('are each drawn once, on their own side of the middle', () => {
    const html = drawn(cones)
    expect(numbers(html, /<title>/g)).toHaveLength(cones.length)
    const places = [...html.matchAll(/translate\(([\d.]+) ([\d.]+)\) scale\(0\.8\)/g)].map((m) => [Number(m[1]), Number(m[2])])
    expect(places).toHaveLength(cones.length)
    cones.forEach((cone, k) => {
      // A pair stands side by side about its place.
      const group = cones.filter((c) => c.groupId === cone.groupId)
      expect(Math.abs(places[k][0] - x(cone.station_m))).toBeLessThan(group.length === 1 ? 0.06 : 9.1 * group.length)
      for (const [j, other] of cones.entries())
        if (j < k && other.groupId === cone.groupId) expect(Math.abs(places[k][0] - places[j][0])).toBeGreaterThan(8.8)
      const road = offsetToY(circuit, cone.station_m, 0, frame)
      expect(Math.sign(places[k][1] - road)).toBe(cone.offset_m > 0 ? -1 : 1)
    })
  })

  it('leave a ghost where one was computed that a hand moved', () => {
    const [first] = cones
    const moved: Cone = { ...first, station_m: first.station_m + 40, moved: ['nudged'] }
    expect(drawn([moved]).match(/scale\(0\.8\)/g)).toHaveLength(2)
    expect(drawn([first]).match(/scale\(0\.8\)/g)).toHaveLength(1)
  })
})

describe('names and cursor', () => {
  it('neighbours stand on two rows, and the chosen corner is underlined over its length', () => {
    const html = renderToStaticMarkup(
      <CornerNames
        corners={plan.corners}
        x={x}
        seen={() => true}
        selected="T4"
        frame={frame}
        pixelsPerMetre={1000 / circuit.length_m}
        stripTop={160}
      />,
    )
    const rows = numbers(html, /<text[^>]* y="(\d+)"/g)
    expect(rows).toEqual(plan.corners.map((_, i) => (i % 2 === 0 ? 12 : 26)))
    const corner = plan.corners.find((c) => c.id === 'T4')
    const [from] = numbers(html, /<rect x="([\d.]+)"/g)
    expect(from).toBeCloseTo(x(corner?.start_m ?? 0), 6)
    expect(html.match(/<rect/g)).toHaveLength(1)
  })

  it('the cursor tells station and planned speed, and its words never leave the band', () => {
    const at = (s_m: number): string =>
      renderToStaticMarkup(<BandCursor top={140} x={x(s_m)} height={200} plan={plan} station_m={s_m} width={1000} />)
    const speed = Math.round(3.6 * plan.profile.speed_mps[Math.round(500 / circuit.step_m)])
    expect(at(500)).toMatch(new RegExp(`500 m · (${speed - 1}|${speed}|${speed + 1}) km/h`))
    expect(at(500)).toContain('text-anchor="start"')
    expect(at(circuit.length_m - 20)).toContain('text-anchor="end"')
  })
})
