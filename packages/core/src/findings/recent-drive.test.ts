import { describe, expect, it } from 'vitest'
import type { LivePlace } from '../log/follow.ts'
import type { ReceivedFix } from '../log/received-fix.ts'
import { recentDrive } from './recent-drive.ts'

const place = (travel_m: number, time_s: number): LivePlace => ({
  time_s,
  travel_m,
  station_m: travel_m % 1000,
  offset_m: 0.5,
  speed_mps: 20,
  lap: Math.floor(travel_m / 1000),
})
const fix = (time_s: number, more: Partial<ReceivedFix> = {}): ReceivedFix => ({ time_s, lat_deg: 0.1, lon_deg: 0.2, ...more })

/** A drive at 20 m/s with a position every 0.1 s. */
const driven = (count: number, more: Partial<ReceivedFix> = {}) => {
  const recent = recentDrive()
  for (let i = 0; i < count; i++) recent.push(place(2 * i, 0.1 * i), fix(0.1 * i, more))
  return recent
}

describe('the recent drive of a running car', () => {
  it('reads like a log from any place on', () => {
    const recent = driven(200, { throttle_pct: 40, brake_bar: 3, steer_deg: -2, gear: 3, ele_m: 7 })
    const first = recent.firstAfter(300)
    const { log, matched } = recent.logFrom(first)
    expect(matched.travel_m[0]).toBe(302)
    expect(matched.travel_m.at(-1)).toBe(398)
    expect(log.time_s).toHaveLength(49)
    for (const column of [log.speed_mps, log.throttle_pct, log.brake_bar, log.steer_deg, log.gear, log.ele_m])
      expect(column).toHaveLength(49)
    expect([log.throttle_pct?.[0], log.brake_bar?.[0], log.steer_deg?.[0], log.gear?.[0], log.ele_m[0]]).toEqual([40, 3, -2, 3, 7])
    expect(matched.onCircuit.every((on) => on === 1)).toBe(true)
  })

  it('has only channels that every position carried', () => {
    const recent = recentDrive()
    recent.push(place(0, 0), fix(0, { throttle_pct: 10, brake_bar: 0, steer_deg: 1, gear: 2 }))
    recent.push(place(2, 0.1), fix(0.1, { throttle_pct: 10, steer_deg: 1, gear: 2 }))
    const { log } = recent.logFrom(0)
    expect(log.brake_bar).toBeUndefined()
    expect(log.throttle_pct).toBeUndefined()
    expect(log.steer_deg).toBeDefined()
    expect(log.gear).toBeDefined()
    expect(log.rpm).toBeUndefined()
  })

  it('covers a stretch that it reaches back to without a gap', () => {
    const recent = driven(100)
    expect(recent.covers(0, 10, 20)).toBe(true)
    expect(recent.covers(50, 10, 20)).toBe(false)
    // A silence of a second at 200 m.
    for (let i = 0; i < 50; i++) recent.push(place(218 + 2 * i, 10.9 + 0.1 * i), fix(10.9 + 0.1 * i))
    expect(recent.covers(0, 10, 150)).toBe(false)
    expect(recent.covers(0, 10, 230)).toBe(true)
  })

  it('keeps the newest positions when it is full', () => {
    const recent = driven(20_000)
    const { matched } = recent.logFrom(recent.firstAfter(0))
    expect(matched.travel_m.at(-1)).toBe(2 * 19_999)
    expect(matched.travel_m.length).toBeGreaterThan(12_000)
    expect(matched.travel_m.length).toBeLessThanOrEqual(16_384)
    for (let i = 1; i < matched.travel_m.length; i++) expect(matched.travel_m[i] - matched.travel_m[i - 1]).toBe(2)
  })
})
