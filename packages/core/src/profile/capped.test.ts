import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { cappedProfile } from './capped.ts'

describe('a lap driven no faster than a limit', () => {
  const { profile, line } = demoPlan({ pace: 0.45 })

  it('is the same lap where the limit is never reached', () => {
    const same = cappedProfile(profile, line, 200)
    expect(same.lapTime_s).toBeCloseTo(profile.lapTime_s, 9)
    expect(same.time_s[500]).toBeCloseTo(profile.time_s[500], 9)
  })

  it('never passes the limit and takes as long as its speeds say', () => {
    const slow = cappedProfile(profile, line, 15)
    expect(Math.max(...slow.speed_mps)).toBe(15)
    const length = line.stepPath_m.reduce((a, b) => a + b, 0)
    expect(slow.lapTime_s).toBeGreaterThan(length / 15)
    for (let i = 1; i < slow.time_s.length; i++) expect(slow.time_s[i]).toBeGreaterThan(slow.time_s[i - 1])
    const halved = cappedProfile(profile, line, 5)
    expect(halved.lapTime_s).toBeCloseTo(length / 5, -1)
  })
})
