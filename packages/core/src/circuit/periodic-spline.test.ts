import { describe, expect, it } from 'vitest'
import { evaluateSpline, periodicSpline } from './periodic-spline.ts'

const knots = (n: number, period: number, uneven: number): Float64Array =>
  Float64Array.from({ length: n + 1 }, (_, i) => (period * i) / n + (i % n === 0 ? 0 : uneven * Math.sin(7 * i)))

describe('periodic cubic spline', () => {
  const t = knots(40, 2 * Math.PI, 0.02)
  const spline = periodicSpline(t, Float64Array.from(t.subarray(0, 40), Math.sin))

  it('passes through its knots', () => {
    for (let i = 0; i < 40; i++) expect(evaluateSpline(spline, t[i]).y).toBeCloseTo(Math.sin(t[i]), 12)
  })

  it('follows a sine with its first two derivatives between them', () => {
    for (let x = 0.01; x < 6.28; x += 0.037) {
      const at = evaluateSpline(spline, x)
      expect(Math.abs(at.y - Math.sin(x))).toBeLessThan(2e-5)
      expect(Math.abs(at.dy - Math.cos(x))).toBeLessThan(5e-4)
      expect(Math.abs(at.ddy + Math.sin(x))).toBeLessThan(1.5e-2)
    }
  })

  it('joins end and beginning with equal value, slope and bend', () => {
    const start = evaluateSpline(spline, 0)
    const end = evaluateSpline(spline, 2 * Math.PI)
    expect(end.y).toBeCloseTo(start.y, 10)
    expect(end.dy).toBeCloseTo(start.dy, 10)
    expect(end.ddy).toBeCloseTo(start.ddy, 10)
  })

  it('is smooth over every knot', () => {
    for (let i = 1; i < 40; i++) {
      const before = evaluateSpline(spline, t[i] - 1e-9)
      const after = evaluateSpline(spline, t[i] + 1e-9)
      expect(Math.abs(before.dy - after.dy)).toBeLessThan(1e-7)
      expect(Math.abs(before.ddy - after.ddy)).toBeLessThan(1e-6)
    }
  })
})
