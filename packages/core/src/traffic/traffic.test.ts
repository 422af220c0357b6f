import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { planTimeAt, planTimeBetween } from '../plan/lap-time.ts'
import { lineSign } from './board-and-flag.ts'
import { gapsOnTrack, type TrackCar } from './gaps.ts'
import { meetings } from './meeting.ts'
import { planRelease, type Released, releaseConflict } from './release.ts'
import { lapOfRotation, openStretches, rotationLength, rotationPlaces, rotationTable } from './rotation.ts'
import { turnsTaken } from './row-turns.ts'

const plan = demoPlan({ pace: 0.6 })
const lap_s = plan.profile.lapTime_s
const car = (id: string, station_m: number, lapTime_s = lap_s, lap = 1): TrackCar => ({ id, station_m, lap, lapTime_s })

describe('gaps', () => {
  it('add up to a lap', () => {
    const cars = [car('a', 100), car('b', 900), car('c', 2000)]
    const gaps = gapsOnTrack(plan, cars)
    expect(gaps.reduce((sum, g) => sum + g.gap_s, 0)).toBeCloseTo(lap_s, 6)
    expect(gaps.reduce((sum, g) => sum + g.gap_m, 0)).toBeCloseTo(plan.circuit.length_m, 6)
    expect(gaps.find((g) => g.id === 'c')?.aheadId).toBe('a')
  })

  it('are the plan’s own times, longer for a slower car, over the line too', () => {
    const [gap] = gapsOnTrack(plan, [car('a', plan.circuit.length_m - 30, 2 * lap_s), car('b', 60)])
    expect(gap.id).toBe('a')
    const own_s = lap_s - planTimeAt(plan, plan.circuit.length_m - 30) + planTimeAt(plan, 60)
    expect(gap.gap_s).toBeCloseTo(2 * own_s, 6)
    expect(planTimeBetween(plan, plan.circuit.length_m - 30, 60)).toBeCloseTo(own_s, 6)
    expect(gapsOnTrack(plan, [car('a', 5)])).toEqual([])
  })
})

describe('who catches whom', () => {
  it('agrees with driving both on, step by step', () => {
    const [quick, slow] = [car('quick', 200, 0.96 * lap_s), car('slow', 700, 1.03 * lap_s)]
    const [first] = meetings(plan, [quick, slow])
    let [a, b] = [planTimeAt(plan, 200), planTimeAt(plan, 700)]
    let in_s = 0
    while (((b - a) * quick.lapTime_s) / lap_s > 3) {
      a += (0.01 * lap_s) / quick.lapTime_s
      b += (0.01 * lap_s) / slow.lapTime_s
      in_s += 0.01
    }
    expect(first).toMatchObject({ behindId: 'quick', aheadId: 'slow', lap: 1 + Math.floor(a / lap_s) })
    expect(Math.abs(first.in_s - in_s)).toBeLessThan(0.05)
    expect(Math.abs(planTimeAt(plan, first.station_m) - (a % lap_s))).toBeLessThan(0.2)
  })

  it('is at once where they are too near, and never where the one ahead is quicker', () => {
    expect(meetings(plan, [car('a', 100), car('b', 130)])[0]).toMatchObject({ behindId: 'a', in_s: 0 })
    expect(meetings(plan, [car('a', 100, 1.05 * lap_s), car('b', 400, lap_s)], { within_s: 300 })).toEqual([])
  })
})

describe('rotation', () => {
  it('as it is driven, place by place, gives turns within half a lap of what the table promises', () => {
    for (let k = 2; k <= 6; k++)
      for (let laps = 4; laps <= 20; laps++)
        for (const share of [0.1, 0.45, 0.55, 0.9]) {
          const names = ['a', 'b', 'c', 'd', 'e', 'f'].slice(0, k)
          const table = rotationTable(names, laps, laps >= 2 * k ? 2 : 1)
          // The row changes where the place lies, by the row that is wanted there; a place passed on the out lap changes nothing yet.
          const driven = new Map(names.map((name) => [name, 0]))
          const drives = (name: string, by: number): void => void driven.set(name, (driven.get(name) ?? 0) + by)
          let first = names[0]
          for (let lap = 1; lap <= laps; lap++) {
            drives(first, share)
            first = table.find((t) => t.lap === lapOfRotation(lap, share))?.row[0] ?? first
            drives(first, 1 - share)
          }
          for (const name of names) {
            const promised = table.filter((t) => t.row[0] === name).length
            expect(Math.abs((driven.get(name) ?? 0) - promised), `${k} ${laps} ${share} ${name}`).toBeLessThanOrEqual(0.5 + 1e-9)
            expect(promised).toBeGreaterThanOrEqual(Math.floor(laps / k))
            expect(promised).toBeLessThanOrEqual(Math.ceil(laps / k))
          }
        }
  })

  it('as it was taken, is counted from the rows in force on each lap', () => {
    const rows = [
      { runIds: ['a', 'b', 'c'], lap: 1 },
      { runIds: ['b', 'c', 'a'], lap: 3 },
      { runIds: ['c', 'a', 'b'], lap: 4 },
    ]
    expect(turnsTaken(rows, 6)).toEqual([
      { runId: 'a', laps: 2 },
      { runId: 'b', laps: 1 },
      { runId: 'c', laps: 3 },
    ])
    expect(turnsTaken([], 6)).toEqual([])
  })

  it('gives everybody equal turns directly behind, for any row and any number of laps', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 6 }), fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 3 }), (k, laps, every) => {
        const names = ['a', 'b', 'c', 'd', 'e', 'f'].slice(0, k)
        const rows = rotationTable(names, laps, every)
        expect(rows.map((r) => r.lap)).toEqual(Array.from({ length: laps }, (_, i) => i + 1))
        const turns = names.map((name) => rows.filter((r) => r.row[0] === name).length)
        expect(Math.max(...turns) - Math.min(...turns)).toBeLessThanOrEqual(1)
        for (const { row } of rows) expect([...row].sort()).toEqual(names)
      }),
    )
  })

  it('gives turns that are driven as the table says, within half a lap, wherever the rotation place lies', () => {
    for (let k = 2; k <= 5; k++)
      for (let laps = 4; laps <= 20; laps++)
        for (const share of [0, 0.1, 0.3, 0.49, 0.51, 0.8, 0.99]) {
          const names = ['a', 'b', 'c', 'd', 'e', 'f'].slice(0, k)
          const table = rotationTable(names, laps, laps >= 2 * k ? 2 : 1)
          const driven = new Map(names.map((name) => [name, 0]))
          let first = table[0].row[0]
          // Each lap in two parts: before its rotation place, and after it.
          for (let lap = 1; lap <= laps; lap++) {
            driven.set(first, (driven.get(first) ?? 0) + share)
            const wanted = table.find((t) => t.lap === lapOfRotation(lap, share))
            if (wanted) first = wanted.row[0]
            driven.set(first, (driven.get(first) ?? 0) + 1 - share)
          }
          for (const name of names) {
            const promised = table.filter((t) => t.row[0] === name).length
            expect(Math.abs((driven.get(name) ?? 0) - promised), `${k} ${laps} ${share} ${name}`).toBeLessThanOrEqual(0.5 + 1e-9)
          }
        }
  })

  it('rotates by one, the first to the end', () => {
    const rows = rotationTable(['a', 'b', 'c'], 6, 2)
    expect(rows.map((r) => r.row.join(''))).toEqual(['abc', 'abc', 'bca', 'bca', 'cab', 'cab'])
    expect(() => rotationTable(['a'], 4)).toThrow(expect.objectContaining({ code: 'rotation-size' }))
  })

  it('needs the road that driving it takes', () => {
    // Two cars 40 m and 80 m behind, as particles: the first drops back at 8 m/s less until both are by.
    const going = 20
    let yielding = 0
    let lastOne = -(40 + 6 + 80 + 6)
    let travelled = 0
    while (lastOne < yielding) {
      yielding += (going - 8) * 0.001
      lastOne += going * 0.001
      travelled += going * 0.001
    }
    expect(Math.abs(rotationLength(going, [40, 80]) - travelled)).toBeLessThan(0.5)
  })

  it('finds stretches without corner or braking, and a speed at which the row fits', () => {
    const stretches = openStretches(plan)
    expect(stretches.length).toBeGreaterThan(2)
    for (const { from_m, length_m } of stretches)
      for (let d = 0; d < length_m; d += 5) {
        const i = Math.floor(((from_m + d) % plan.circuit.length_m) / plan.circuit.step_m)
        expect(plan.profile.ax_mps2[i]).toBeGreaterThan(-0.5)
      }
    const few = rotationPlaces(plan, 1, 1.5)
    const many = rotationPlaces(plan, 4, 1.5)
    expect(few.length).toBeGreaterThanOrEqual(many.length)
    for (const place of [...few, ...many]) expect(place.needed_m).toBeLessThanOrEqual(place.length_m)
  })
})

describe('release', () => {
  const drivers = fc.array(fc.record({ lap: fc.integer({ min: 95, max: 130 }), laps: fc.integer({ min: 1, max: 5 }) }), {
    minLength: 2,
    maxLength: 5,
  })
  const asReleased = (list: { lap: number; laps: number }[]): Released[] =>
    list.map(({ lap, laps }, k) => ({ id: `c${k}`, lapTimes_s: Array.from({ length: laps }, () => lap) }))

  it('keeps every gap at every line of every lap, or says where it does not', () => {
    fc.assert(
      fc.property(drivers, (list) => {
        const cars = asReleased(list)
        const { order, interval_s, conflict } = planRelease(cars)
        expect([...order].sort()).toEqual(cars.map((c) => c.id).sort())
        // Brute force over the road: positions every 0.5 s, as shares of a lap.
        const starts = new Map(order.map((id, k) => [id, k * interval_s]))
        const share = (one: Released, t: number): number | null => {
          const own = t - (starts.get(one.id) ?? 0)
          const total = one.lapTimes_s.length * one.lapTimes_s[0]
          return own < 0 || own > total ? null : own / one.lapTimes_s[0]
        }
        let worst = Number.POSITIVE_INFINITY
        for (let t = 0; t < 700; t += 0.5)
          for (const a of cars)
            for (const b of cars) {
              const [sa, sb] = [share(a, t), share(b, t)]
              if (a === b || sa === null || sb === null) continue
              const ahead = (((sb - sa) % 1) + 1) % 1
              worst = Math.min(worst, ahead * a.lapTimes_s[0])
            }
        // Between lines a gap lies between its values at them; steps of 0.5 s and unequal laps blur it a little.
        if (conflict === null) expect(worst).toBeGreaterThan(2.2)
      }),
      { numRuns: 60 },
    )
  })

  it('lets the quickest go first, so that gaps open', () => {
    const cars = [
      { id: 'slow', lapTimes_s: [120, 120] },
      { id: 'quick', lapTimes_s: [105, 105] },
    ]
    expect(planRelease(cars)).toEqual({ order: ['quick', 'slow'], interval_s: 10, conflict: null })
    expect(releaseConflict(cars, 10)).toMatchObject({ behindId: 'quick', aheadId: 'slow', lap: 1 })
  })

  it('says who meets whom where no interval helps', () => {
    const cars = Array.from({ length: 12 }, (_, k) => ({ id: `c${k}`, lapTimes_s: Array.from({ length: 6 }, () => 90 + 4 * k) }))
    expect(planRelease(cars).conflict).not.toBeNull()
  })
})

describe('board and flag', () => {
  it('come as the last timed lap begins and ends, by the car’s own laps', () => {
    const half = plan.circuit.s_m[plan.profile.time_s.findIndex((t) => t >= lap_s / 2)]
    // Half a lap to go, and two whole ones before the last begins.
    expect(lineSign(plan, car('4', half, 100, 0), 3)).toMatchObject({ sign: 'board', in_s: expect.closeTo(250, 0) })
    expect(lineSign(plan, car('4', half, 100, 2), 3)).toMatchObject({ sign: 'board', in_s: expect.closeTo(50, 0) })
    expect(lineSign(plan, car('4', half, 100, 3), 3)).toMatchObject({ sign: 'flag', in_s: expect.closeTo(50, 0) })
    expect(lineSign(plan, car('4', half, 100, 4), 3)).toBeNull()
  })
})
