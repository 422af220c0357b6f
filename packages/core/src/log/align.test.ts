import { describe, expect, it } from 'vitest'
import { seededRandom } from '../units/random.ts'
import { alignTrends } from './align.ts'

const random = seededRandom(7)
/** A speed that rises and falls like a lap's, with a different corner each time. */
const speed = Float64Array.from({ length: 400 }, (_, i) => 30 + 15 * Math.sin(i / 9) + 8 * Math.sin(i / 23 + 1) + 5 * Math.sin(i / 4.1))

describe('one trend on another', () => {
  it('is found where it was cut out, whatever its scale, with noise on it', () => {
    const cut = speed.slice(120, 260).map((v) => 0.02 * v + 3 + 0.05 * random.normal())
    const [found, other] = alignTrends(cut, speed, 0.5)
    expect(found.lag_s).toBe(60)
    expect(found.alike).toBeGreaterThan(0.9)
    expect(other.alike).toBeLessThan(found.alike - 0.1)
  })

  it('may begin before the other or end after it', () => {
    const before = Float64Array.from({ length: 150 }, (_, i) => (i < 50 ? 30 + random.normal() : speed[i - 50]))
    expect(alignTrends(before, speed, 0.5)[0].lag_s).toBe(-25)
  })

  it('is found at every lap where laps are alike', () => {
    const laps = Float64Array.from({ length: 360 }, (_, i) => speed[i % 120] + 0.2 * random.normal())
    const places = alignTrends(speed.slice(30, 90), laps, 1)
    expect(new Set(places.slice(0, 3).map((p) => p.lag_s))).toEqual(new Set([30, 150, 270]))
    for (const place of places.slice(0, 3)) expect(place.alike).toBeGreaterThan(0.98)
  })

  it('is told of no place where there is too little, and of no clear place where nothing fits', () => {
    expect(alignTrends(speed.slice(0, 10), speed, 0.5)).toEqual([])
    const noise = Float64Array.from({ length: 140 }, () => random.normal())
    expect(alignTrends(noise, speed, 0.5)[0].alike).toBeLessThan(0.5)
  })
})
