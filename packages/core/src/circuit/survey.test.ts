import { describe, expect, it } from 'vitest'
import { circleCsv } from '../../fixtures/load.ts'
import { CoreError, type ErrorCode } from '../errors/errors.ts'
import { readCircuitCsv } from '../formats/circuit-csv.ts'
import { buildCircuit } from './build-circuit.ts'
import { assumedStretches, isWidthAssumed } from './circuit.ts'
import { beginningAt, reverseSurvey, type Survey, turnedToNorth, withWidth } from './survey.ts'

const circle = (): Survey => readCircuitCsv(circleCsv(80), 'circle', {})
const refusal = (change: (survey: Survey) => Survey): CoreError => {
  try {
    buildCircuit(change(circle()))
  } catch (error) {
    return error as CoreError
  }
  throw new Error('The survey was accepted')
}

const cases: [string, ErrorCode, string, (s: Survey) => Survey][] = [
  ['an open centreline', 'circuit-open', 'point 60 to point 1', (s) => ({ ...s, ...cut(s, 60) })],
  ['too few points', 'circuit-too-few-points', 'circle', (s) => ({ ...s, ...cut(s, 10) })],
  ['a duplicate point', 'circuit-duplicate-point', 'point 8', (s) => set(s, 7, s.x_m[6], s.y_m[6])],
  ['a jump of 200 m', 'circuit-jump', 'point 30 to point 31', (s) => set(s, 30, s.x_m[30] + 200, s.y_m[30])],
  ['a width of zero', 'circuit-width', 'point 5', (s) => ({ ...s, widthLeft_m: s.widthLeft_m.map((w, i) => (i === 4 ? 0 : w)) })],
  ['a negative width', 'circuit-width', 'point 9', (s) => ({ ...s, widthRight_m: s.widthRight_m.map((w, i) => (i === 8 ? -3 : w)) })],
  [
    'millimetres taken for metres',
    'circuit-too-short',
    'circle',
    (s) => ({ ...s, x_m: s.x_m.map((v) => v / 10), y_m: s.y_m.map((v) => v / 10) }),
  ],
  [
    'a road wider than its bend',
    'circuit-curls-inside-width',
    'station 0 m',
    (s) => ({ ...s, x_m: s.x_m.map((v) => v / 4), y_m: s.y_m.map((v) => v / 4), widthLeft_m: s.widthLeft_m.fill(25) }),
  ],
]

const cut = (s: Survey, n: number): Partial<Survey> =>
  Object.fromEntries(Object.entries(s).flatMap(([k, v]) => (v instanceof Float64Array ? [[k, v.slice(0, n)]] : [])))
const set = (s: Survey, i: number, x: number, y: number): Survey => {
  s.x_m[i] = x
  s.y_m[i] = y
  return s
}

describe('a survey that is corrected', () => {
  it('begins elsewhere on the same road, and is as wide as somebody says', () => {
    const survey = circle()
    const [x_m, y_m] = [(survey.x_m[3] + survey.x_m[4]) / 2, (survey.y_m[3] + survey.y_m[4]) / 2]
    const turned = beginningAt(survey, x_m, y_m)
    const circuit = buildCircuit(turned)
    expect(Math.hypot(circuit.x_m[0] - x_m, circuit.y_m[0] - y_m)).toBeLessThan(0.1)
    expect(Math.abs(circuit.length_m - buildCircuit(survey).length_m)).toBeLessThan(0.05)
    const { widthAssumed, widthLeft_m, widthRight_m } = withWidth({ ...survey, widthAssumed: true }, 4, 6)
    expect([widthAssumed, widthLeft_m[5], widthRight_m[5]]).toEqual([undefined, 4, 6])
  })
})

describe('surveys that cannot be a circuit', () => {
  it.each(cases)('refuses %s', (_name, code, place, change) => {
    const error = refusal(change)
    expect(error).toBeInstanceOf(CoreError)
    expect(error.code).toBe(code)
    expect(error.place).toBe(place)
  })

  it('refuses a figure of eight and names where it crosses', () => {
    const n = 200
    const eight: Survey = {
      ...circle(),
      x_m: Float64Array.from({ length: n }, (_, i) => 150 * Math.sin((2 * Math.PI * i) / n + 0.1)),
      y_m: Float64Array.from({ length: n }, (_, i) => 75 * Math.sin((4 * Math.PI * i) / n + 0.2)),
      z_m: new Float64Array(n),
      bank_rad: new Float64Array(n),
      widthLeft_m: new Float64Array(n).fill(4),
      widthRight_m: new Float64Array(n).fill(4),
    }
    const error = refusal(() => eight)
    expect(error.code).toBe('circuit-self-crossing')
    expect(error.place).toMatch(/^point \d+ and point \d+$/)
  })
})

describe('north', () => {
  it('is turned up: what pointed east by the map points north by the ground once the upper edge looks west', () => {
    const survey = circle()
    const turned = turnedToNorth(survey, -90)
    expect(turned.northSet).toBe(true)
    for (const i of [0, 7, 20]) {
      expect(turned.x_m[i]).toBeCloseTo(-survey.y_m[i], 9)
      expect(turned.y_m[i]).toBeCloseTo(survey.x_m[i], 9)
    }
    expect(buildCircuit(turned).length_m).toBeCloseTo(buildCircuit(survey).length_m, 6)
  })
})

describe('a width for a stretch', () => {
  it('holds there, runs out beside it, and leaves the rest as it was, assumed or not', () => {
    const survey: Survey = { ...circle(), widthAssumed: true }
    const round_m = buildCircuit(survey).length_m
    const wide = withWidth(survey, 8, 9, { from_m: 0.25 * round_m, to_m: 0.5 * round_m })
    const at = (share: number): number => Math.round(share * survey.x_m.length)
    expect([wide.widthLeft_m[at(0.3)], wide.widthRight_m[at(0.4)]]).toEqual([8, 9])
    expect(wide.widthLeft_m[at(0.75)]).toBe(survey.widthLeft_m[at(0.75)])
    expect(wide.widthAssumed).toBe(true)
    const built = buildCircuit(wide)
    const [stretch, ...more] = assumedStretches(built)
    // Nobody knows the first quarter and the second half: two stretches on a line that begins at the start.
    expect(stretch.from_m).toBe(0)
    expect(Math.abs(stretch.to_m - 0.25 * round_m)).toBeLessThan(10)
    expect(more).toHaveLength(1)
    expect(more[0].to_m).toBe(built.length_m)
    const station = (of: number): number => Math.round((of * round_m) / built.step_m)
    expect(isWidthAssumed(built, station(0.3), 10)).toBe(false)
    expect(isWidthAssumed(built, station(0.45), station(0.2))).toBe(true)
    const wholly = withWidth(withWidth(wide, 8, 9, { from_m: 0.49 * round_m, to_m: 0.9 * round_m }), 8, 9, {
      from_m: 0.89 * round_m,
      to_m: 0.26 * round_m,
    })
    expect([wholly.widthAssumed, wholly.widthGiven]).toEqual([undefined, undefined])
    expect(reverseSurvey(reverseSurvey(wide)).widthGiven).toEqual(wide.widthGiven)
    const changes = Array.from(wide.widthLeft_m, (w, i) => Math.abs(w - wide.widthLeft_m[(i + 1) % wide.widthLeft_m.length]))
    expect(Math.max(...changes)).toBeLessThan(8 - survey.widthLeft_m[0])
  })

  it('may run over the start line', () => {
    const survey = circle()
    const round_m = buildCircuit(survey).length_m
    const wide = withWidth(survey, 8, 9, { from_m: 0.9 * round_m, to_m: 0.1 * round_m })
    expect([wide.widthLeft_m[0], wide.widthLeft_m[Math.round(survey.x_m.length / 2)]]).toEqual([8, survey.widthLeft_m[0]])
  })
})
