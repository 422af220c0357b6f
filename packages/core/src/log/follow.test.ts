import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { simulateDrive } from '../simulate/drive.ts'
import { carFollower } from './follow.ts'
import { splitLaps } from './laps.ts'
import type { Log } from './log.ts'
import { matchLog } from './match.ts'
import type { ReceivedFix } from './received-fix.ts'

const plan = demoPlan()
const { circuit } = plan
const start_s = Date.UTC(2027, 4, 15, 9) / 1000
const drive = simulateDrive(plan, { laps: 2, seed: 4, rate_hz: 10 })
const fixOf = (log: Log, i: number): ReceivedFix => ({
  time_s: start_s + log.time_s[i],
  lat_deg: log.lat_deg[i],
  lon_deg: log.lon_deg[i],
  ele_m: log.ele_m[i],
  speed_mps: log.speed_mps?.[i],
})
const fixes = Array.from(drive.log.time_s.keys(), (i) => fixOf(drive.log, i))

describe('following a car', () => {
  it('gives the places and lap times of the log afterwards', () => {
    const follower = carFollower(circuit)
    const matched = matchLog(circuit, drive.log)
    const { laps } = splitLaps(circuit, drive.log, matched)
    const times: (number | null)[] = []
    fixes.forEach((fix, i) => {
      const { place, fault, crossed } = follower.take(fix, fix.time_s)
      expect(fault).toBeNull()
      expect(place?.travel_m).toBeCloseTo(matched.travel_m[i], 6)
      if (crossed) times.push(crossed.lapTime_s)
    })
    expect(times[0]).toBeNull()
    expect(times.slice(1)).toEqual(laps.map((l) => expect.closeTo(l.time_s, 6)))
    expect(follower.rate_hz()).toBeCloseTo(10, 1)
  })

  it('leaves out what is out of order, and goes on', () => {
    const follower = carFollower(circuit)
    for (const fix of fixes.slice(0, 20)) follower.take(fix, fix.time_s)
    expect(follower.take(fixes[5], fixes[20].time_s)).toEqual({ place: null, fault: 'late', crossed: null })
    expect(follower.take(fixes[19], fixes[20].time_s).fault).toBe('late')
    expect(follower.take(fixes[20], fixes[20].time_s).fault).toBeNull()
  })

  it('takes a receiver’s own clock, however wrong, but no leap into the future', () => {
    const follower = carFollower(circuit)
    for (const fix of fixes.slice(0, 20)) expect(follower.take(fix, fix.time_s - 43).fault).toBeNull()
    expect(follower.clockAhead_s()).toBeCloseTo(43, 1)
    expect(follower.take({ ...fixes[20], time_s: fixes[20].time_s + 3600 }, fixes[20].time_s - 43).fault).toBe('future')
    expect(follower.take(fixes[21], fixes[21].time_s - 43).fault).toBeNull()
  })

  it('believes a clock that was set when it stays so', () => {
    const follower = carFollower(circuit)
    for (const fix of fixes.slice(0, 20)) follower.take(fix, fix.time_s)
    const troubles = fixes.slice(20, 60).map((fix) => follower.take({ ...fix, time_s: fix.time_s + 100 }, fix.time_s).fault)
    expect(troubles[0]).toBe('future')
    expect(troubles.at(-1)).toBeNull()
  })

  it('takes a sender that runs eight times faster than life', () => {
    const follower = carFollower(circuit)
    follower.newClock(8)
    for (const fix of fixes.slice(0, 400)) expect(follower.take(fix, start_s + (fix.time_s - start_s) / 8).fault).toBeNull()
  })

  it('says when the place is ten kilometres away', () => {
    const follower = carFollower(circuit)
    expect(follower.take({ ...fixes[0], lat_deg: fixes[0].lat_deg + 0.09 }, fixes[0].time_s).fault).toBe('elsewhere')
    expect(follower.take(fixes[1], fixes[1].time_s).place).not.toBeNull()
  })

  it('tells a receiver that hangs from a car that stands', () => {
    const hangs = carFollower(circuit)
    const stands = carFollower(circuit)
    const at = (i: number, speed_mps: number): ReceivedFix => ({ ...fixes[50], time_s: start_s + i / 10, speed_mps })
    const troubles = Array.from({ length: 40 }, (_, i) => [
      hangs.take(at(i, 30), start_s + i / 10).fault,
      stands.take(at(i, 0), start_s + i / 10).fault,
    ])
    expect(troubles.at(-1)).toEqual(['frozen', null])
    expect(troubles[5]).toEqual([null, null])
  })

  it('says that one position a second is slow, and still counts laps', () => {
    const follower = carFollower(circuit)
    const steps = fixes.filter((_, i) => i % 10 === 0).map((fix) => follower.take(fix, fix.time_s))
    expect(steps.at(-1)?.fault).toBe('slow')
    const lap = steps.flatMap((s) => (s.crossed?.lapTime_s ? [s.crossed.lapTime_s] : []))
    expect(Math.abs(lap[0] - drive.lapTimes_s[0])).toBeLessThan(0.3)
  })
})
