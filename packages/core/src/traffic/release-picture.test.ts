import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { planTimeAt } from '../plan/lap-time.ts'
import { planRelease, type Released, releaseConflict } from './release.ts'
import { firstCatch, predictedLap_s, releasePaths, slackOf } from './release-picture.ts'

const plan = demoPlan({ pace: 0.6 })
const lap_s = plan.profile.lapTime_s
const car = (id: string, lap: number, laps = 4): Released => ({ id, lapTimes_s: Array.from({ length: laps }, () => lap) })

describe('the picture of a release', () => {
  it('finds a catch where and when arithmetic says', () => {
    // The one behind gains 4 s a lap and starts 10 s later: 7 s are gone after 1.75 of its laps.
    const [slow, quick] = [car('slow', 104), car('quick', 100)]
    const caught = firstCatch(plan, [slow, quick], 10)
    expect(caught).toMatchObject({ behindId: 'quick', aheadId: 'slow', lap: 2 })
    // Gap in the quick one's own time: u_slow − u_quick = 3/100, with u = (t − start)/lap.
    const at_s = (10 / 100 - 3 / 100) / (1 / 100 - 1 / 104)
    expect(Math.abs((caught?.at_s ?? 0) - at_s)).toBeLessThanOrEqual(0.3)
    const share = ((at_s - 10) / 100) % 1
    expect(Math.abs(planTimeAt(plan, caught?.station_m ?? 0) / lap_s - share)).toBeLessThan(0.01)
    expect(firstCatch(plan, [quick, slow], 10)).toBeNull()
  })

  it('agrees with the check at the lines: what is kept there is kept on the way', () => {
    const drivers = fc.array(fc.record({ lap: fc.integer({ min: 95, max: 130 }), laps: fc.integer({ min: 1, max: 5 }) }), {
      minLength: 2,
      maxLength: 5,
    })
    fc.assert(
      fc.property(drivers, (list) => {
        const cars = list.map(({ lap, laps }, k) => car(`c${k}`, lap, laps))
        const { order, interval_s, conflict } = planRelease(cars)
        const inOrder = order.map((id) => cars.find((c) => c.id === id) as Released)
        const caught = firstCatch(plan, inOrder, interval_s, 2.5)
        if (conflict === null) expect(caught).toBeNull()
        else expect(releaseConflict(inOrder, interval_s)).toEqual(conflict)
      }),
      { numRuns: 60 },
    )
  })

  it('draws every car from its start to its end, on the lap', () => {
    const paths = releasePaths(plan, [car('a', 100, 2), car('b', 110, 2)], 20, 1)
    expect(paths.map((p) => [p.time_s[0], p.time_s.at(-1)])).toEqual([
      [0, 199],
      [20, 239],
    ])
    for (const { station_m } of paths) for (const s of station_m) expect(s >= 0 && s < plan.circuit.length_m).toBe(true)
    expect(paths[0].station_m[0]).toBeCloseTo(0, 3)
    // A lap later it is where it was.
    expect(paths[0].station_m[150]).toBeCloseTo(paths[0].station_m[50], 3)
  })

  it('says how much slower one car may be', () => {
    const cars = [car('a', 100), car('b', 100)]
    // At 10 s apart 7 may be lost in four laps: less than 2 % of a lap each, and 1 % is none too much.
    const slack = slackOf(plan, cars, 10)
    expect(slack).toMatchObject({ slowId: 'a', catch: { behindId: 'b', aheadId: 'a' } })
    expect(slack.share).toBeCloseTo(0.01, 6)
    expect(slackOf(plan, cars, 60)).toEqual({ share: 0.1, slowId: null, catch: null })
    expect(slackOf(plan, [], 10)).toEqual({ share: 0.1, slowId: null, catch: null })
  })
})

describe('the lap that a driver is expected to need', () => {
  it('follows how past drives were to their plans, and is unknown without any', () => {
    expect(predictedLap_s(100, [])).toBeNull()
    expect(predictedLap_s(100, [{ best_s: 110, plan_s: 100 }])).toBeCloseTo(110)
    const past = [
      { best_s: 108, plan_s: 100 },
      { best_s: 66, plan_s: 60 },
      { best_s: 300, plan_s: 100 },
    ]
    // The third was no lap in earnest; the others took 8 and 10 % more.
    expect(predictedLap_s(120, past)).toBeCloseTo(120 * 1.09)
  })
})
