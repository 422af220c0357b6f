import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Log } from '../log/log.ts'
import { tidyLog } from './tidy-log.ts'

/** A log that goes north by a millionth of a degree a row. */
const logAt = (time_s: readonly number[], change: Partial<Log> = {}): Log => ({
  time_s: Float64Array.from(time_s),
  lat_deg: Float64Array.from(time_s, (_, i) => 47 + i * 1e-6),
  lon_deg: Float64Array.from(time_s, () => -21),
  ele_m: new Float64Array(time_s.length),
  speed_mps: Float64Array.from(time_s, (_, i) => i),
  ...change,
})
const tidy = (log: Log, fromFirst = false): Log => tidyLog(log, { row: 2, fromFirst })

describe('stamps of a log', () => {
  it('stay as they are where they rise, and so do all columns', () => {
    const log = logAt([0, 0.1, 0.2, 0.4])
    expect(tidy(log)).toEqual(log)
  })

  it('go on over midnight where they are times of day, more than once', () => {
    const day = 86_400
    const { time_s } = tidy(logAt([day - 2, day - 1, 0, 1, day - 1, 0.5]), true)
    expect([...time_s]).toEqual([0, 1, 2, 3, day + 1, day + 2.5])
  })

  it('that are missing are laid evenly between their neighbours; those past the last one are left out', () => {
    const { time_s, speed_mps } = tidy(logAt([1, Number.NaN, Number.NaN, 4, Number.NaN]))
    expect([...time_s]).toEqual([1, 2, 3, 4])
    expect([...(speed_mps ?? [])]).toEqual([0, 1, 2, 3])
  })

  it('that mostly run backwards are an error with the first such row and both moments', () => {
    expect(() => tidy(logAt([5, 6, 3, 2, 1]))).toThrow(
      expect.objectContaining({ code: 'log-stamps', place: 'row 4', data: { before: 6, after: 3 } }),
    )
  })

  it('always rise afterwards, with every column as long, whatever was dropped (seed 7)', () => {
    const stamp = fc.oneof({ weight: 9, arbitrary: fc.double({ min: 0, max: 1, noNaN: true }) }, { weight: 1, arbitrary: fc.constant(0) })
    fc.assert(
      fc.property(fc.array(stamp, { minLength: 2, maxLength: 80 }), (steps) => {
        let now = 0
        const out = tidy(
          logAt(
            steps.map((step) => {
              now += step
              return now
            }),
          ),
        )
        for (const column of Object.values(out)) expect(column.length).toBe(out.time_s.length)
        for (let i = 1; i < out.time_s.length; i++) expect(out.time_s[i]).toBeGreaterThan(out.time_s[i - 1])
        // Rows keep their own values: speeds were numbered.
        const kept = [...(out.speed_mps ?? [])]
        expect(kept).toEqual([...new Set(kept)].sort((a, b) => a - b))
      }),
      { seed: 7, numRuns: 200 },
    )
  })
})

describe('places of a log', () => {
  it('off the globe are an error with their row', () => {
    const lat_deg = Float64Array.from([47, 47.1, 97, 47.2])
    expect(() => tidy(logAt([0, 1, 2, 3], { lat_deg }))).toThrow(expect.objectContaining({ code: 'number-invalid', place: 'row 4' }))
  })

  it('that are empty lie on the way between their neighbours, by time', () => {
    const lat_deg = Float64Array.from([47, Number.NaN, Number.NaN, 47.004])
    const lon_deg = Float64Array.from([-21, Number.NaN, Number.NaN, -21.008])
    const out = tidy(logAt([0, 1, 3, 4], { lat_deg, lon_deg }))
    expect([...out.lat_deg].map((v) => v.toFixed(6))).toEqual(['47.000000', '47.001000', '47.003000', '47.004000'])
    expect([...out.lon_deg].map((v) => v.toFixed(6))).toEqual(['-21.000000', '-21.002000', '-21.006000', '-21.008000'])
  })

  it('that a slower receiver holds are laid even again, whatever it holds them for (seed 2)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 10 }), fc.integer({ min: 4, max: 20 }), (held, places) => {
        const rows = held * places + 1
        const time = Array.from({ length: rows }, (_, i) => i / 10)
        const lat_deg = Float64Array.from(time, (_, i) => 47 + Math.floor(i / held) * held * 1e-5)
        const out = tidy(logAt(time, { lat_deg }))
        for (let i = 0; i < rows; i++) expect(out.lat_deg[i]).toBeCloseTo(47 + i * 1e-5, 9)
      }),
      { seed: 2, numRuns: 60 },
    )
  })

  it('of a car that stands now and then are left as they are', () => {
    const lat_deg = Float64Array.from([47, 47.001, 47.001, 47.002, 47.003, 47.004, 47.005, 47.006])
    const out = tidy(logAt([0, 1, 2, 3, 4, 5, 6, 7], { lat_deg }))
    expect([...out.lat_deg]).toEqual([...lat_deg])
  })
})
