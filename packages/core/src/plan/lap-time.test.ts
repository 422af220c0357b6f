import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { stationIndex } from '../circuit/station.ts'
import { planTimeAt, planTimeBetween, stationAtTime, stationBefore, timeBetween, waitFrom, wrapTime } from './lap-time.ts'

const plan = demoPlan()
const { circuit, profile } = plan

describe('times of a lap', () => {
  it('go round the lap', () => {
    expect(wrapTime(-1, 90)).toBe(89)
    expect(wrapTime(91, 90)).toBe(1)
    for (const [from, to] of [
      [10, 700],
      [700, 10],
      [5, 5],
    ]) {
      const there = timeBetween(profile, from, to)
      const back = timeBetween(profile, to, from)
      expect(there).toBeGreaterThanOrEqual(0)
      expect(from === to ? there + back : there + back - profile.lapTime_s).toBeCloseTo(0, 9)
      expect(planTimeBetween(plan, circuit.s_m[from], circuit.s_m[to])).toBeCloseTo(there, 9)
    }
  })

  it('lead to the station they were asked for, and back', () => {
    for (const s_m of [0, 3.3, 512.7, circuit.length_m - 0.4]) expect(stationAtTime(plan, planTimeAt(plan, s_m))).toBeCloseTo(s_m, 6)
    const back_m = stationBefore(plan, 1, 2)
    expect(timeBetween(profile, stationIndex(circuit, back_m), stationIndex(circuit, 1))).toBeGreaterThanOrEqual(2)
  })

  it('are waited from a cone to a mark behind it, over the line too, and not at all to one before it', () => {
    const last_m = circuit.length_m - 10
    expect(waitFrom(plan, last_m, 10)).toBeCloseTo(20 / profile.speed_mps[0], 1)
    expect(waitFrom(plan, 10, last_m)).toBe(0)
    expect(waitFrom(plan, 500, 500)).toBe(0)
  })
})
