import { readFileSync } from 'node:fs'
import { type CircuitPreview, venueSchema } from '@ochote/contract'
import { buildCircuit, type Circuit, doubtKinds, doubtsOf, findCorners, readCircuit, type Survey } from '@ochote/core'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { DayProvider } from '../../data/day/day-context.tsx'
import { answers, answersOfDay, demoSchool, pageMarkup, pageWords, schoolAnswers, stubBrowser } from '../page-harness.test-data.tsx'
import { AllCircuits } from './all-circuits.tsx'
import { CircuitSketch } from './circuit-sketch.tsx'
import { doubtInWords } from './doubt-words.ts'
import { NewCircuit } from './new-circuit.tsx'

const survey = readCircuit(readFileSync(new URL('../../../../../demo/ostrel-mere.geojson', import.meta.url), 'utf8'), 'Ostrel Mere')
const circuit = buildCircuit(survey)

/** A circuit as the server tells it before it is kept, every tenth station. */
const previewOf = (read: Survey, built: Circuit, doubts: CircuitPreview['doubts'] = []): CircuitPreview => {
  const take = (column: Float64Array): number[] => Array.from(column.filter((_, i) => i % 10 === 0))
  return {
    name: built.name,
    length_m: built.length_m,
    open: false,
    climb_m: 0,
    width_m: { min: 10, max: 12, assumed: read.widthAssumed === true },
    corners: findCorners(built).map(({ id, peak_m, start_m, end_m }) => ({ id, apex_m: peak_m, start_m, end_m })),
    ground: 0,
    doubts,
    road: {
      step_m: 10 * built.step_m,
      x_m: take(built.x_m),
      y_m: take(built.y_m),
      left_m: take(built.widthLeft_m),
      right_m: take(built.widthRight_m),
      z_m: take(built.z_m),
    },
  }
}

const client = answers([])
const drawn = (preview: CircuitPreview, movable = true): string =>
  pageMarkup(client, <CircuitSketch preview={preview} onStart={movable ? () => {} : null} />)
/** All numbers of an attribute. */
const numbersOf = (text: string): number[] => (text.match(/-?\d+(\.\d+)?/g) ?? []).map(Number)

describe('the drawing of a circuit that was read', () => {
  it('holds the whole road in its frame, north up and as wide as it is', () => {
    const markup = drawn(previewOf(survey, circuit))
    const [, , width, height] = numbersOf(/viewBox="([^"]+)"/.exec(markup)?.[1] ?? '')
    const points = numbersOf(/<path d="([^"]+)"/.exec(markup)?.[1] ?? '')
    const [xs, ys] = [points.filter((_, i) => i % 2 === 0), points.filter((_, i) => i % 2 === 1)]
    expect(Math.min(...xs)).toBeGreaterThan(0)
    expect(Math.max(...xs)).toBeLessThan(width)
    expect(Math.min(...ys)).toBeGreaterThan(0)
    expect(Math.max(...ys)).toBeLessThan(height)
    // The northernmost station of the road is the uppermost one of the drawing.
    const { y_m } = previewOf(survey, circuit).road
    const north = y_m.indexOf(Math.max(...y_m))
    expect(Math.abs(ys.slice(0, y_m.length).indexOf(Math.min(...ys.slice(0, y_m.length))) - north)).toBeLessThanOrEqual(2)
  })

  it('numbers its corners, and marks what is doubtful where it lies, not what holds everywhere', () => {
    const doubts: CircuitPreview['doubts'] = [
      { kind: 'gap', at_m: 200, value: 60 },
      { kind: 'no-heights', at_m: null, value: 0 },
      { kind: 'tight', at_m: 900, value: 5 },
    ]
    const preview = previewOf(survey, circuit, doubts)
    const markup = drawn(preview)
    const labels = [...markup.matchAll(/<text[^>]*>(\d+)<\/text>/g)].map(([, n]) => Number(n))
    expect(labels).toEqual(preview.corners.map((_, k) => k + 1))
    expect([...markup.matchAll(/r="22"/g)]).toHaveLength(2)
  })

  it('has a start line that keys reach, and none to drag where a road has two ends', () => {
    const preview = previewOf(survey, circuit)
    expect(drawn(preview)).toMatch(/role="slider"[^>]*tabindex="0"/)
    expect(drawn(preview, false)).toMatch(/role="slider"[^>]*tabindex="-1"/)
    const slider = /role="slider"[^>]*>/.exec(drawn(preview))?.[0] ?? ''
    expect(slider).toContain(`aria-valuemax="${Math.round(preview.length_m)}"`)
    expect(slider).toContain('aria-valuenow="0"')
  })

  it('crosses the road with the start line, from one side to the other', () => {
    const preview = previewOf(survey, circuit)
    const [x1, y1, x2, y2] = numbersOf(
      [...(/<line ([^>]+)>/.exec(drawn(preview))?.[1].matchAll(/(?:x1|y1|x2|y2)="([^"]+)"/g) ?? [])].map(([, n]) => n).join(' '),
    )
    const outline = numbersOf(/<path d="([^"]+)"/.exec(drawn(preview))?.[1] ?? '')
    const n = preview.road.x_m.length
    // Left and right edge at the first station lie between the ends of the line.
    for (const k of [0, n]) {
      const [ex, ey] = [outline[2 * k], outline[2 * k + 1]]
      const share = ((ex - x1) * (x2 - x1) + (ey - y1) * (y2 - y1)) / ((x2 - x1) ** 2 + (y2 - y1) ** 2)
      expect(share).toBeGreaterThan(0.05)
      expect(share).toBeLessThan(0.95)
    }
  })
})

describe('doubts about a survey', () => {
  it('each have words of their own, with the measure, and a remedy', () => {
    const told = doubtKinds.map((kind) => doubtInWords({ kind, at_m: null, value: 42 }))
    expect(new Set(told.map((t) => t.what)).size).toBe(doubtKinds.length)
    expect(new Set(told.map((t) => t.remedy)).size).toBe(doubtKinds.length)
    for (const { what, remedy } of told) {
      if (what !== 'No heights') expect(what).toContain('42')
      expect(remedy.length).toBeGreaterThan(20)
    }
  })

  it('say where they are, where they are somewhere', () => {
    expect(doubtInWords({ kind: 'gap', at_m: 310, value: 44 }).what).toBe('44 m without a point at 310 m')
    expect(doubtInWords({ kind: 'gap', at_m: null, value: 44 }).what).toBe('44 m without a point')
  })

  it('of the core are told as they are found: a road of which a part was cut out has a gap there', () => {
    const keep = (column: Float64Array): Float64Array => column.filter((_, i) => i < 40 || i > 47)
    const cut: Survey = {
      ...survey,
      x_m: keep(survey.x_m),
      y_m: keep(survey.y_m),
      z_m: keep(survey.z_m),
      widthLeft_m: keep(survey.widthLeft_m),
      widthRight_m: keep(survey.widthRight_m),
    }
    const gap = doubtsOf(cut, buildCircuit(cut)).find((d) => d.kind === 'gap')
    if (!gap || gap.at_m === null) throw new Error('no gap found')
    const missing = Math.hypot(survey.x_m[48] - survey.x_m[39], survey.y_m[48] - survey.y_m[39])
    expect(gap.value).toBeCloseTo(missing, 3)
    expect(doubtInWords(gap).what).toContain(`${Math.round(missing)} m without a point at`)
  })
})

describe('the pages of circuits', () => {
  beforeEach(() => stubBrowser())
  afterEach(() => {
    vi.unstubAllGlobals()
  })
  const venue = { ...venueSchema.parse({ id: 'v', name: 'Ostrel Mere', pits: ['Walking pace'] }), version: 1 }
  const layout = (id: string, name: string, venueId: string | null, archivedAt: string | null = null) => ({
    id,
    name,
    length_m: 2032.4,
    corners: 9,
    venueId,
    archivedAt,
  })
  const all = (role: 'lead' | 'instructor', circuits: readonly unknown[]): string =>
    pageWords(
      schoolAnswers(role, [...answersOfDay(), [['circuits'], circuits], [['venues'], [venue]]]),
      <DayProvider>
        <AllCircuits />
      </DayProvider>,
    )

  it('put layouts under their venue, others apart, and say which were put away', () => {
    const words = all('lead', [
      layout('a', 'long', 'v'),
      layout('b', 'elsewhere', null),
      layout('c', 'old', 'v', '2027-01-01T00:00:00.000Z'),
    ])
    expect(words).toContain('3 layouts')
    expect(words.indexOf('Ostrel Mere')).toBeLessThan(words.indexOf('Without a venue'))
    expect(words).toContain('2032 m, 9 corners · put away')
    expect(words).toContain('Take back')
  })

  it('leave changes to the lead', () => {
    const circuits = [layout('a', 'long', 'v')]
    for (const action of ['Put away', 'Delete', 'Add a venue', 'Remove the venue']) {
      expect(all('lead', circuits)).toContain(action)
      expect(all('instructor', circuits)).not.toContain(action)
    }
    expect(all('instructor', circuits)).toContain('Look at it')
  })

  it('say what to do where there is none', () => {
    expect(all('lead', [])).toContain('No circuit yet. “New circuit” reads a file')
  })

  it('ask first where a new one comes from, and keep nothing before it was looked at', () => {
    const words = pageWords(
      schoolAnswers('lead', answersOfDay()),
      <DayProvider>
        <NewCircuit />
      </DayProvider>,
    )
    expect(words).toContain('A surveyed line Driven laps A drawing')
    expect(words).toContain('CSV, GeoJSON, GPX or KML with the middle of the road')
    expect(words).not.toContain('Keep this circuit')
    expect(demoSchool.day.plan.settings.circuitId).toBe('ostrel-mere')
  })
})
