import { describe, expect, it } from 'vitest'
import { demoPlan, fixtureCircuit, gripOnly, vehicle } from '../../fixtures/load.ts'
import { buildCircuit } from '../circuit/build-circuit.ts'
import type { Circuit } from '../circuit/circuit.ts'
import type { GroundItem } from '../circuit/ground.ts'
import { distanceAhead, stationIndex } from '../circuit/station.ts'
import { makeVenue } from '../circuit/venue.ts'
import { markOf } from '../marks/mark.ts'
import { centreLine } from '../path/line.ts'
import { makePlan, planOnLine } from '../plan/make-plan.ts'
import type { PlanSettings } from '../plan/plan.ts'
import { solveProfile } from '../profile/solve-profile.ts'
import { GRAVITY_MPS2 as g } from '../units/constants.ts'
import { cornerMetrics, cornerRemarks, cornerWarnings, shiftPoints } from './corner-metrics.ts'
import { runOffFriction } from './safety.ts'
import { lookFrom, sightAhead, sightOfMarks } from './sight.ts'
import { cornerWorth } from './worth.ts'

const stadium = fixtureCircuit('stadium.csv')
const car = gripOnly({ power_W: 150_000, maxDriveForce_N: 9000 })
const settings: PlanSettings = { surface: 'dry', pace: 0.6, school: 'straight' }
const stadiumPlan = (change: Partial<PlanSettings> = {}, ground: GroundItem[] = []) =>
  planOnLine({ ...makeVenue(stadium), ground }, car, { ...settings, ...change }, centreLine(stadium))

describe('what a corner is for', () => {
  it('has the price that a whole new profile with a capped exit finds', () => {
    const plan = demoPlan({ pace: 0.75 })
    for (const { cornerId, price_spmps } of cornerWorth(plan)) {
      const k = plan.corners.findIndex((c) => c.id === cornerId)
      const exit = plan.turnings[k].exit
      if (exit === null) continue
      const cap_mps = new Float64Array(plan.circuit.count).fill(Number.POSITIVE_INFINITY)
      cap_mps[exit] = plan.profile.speed_mps[exit] - 1
      const capped = solveProfile(plan.circuit, plan.line, plan.vehicle, { grip: [...plan.grip], cap_mps })
      let until = exit
      // Up to where both drive alike again, or the brake comes.
      while (plan.profile.ax_mps2[until] > -0.5 && until !== (exit + 700) % plan.circuit.count) until = (until + 1) % plan.circuit.count
      const time = (p: typeof capped): number => (p.time_s[until] - p.time_s[exit] + p.lapTime_s) % p.lapTime_s
      expect(Math.abs(time(capped) - time(plan.profile) - price_spmps)).toBeLessThan(0.004)
    }
  })

  it('ranks by price, and finds the exits before the longest straights worth most', () => {
    const worth = cornerWorth(demoPlan({ pace: 0.85 }))
    const ranked = [...worth].sort((a, b) => a.rank - b.rank)
    for (let i = 1; i < ranked.length; i++) expect(ranked[i].price_spmps).toBeLessThanOrEqual(ranked[i - 1].price_spmps)
    expect(ranked.slice(0, 3).map((w) => w.cornerId)).toContain('T11')
    expect(worth.find((w) => w.cornerId === 'T10')?.purpose).toBe('give-up')
  })

  it('counts the entry as the textbook does: 5 m at the lower instead of the higher speed', () => {
    const plan = stadiumPlan()
    const [brake, release] = [markOf(plan.marks, 'T1', 'brake'), markOf(plan.marks, 'T1', 'release')]
    expect(cornerWorth(plan)[0].entryGain_s).toBeCloseTo(5 / (release?.speed_mps ?? 1) - 5 / (brake?.speed_mps ?? 1), 9)
  })
})

describe('grace', () => {
  it('ends where the speed of a kept throttle meets the last braking curve, as found in steps of a centimetre', () => {
    const plan = stadiumPlan()
    const [numbers] = cornerMetrics(plan)
    const [brake, turnIn] = [markOf(plan.marks, 'T1', 'brake'), markOf(plan.marks, 'T1', 'turn-in')]
    if (!brake || !turnIn || !numbers.grace) throw new Error('No braking zone')
    const there = distanceAhead(brake.station_m, turnIn.station_m, stadium.length_m)
    let u = brake.speed_mps ** 2
    let along_m = 0
    while (u < turnIn.speed_mps ** 2 + 2 * 0.9 * g * (there - along_m)) {
      u += (2 * 0.01 * Math.min(car.power_W / Math.sqrt(u), car.maxDriveForce_N)) / car.mass_kg
      along_m += 0.01
    }
    expect(Math.abs(numbers.grace.metres_m - along_m)).toBeLessThan(1.5)
    // A speed that did not grow would leave more: the unsafe reading.
    expect(there - (brake.speed_mps ** 2 - turnIn.speed_mps ** 2) / (2 * 0.9 * g)).toBeGreaterThan(along_m + 1)
    expect(numbers.grace.time_s).toBeCloseTo(numbers.grace.metres_m / brake.speed_mps, 9)
  })

  it('shrinks with pace, is remarked on below half a second and warned of below a quarter', () => {
    const at = (pace: number) => cornerMetrics(stadiumPlan({ pace }))[0]
    const graces = [0.45, 0.6, 0.75, 0.85].map((pace) => at(pace).grace?.time_s ?? 0)
    for (let i = 1; i < graces.length; i++) expect(graces[i]).toBeLessThan(graces[i - 1])
    const numbers = at(0.85)
    const withGrace = (time_s: number) => ({ ...numbers, grace: { metres_m: 40 * time_s, time_s } })
    expect(cornerWarnings(withGrace(0.24))).toContain('little-grace')
    expect(cornerRemarks(withGrace(0.24))).toEqual([])
    expect(cornerWarnings(withGrace(0.3))).not.toContain('little-grace')
    expect(cornerRemarks(withGrace(0.3))).toEqual(['tight-grace'])
    expect(cornerRemarks(withGrace(0.5))).toEqual([])
  })
})

describe('the straight-on check', () => {
  const runOff = (length_m: number, surface: 'gravel' | 'grass' = 'gravel'): GroundItem => ({
    id: 'run-off',
    kind: 'run-off',
    name: 'Run-off',
    side: 'right',
    from_m: 250,
    to_m: 420,
    runOff: { surface, length_m },
  })
  const first = (ground: GroundItem[], change: Partial<PlanSettings> = {}) => {
    const found = cornerMetrics(stadiumPlan({ pace: 0.75, ...change }, ground))[0].straightOn
    if (!found) throw new Error('No check')
    return found
  }

  it('stops by the energy that is left: late brakes, road, then run-off', () => {
    const { cases, toEdge_m } = first([runOff(60)])
    for (const { turnInSpeed_mps, edgeSpeed_mps, needs_m } of cases) {
      const edge = Math.sqrt(Math.max(0, turnInSpeed_mps ** 2 - 2 * 0.9 * car.muX * g * toEdge_m))
      expect(edgeSpeed_mps).toBeCloseTo(edge, 6)
      expect(needs_m).toBeCloseTo(edge ** 2 / (2 * g * runOffFriction.gravel.dry), 6)
    }
    expect(cases[0].turnInSpeed_mps).toBeLessThan(cases[1].turnInSpeed_mps)
  })

  it('brakes no harder than the brakes can, on the road and off it', () => {
    // The hire kart of the fault: 6.5 m/s² on paper, 5.85 at 0.9 of it, whatever the surface offers.
    const weak = gripOnly({ power_W: 60_000, maxDriveForce_N: 5000, maxBrake_mps2: 6.5 })
    const ground = [{ ...runOff(60), runOff: { surface: 'asphalt' as const, length_m: 60 } }]
    const plan = planOnLine({ ...makeVenue(stadium), ground }, weak, { ...settings, pace: 0.75 }, centreLine(stadium))
    const found = cornerMetrics(plan)[0].straightOn
    for (const { turnInSpeed_mps, edgeSpeed_mps, needs_m } of found?.cases ?? []) {
      expect(edgeSpeed_mps).toBeCloseTo(Math.sqrt(Math.max(0, turnInSpeed_mps ** 2 - 2 * 5.85 * (found?.toEdge_m ?? 0))), 6)
      expect(needs_m).toBeCloseTo(edgeSpeed_mps ** 2 / (2 * 5.85), 6)
    }
    expect(found?.cases.some((c) => c.edgeSpeed_mps > 0)).toBe(true)
  })

  it('keeps the throttle until the late brakes come: faster at the turn-in than at the speed of the brake point', () => {
    const plan = stadiumPlan({ pace: 0.75 }, [runOff(60)])
    const [brake, turnIn] = [markOf(plan.marks, 'T1', 'brake'), markOf(plan.marks, 'T1', 'turn-in')]
    if (!brake || !turnIn) throw new Error('No braking zone')
    const there = distanceAhead(brake.station_m, turnIn.station_m, stadium.length_m)
    const [half] = first([runOff(60)]).cases
    const steady = Math.sqrt(brake.speed_mps ** 2 - 2 * 0.9 * g * (there - 0.5 * brake.speed_mps))
    expect(half.turnInSpeed_mps).toBeGreaterThan(steady + 0.3)
  })

  it('gives no verdict without a run-off, and a worse one on grass and in the wet', () => {
    expect(first([]).cases[2].stops).toBeNull()
    const need = (list: GroundItem[], change: Partial<PlanSettings> = {}): number => first(list, change).cases[2].needs_m
    expect(need([runOff(60, 'grass')])).toBeGreaterThan(need([runOff(60)]))
    expect(need([runOff(60, 'grass')], { surface: 'wet', pace: 0.75 })).toBeGreaterThan(0)
  })

  it('names a shift of the brake point and a pace that cure it, and they do', () => {
    // Just short of what the case of one second late needs.
    const needed = first([runOff(60)], { pace: 0.85 }).cases[1].needs_m
    expect(needed).toBeGreaterThan(2)
    const ground = [runOff(needed * 0.6)]
    const { cases, mitigation } = first(ground, { pace: 0.85 })
    expect(cases[1].stops).toBe(false)
    expect(cornerWarnings(cornerMetrics(stadiumPlan({ pace: 0.85 }, ground))[0])).toContain('no-room-straight-on')
    expect(mitigation?.brakeEarlier_m).toBeGreaterThan(0)
    expect((mitigation?.brakeEarlier_m ?? 0) % 5).toBe(0)
    expect(mitigation?.pace).toBeLessThan(0.85)
    expect(first(ground, { pace: mitigation?.pace ?? 0 }).cases[1].stops).not.toBe(false)
  })
})

describe('sight', () => {
  /** The stadium with a hump of some height on its first straight. */
  const humped = (height_m: number): Circuit => ({
    ...stadium,
    z_m: stadium.z_m.map((_, i) => height_m * Math.exp(-(((stadium.s_m[i] - 150) / 25) ** 2))),
  })
  const ahead = (circuit: Circuit, ground: GroundItem[] = []): number =>
    sightAhead({ circuit, line: centreLine(stadium), ground })[stationIndex(circuit, 90)]

  it('reaches over flat ground, and ends behind a crest that is higher than the eye', () => {
    expect(ahead(humped(0))).toBeGreaterThan(350)
    expect(ahead(humped(0.3))).toBeGreaterThan(350)
    expect(ahead(humped(3))).toBeLessThan(110)
  })

  it('ends at an inside verge that is marked as blocking', () => {
    const [corner] = makeVenue(stadium).corners
    const blind: GroundItem = { id: 'b', kind: 'blind', name: 'Hedge', side: 'left', from_m: corner.start_m, to_m: corner.end_m }
    const from = stationIndex(stadium, corner.start_m + 25)
    const place = { circuit: stadium, line: centreLine(stadium) }
    const open = sightAhead({ ...place, ground: [] })[from]
    const blocked = sightAhead({ ...place, ground: [blind] })[from]
    // A chord that touches the inner verge of radius R − w spans 2·√(R² − (R − w)²) of a circle.
    const w = stadium.widthLeft_m[from] + 0.5
    const expected = 2 * 60 * Math.acos((60 - w) / 60)
    expect(open).toBeGreaterThan(expected + 20)
    expect(Math.abs(blocked - expected)).toBeLessThan(6)
  })

  it('says for how long a mark is seen, less on a crest, and warns', () => {
    const plan = demoPlan({ pace: 0.85 })
    const sights = sightOfMarks(plan)
    expect(sights).toHaveLength(plan.marks.length)
    const hidden = sights.filter((s) => !s.enough)
    expect(hidden.every((s) => s.cornerId === 'T3')).toBe(true)
    expect(hidden.length).toBeGreaterThan(0)
  })
})

describe('where to look', () => {
  it('is a mark three to six seconds ahead, or the line four seconds ahead', () => {
    const plan = demoPlan({ pace: 0.75 })
    for (let s = 0; s < plan.circuit.length_m; s += 40) {
      const look = lookFrom(plan, s)
      if (look.mark) {
        expect(look.ahead_s).toBeGreaterThanOrEqual(3)
        expect(look.ahead_s).toBeLessThanOrEqual(6)
      } else expect(look.ahead_s).toBeLessThan(4.01)
    }
  })
})

describe('gears and throttle', () => {
  it('change up where the gear ends, never twice in a moment, and back to where they began', () => {
    const plan = demoPlan({ pace: 0.85 })
    const shifts = shiftPoints(plan)
    expect(shifts.length).toBeGreaterThan(6)
    shifts.forEach((shift, i) => {
      expect(shift.to).not.toBe(shift.from)
      expect(shift.from).toBe(shifts.at(i - 1)?.to)
      if (shift.to === shift.from + 1) expect(shift.engineSpeed_rpm).toBeGreaterThan(plan.vehicle.shiftEngineSpeed_rpm * 0.97)
    })
  })

  it('reach full throttle after first throttle, where power and not grip is the limit', () => {
    const plan = makePlan(makeVenue(fixtureCircuit('lobes.csv')), vehicle('hatchback'), { surface: 'dry', pace: 1, school: 'trail' })
    for (const corner of plan.corners) {
      const full = markOf(plan.marks, corner.id, 'full-throttle')
      const throttle = markOf(plan.marks, corner.id, 'throttle')
      if (!full) continue
      if (!throttle) throw new Error('Full throttle without throttle')
      expect(distanceAhead(throttle.station_m, full.station_m, plan.circuit.length_m)).toBeLessThan(300)
      const i = stationIndex(plan.circuit, full.station_m + 0.5)
      const force = Math.min(plan.vehicle.power_W / plan.profile.speed_mps[i], plan.vehicle.maxDriveForce_N) / plan.vehicle.mass_kg
      expect(plan.profile.ax_mps2[i] / force).toBeGreaterThan(0.96)
    }
    expect(plan.marks.filter((m) => m.kind === 'full-throttle').length).toBeGreaterThan(4)
  })
})

describe('a sacrifice corner', () => {
  it('is told as such even when its own exit speed carries through the next one and so has the higher price', () => {
    // Right into left, the second onto the long straight: nobody brakes between them.
    const points = [
      ...Array.from({ length: 61 }, (_, i) => [10 * i, 0] as const),
      ...Array.from(
        { length: 9 },
        (_, i) => [600 + 40 * Math.sin(((i + 1) * Math.PI) / 18), -40 + 40 * Math.cos(((i + 1) * Math.PI) / 18)] as const,
      ),
      ...Array.from(
        { length: 9 },
        (_, i) => [680 - 40 * Math.cos(((i + 1) * Math.PI) / 18), -40 - 40 * Math.sin(((i + 1) * Math.PI) / 18)] as const,
      ),
    ]
    const [x_m, y_m] = [0, 1].map((k) => Float64Array.from(points, (p) => p[k]))
    const flat = new Float64Array(points.length)
    const wide = new Float64Array(points.length).fill(6)
    const circuit = buildCircuit({
      name: 'chicane',
      x_m: Float64Array.from([...x_m, ...Array.from({ length: 60 }, (_, i) => 690 + 10 * i)]),
      y_m: Float64Array.from([...y_m, ...new Array<number>(60).fill(-80)]),
      z_m: new Float64Array(points.length + 60),
      widthLeft_m: Float64Array.from([...wide, ...new Array<number>(60).fill(6)]),
      widthRight_m: Float64Array.from([...wide, ...new Array<number>(60).fill(6)]),
      bank_rad: Float64Array.from([...flat, ...new Array<number>(60).fill(0)]),
      open: true,
    })
    const plan = makePlan(makeVenue(circuit), vehicle('hatchback'), { surface: 'dry', pace: 0.8, school: 'straight', entry_mps: 20 })
    const [first, second] = cornerWorth(plan)
    expect(plan.corners.map((c) => c.side)).toEqual(['right', 'left'])
    expect(first.price_spmps).toBeGreaterThan(0.01)
    expect(first.purpose).toBe('give-up')
    expect(second.purpose).not.toBe('give-up')
  })
})
