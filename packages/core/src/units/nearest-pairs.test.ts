import { describe, expect, it } from 'vitest'
import { nearestPairs } from './nearest-pairs.ts'
import { seededRandom } from './random.ts'

describe('times and what came nearest to them', () => {
  it('are paired the nearest first, each once', () => {
    // 10.2 is nearer to 10 than to 11, and 10.9 to 11; what is left over is out of reach.
    expect(nearestPairs([10, 11, 20], [10.2, 10.9, 40], 2)).toEqual([
      { arrival: 0, late: expect.closeTo(0.2, 9) },
      { arrival: 1, late: expect.closeTo(-0.1, 9) },
      null,
    ])
    expect(nearestPairs([10, 11], [10.6], 2)).toEqual([null, { arrival: 0, late: expect.closeTo(-0.4, 9) }])
    expect(nearestPairs([], [1], 2)).toEqual([])
    expect(nearestPairs([1], [], 2)).toEqual([null])
  })

  it('use no arrival twice, stay within reach, and leave no pair that would have been nearer', () => {
    const random = seededRandom(11)
    for (let round = 0; round < 200; round++) {
      const times = Array.from({ length: 1 + Math.floor(random.uniform() * 8) }, () => random.uniform() * 20)
      const arrivals = Array.from({ length: Math.floor(random.uniform() * 10) }, () => random.uniform() * 20)
      const found = nearestPairs(times, arrivals, 2)
      const used = found.flatMap((pair) => (pair ? [pair.arrival] : []))
      expect(new Set(used).size).toBe(used.length)
      found.forEach((pair, t) => {
        if (pair) expect(pair.late).toBeCloseTo(arrivals[pair.arrival] - times[t], 9)
        if (pair) expect(Math.abs(pair.late)).toBeLessThanOrEqual(2)
      })
      // No time and arrival that are both worse off, or free, would rather have each other.
      const gapOf = (t: number): number => (found[t] ? Math.abs(found[t].late) : Number.POSITIVE_INFINITY)
      const gapOfArrival = (a: number): number =>
        Math.min(...found.map((pair) => (pair?.arrival === a ? Math.abs(pair.late) : Number.POSITIVE_INFINITY)))
      for (let t = 0; t < times.length; t++)
        for (let a = 0; a < arrivals.length; a++) {
          const apart = Math.abs(arrivals[a] - times[t])
          if (apart <= 2) expect(apart >= Math.min(gapOf(t), gapOfArrival(a)) - 1e-9).toBe(true)
        }
    }
  })

  it('may be measured round a lap', () => {
    const lap_s = 100
    const late = (time: number, arrival: number): number => ((arrival - time + 150) % lap_s) - 50
    expect(nearestPairs([1], [99.5], 2)).toEqual([null])
    expect(nearestPairs([1], [99.5], 2, late)).toEqual([{ arrival: 0, late: expect.closeTo(-1.5, 9) }])
  })
})
