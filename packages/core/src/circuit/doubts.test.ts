import { describe, expect, it } from 'vitest'
import { buildCircuit } from './build-circuit.ts'
import { doubtsOf } from './doubts.ts'
import type { Survey } from './survey.ts'

/** A circle of 200 m radius, gently uphill and down, 12 m wide. */
const circle = (n: number, change: Partial<Survey> = {}): Survey => {
  const angle = (i: number): number => (2 * Math.PI * i) / n
  return {
    name: 'Circle',
    x_m: Float64Array.from({ length: n }, (_, i) => 200 * Math.cos(angle(i))),
    y_m: Float64Array.from({ length: n }, (_, i) => 200 * Math.sin(angle(i))),
    z_m: Float64Array.from({ length: n }, (_, i) => 3 * Math.sin(angle(i))),
    widthLeft_m: new Float64Array(n).fill(6),
    widthRight_m: new Float64Array(n).fill(6),
    bank_rad: new Float64Array(n),
    ...change,
  }
}
const without = (survey: Survey, from: number, to: number): Survey => {
  const cut = (column: Float64Array): Float64Array => column.filter((_, i) => i < from || i >= to)
  const { x_m, y_m, z_m, widthLeft_m, widthRight_m, bank_rad } = survey
  return {
    ...survey,
    x_m: cut(x_m),
    y_m: cut(y_m),
    z_m: cut(z_m),
    widthLeft_m: cut(widthLeft_m),
    widthRight_m: cut(widthRight_m),
    bank_rad: cut(bank_rad),
  }
}
const told = (survey: Survey) => doubtsOf(survey, buildCircuit(survey))

describe('what is doubtful in a survey', () => {
  it('is nothing where all was measured closely', () => {
    expect(told(circle(250))).toEqual([])
  })

  it('is a gap, with its place and length', () => {
    const [gap, ...others] = told(without(circle(250), 100, 110))
    expect(others).toEqual([])
    expect(gap).toMatchObject({ kind: 'gap', at_m: expect.closeTo(99 * (1256.6 / 250), -1), value: expect.closeTo(11 * 5.03, 0) })
  })

  it('is a lap that does not quite close, and one of few points', () => {
    expect(told(without(circle(250), 248, 250)).map((d) => d.kind)).toEqual(['closing-gap'])
    expect(told(circle(24)).map((d) => d.kind)).toContain('few-points')
  })

  it('is a road without heights, steep, of assumed, odd or jumping width, or of odd length', () => {
    expect(told(circle(250, { z_m: new Float64Array(250) }))).toEqual([{ kind: 'no-heights', at_m: null, value: 0 }])
    expect(told(circle(250, { z_m: circle(250).z_m.map((z) => 14 * z) })).map((d) => d.kind)).toEqual(['steep'])
    expect(told(circle(250, { widthAssumed: true }))).toEqual([{ kind: 'width-assumed', at_m: null, value: 12 }])
    const wide = circle(250)
    wide.widthLeft_m.fill(24, 50, 60)
    expect(new Set(told(wide).map((d) => d.kind))).toEqual(new Set(['width-odd', 'width-jump']))
    const small = circle(64, { x_m: circle(64).x_m.map((x) => x / 6), y_m: circle(64).y_m.map((y) => y / 6) })
    expect(told(small).map((d) => d.kind)).toContain('length-odd')
  })

  it('is a scatter of points', () => {
    let seed = 1
    const random = (): number => {
      seed = (seed * 16807) % 2147483647
      return seed / 2147483647 - 0.5
    }
    const plain = circle(250)
    const noisy = circle(250, { x_m: plain.x_m.map((x) => x + 5 * random()), y_m: plain.y_m.map((y) => y + 5 * random()) })
    const scatter = told(noisy).find((d) => d.kind === 'scatter')
    // Uniform over ±2.5 m: 1.44 m (1σ).
    expect(scatter?.value).toBeGreaterThan(1)
    expect(scatter?.value).toBeLessThan(2)
  })

  it('tells the three worst of a kind', () => {
    const gaps = without(without(without(without(circle(600), 50, 65), 150, 166), 250, 267), 350, 368)
    const found = told(gaps).filter((d) => d.kind === 'gap')
    expect(found).toHaveLength(3)
    expect(found[0].value).toBeGreaterThan(found[2].value)
  })
})
