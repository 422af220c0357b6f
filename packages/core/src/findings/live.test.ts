import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { carFollower } from '../log/follow.ts'
import type { Plan } from '../plan/plan.ts'
import { type DriveOptions, simulateDrive } from '../simulate/drive.ts'
import { analyseLog } from './analyse.ts'
import { type CornerPassed, cornerWatch } from './live.ts'

const plan = demoPlan({ pace: 0.6 })

/** Everything a running car shows, passed corner by passed corner. */
const watched = (options: DriveOptions, against: Plan = plan, keep = (_: number) => true): CornerPassed[] => {
  const { log } = simulateDrive(plan, options)
  const follower = carFollower(plan.circuit)
  const watch = cornerWatch(against)
  const out: CornerPassed[] = []
  for (let i = 0; i < log.time_s.length; i++) {
    if (!keep(log.time_s[i])) continue
    const fix = {
      time_s: log.time_s[i],
      lat_deg: log.lat_deg[i],
      lon_deg: log.lon_deg[i],
      ele_m: log.ele_m[i],
      speed_mps: log.speed_mps?.[i],
      throttle_pct: log.throttle_pct?.[i],
      brake_bar: log.brake_bar?.[i],
    }
    const { place } = follower.take(fix, fix.time_s)
    if (place) out.push(...watch.take(place, fix))
  }
  return out
}

describe('corners as they are passed', () => {
  it('come once a lap, in order, with nothing to say of a clean lap', () => {
    const passed = watched({ laps: 2, seed: 3, rate_hz: 25 })
    const first = passed.filter((p) => p.lap === 1).map((p) => p.cornerId)
    expect(first).toEqual(plan.corners.map((c) => c.id))
    expect(new Set(passed.map((p) => `${p.lap} ${p.cornerId}`)).size).toBe(passed.length)
    expect(passed.flatMap((p) => p.findings).length).toBeLessThanOrEqual(1)
  })

  it.each([
    ['turn-in-early', 'T3', 14],
    ['brake-early', 'T1', 22],
    ['exit-wide', 'T6', 2],
    ['apex-missed', 'T6', 2.4],
  ] as const)('show %s at %s before the next corner is reached, and the log afterwards agrees', (code, cornerId, size) => {
    const options = { laps: 2, seed: 6, rate_hz: 25, habits: [{ cornerId, code, probability: 1, size }] }
    const shown = watched(options)
      .flatMap((p) => p.findings)
      .filter((f) => f.cornerId === cornerId)
    const { findings } = analyseLog(plan.circuit, plan.corners, simulateDrive(plan, options).log, { kind: 'plan', plan })
    const roots = findings.filter((f) => f.root && f.cornerId === cornerId).map((f) => f.code)
    expect(shown.map((f) => f.code)).toContain(code)
    expect(roots).toContain(code)
  })

  it('over the plan’s pace are suggested as that', () => {
    const slower = demoPlan({ pace: 0.45 })
    const codes = watched({ laps: 1, seed: 2, rate_hz: 25 }, slower).flatMap((p) => p.findings.map((f) => f.code))
    expect(codes.filter((c) => c === 'overdriving').length).toBeGreaterThan(3)
  })

  it('are not judged through a silence', () => {
    const options = { laps: 2, seed: 3, rate_hz: 25 }
    const all = watched(options)
    const silent = all.find((p) => p.lap === 1 && p.cornerId === 'T5')
    if (!silent) throw new Error('T5 not passed')
    const holed = watched(options, plan, (t) => t < silent.time_s - 6 || t > silent.time_s - 4)
    expect(holed.some((p) => p.lap === 1 && p.cornerId === 'T5')).toBe(false)
    expect(holed.some((p) => p.lap === 2 && p.cornerId === 'T5')).toBe(true)
  })

  it('are not judged at one position a second', () => {
    expect(watched({ laps: 1, seed: 3, rate_hz: 1 })).toEqual([])
  })
})
