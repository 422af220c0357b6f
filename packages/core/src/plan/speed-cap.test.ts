import { describe, expect, it } from 'vitest'
import { demoVenuePlan } from '../../fixtures/load.ts'
import { withSpeedCap } from './speed-cap.ts'

const plan = demoVenuePlan({ pace: 0.45 })

describe('a lap under a speed cap', () => {
  it('is nowhere faster than the cap, and takes as long as its speeds say', () => {
    const capped = withSpeedCap(plan, 25)
    const { circuit, profile } = capped
    expect(Math.max(...profile.speed_mps)).toBe(25)
    let whole_s = 0
    for (let i = 0; i < circuit.count; i++) {
      const next = (i + 1) % circuit.count
      const meant = plan.profile.speed_mps[i] <= 25 && plan.profile.speed_mps[next] <= 25
      const taken = (i + 1 < circuit.count ? profile.time_s[i + 1] : profile.lapTime_s) - profile.time_s[i]
      const before = (i + 1 < circuit.count ? plan.profile.time_s[i + 1] : plan.profile.lapTime_s) - plan.profile.time_s[i]
      if (meant) expect(taken).toBeCloseTo(before, 9)
      else expect(taken).toBeGreaterThan(before)
      whole_s += taken
    }
    expect(whole_s).toBeCloseTo(profile.lapTime_s, 6)
  })

  it('takes distance over speed where all of it is capped', () => {
    const capped = withSpeedCap(plan, 5)
    expect(capped.profile.lapTime_s).toBeCloseTo(
      plan.profile.speed_mps.reduce(
        (sum, v, i) =>
          sum + v * ((i + 1 < plan.circuit.count ? plan.profile.time_s[i + 1] : plan.profile.lapTime_s) - plan.profile.time_s[i]),
        0,
      ) / 5,
      -1,
    )
    for (const mark of capped.marks) expect(mark.speed_mps).toBe(5)
  })

  it('is the plan itself where it never gets so fast', () => {
    expect(withSpeedCap(plan, 90)).toBe(plan)
  })
})
