import { describe, expect, it } from 'vitest'
import { demoPlan, vehicle } from '../../fixtures/load.ts'
import { randomPlans } from '../../fixtures/random-plans.ts'
import { distanceAhead, stationIndex } from '../circuit/station.ts'
import { shiftPoints } from '../corner-numbers/corner-metrics.ts'
import { type Mark, markOf } from '../marks/mark.ts'
import type { Plan } from './plan.ts'
import { lowestGear } from './plan-gears.ts'

/** Places of changes down between two marks of a corner. */
const changesDown = (plan: Plan, from: Mark | undefined, to: Mark | undefined): number[] => {
  if (!from || !to) return []
  const { length_m } = plan.circuit
  const reach_m = distanceAhead(from.station_m, to.station_m, length_m)
  return shiftPoints(plan)
    .filter((s) => s.to < s.from)
    .map((s) => distanceAhead(from.station_m, s.station_m, length_m))
    .filter((at_m) => at_m > plan.circuit.step_m / 2 && at_m <= reach_m && reach_m < length_m / 2)
}

describe('gears of a plan', () => {
  it('change down before the turn-in in the straight style, by the slowest point in the others (random plans)', () => {
    let corners = 0
    for (const plan of randomPlans(31, 60)) {
      for (const { id } of plan.corners) {
        const mark = (kind: Mark['kind']) => markOf(plan.marks, id, kind)
        const done = mark(plan.settings.school === 'straight' ? 'turn-in' : 'slowest')
        const exit = mark('exit')
        const nextBrake = plan.marks
          .filter((m) => m.cornerId !== id && (m.kind === 'brake' || m.kind === 'lift'))
          .map((m) => distanceAhead(done?.station_m ?? 0, m.station_m, plan.circuit.length_m))
        // In linked corners the next braking begins before this exit: its own changes down are that corner's.
        const linked = exit && done && nextBrake.some((at_m) => at_m < distanceAhead(done.station_m, exit.station_m, plan.circuit.length_m))
        if (linked) continue
        expect(changesDown(plan, done, exit), `${plan.circuit.name} ${plan.vehicle.id} ${id}`).toEqual([])
        corners++
      }
    }
    expect(corners).toBeGreaterThan(150)
  })

  it('never go below the lowest gear, which is second for cars and can be set', () => {
    const car = demoPlan({ pace: 0.45, surface: 'wet' })
    expect(Math.min(...car.profile.gear)).toBe(2)
    const first = demoPlan({ pace: 0.45, surface: 'wet', lowestGear: 1 })
    expect(Math.min(...first.profile.gear)).toBe(1)
    expect(Math.min(...demoPlan({ lowestGear: 3 }).marks.map((m) => m.gear))).toBe(3)
    expect(lowestGear(vehicle('kart'), 3)).toBe(1)
    expect(lowestGear(vehicle('motorcycle'), undefined)).toBe(1)
  })

  it('stay the same while a motorcycle leans', () => {
    const plan = demoPlan({ pace: 0.85, school: 'trail' }, 'motorcycle')
    const lean = (i: number): number => Math.abs(Math.atan((plan.profile.speed_mps[i] ** 2 * plan.line.kappa_1pm[i]) / 9.80665))
    const shifts = shiftPoints(plan)
    expect(shifts.length).toBeGreaterThan(4)
    for (const { station_m } of shifts) {
      const i = stationIndex(plan.circuit, station_m)
      const before = (i - 1 + plan.circuit.count) % plan.circuit.count
      expect(Math.min(lean(i), lean(before)), `at ${Math.round(station_m)} m`).toBeLessThan((20 * Math.PI) / 180)
    }
  })

  it('are the same in the profile, at the marks and among the changes', () => {
    for (const id of ['hatchback', 'motorcycle', 'single-seater']) {
      const plan = demoPlan({ school: 'blend' }, id)
      for (const mark of plan.marks) expect(mark.gear).toBe(plan.profile.gear[stationIndex(plan.circuit, mark.station_m)])
    }
  })
})
