import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { demoVenuePlan, vehicles } from '../../fixtures/load.ts'
import { atStation, isWithin, signedDistance } from '../circuit/station.ts'
import { cornerMetrics } from '../corner-numbers/corner-metrics.ts'
import { neededRunOffs } from '../corner-numbers/safety.ts'
import { markOf } from '../marks/mark.ts'
import { lineInUse, placeCones } from './placement.ts'
import { type ConeColour, coneColours, coneSchemes } from './scheme.ts'
import { shareCones } from './share.ts'
import { coneWorth, fitStock } from './stock.ts'

const plan = demoVenuePlan({ pace: 0.6 })
const numbers = cornerMetrics(plan)
const scheme = fc.constantFrom(...coneSchemes)

describe('placement, whatever is asked (seed 71)', () => {
  it('keeps every computed cone out of every wheel path and of needed run-off', () => {
    const runOffs = neededRunOffs(plan)
    fc.assert(
      fc.property(
        scheme,
        fc.double({ min: 0, max: 0.8, noNaN: true }),
        fc.double({ min: 0.2, max: 3, noNaN: true }),
        fc.subarray(vehicles.map((v) => v.id)),
        (wanted, reaction_s, clearance_m, ids) => {
          const lines = ids.map((id) => lineInUse(demoVenuePlan({ pace: 0.6 }, id)))
          const { cones, unplaced } = placeCones(plan, wanted, { reaction_s, clearance_m, lines })
          expect(cones.length + unplaced.length).toBeGreaterThan(15)
          for (const cone of cones)
            for (const line of [lineInUse(plan), ...lines]) {
              const away_m = Math.abs(cone.offset_m - atStation(plan.circuit, line.offset_m, cone.station_m))
              expect(away_m).toBeGreaterThanOrEqual(line.halfWidth_m + clearance_m - 1e-6)
            }
          for (const cone of cones.filter((c) => c.cornerId !== ''))
            for (const r of runOffs)
              expect(r.side === cone.roadSide && isWithin(cone.station_m, r.from_m, r.to_m, plan.circuit.length_m)).toBe(false)
        },
      ),
      { seed: 71, numRuns: 40 },
    )
  })

  it('lets a nudge move its own group alone, by just so much', () => {
    const all = placeCones(plan, coneSchemes[0]).cones
    const groups = [...new Set(all.filter((c) => c.cornerId !== '').map((c) => c.groupId))]
    fc.assert(
      fc.property(fc.constantFrom(...groups), fc.double({ min: -15, max: 15, noNaN: true }), (groupId, along_m) => {
        const { cones } = placeCones(plan, coneSchemes[0], { edits: { nudges: { [groupId]: { along_m, across_m: 0 } }, locks: {} } })
        for (const cone of cones) {
          const before = all.find((c) => c.id === cone.id)
          const moved_m = signedDistance(before?.station_m ?? 0, cone.station_m, plan.circuit.length_m)
          expect(moved_m).toBeCloseTo(cone.groupId === groupId ? along_m : 0, 6)
          expect(cone.computed.station_m).toBeCloseTo(before?.station_m ?? 0, 6)
        }
      }),
      { seed: 71, numRuns: 40 },
    )
  })
})

describe('stock, whatever there is (seed 72)', () => {
  const { cones } = placeCones(plan, coneSchemes[0])
  const colours = Object.keys(coneColours) as ConeColour[]

  it('is never overdrawn, and what is left out is worth no more than what is laid of its colour', () => {
    fc.assert(
      fc.property(fc.dictionary(fc.constantFrom(...colours), fc.nat({ max: 25 })), (stock) => {
        const fitted = fitStock(cones, stock, numbers)
        for (const colour of colours) {
          const laid = fitted.cones.filter((c) => c.colour === colour)
          const owned = stock[colour]
          if (owned === undefined) expect(laid).toHaveLength(cones.filter((c) => c.colour === colour).length)
          else expect(laid.length).toBeLessThanOrEqual(owned)
          const leastLaid = Math.min(...laid.map((c) => coneWorth(c, numbers)))
          for (const d of fitted.dropped.filter((d) => d.colour === colour)) expect(d.worth).toBeLessThanOrEqual(leastLaid + 1e-9)
        }
        for (const d of fitted.dropped) expect(fitted.cones.some((c) => c.groupId === d.groupId)).toBe(false)
        const gone = fitted.dropped.reduce((sum, d) => sum + d.count, 0)
        expect(gone + fitted.cones.length).toBe(cones.length)
      }),
      { seed: 72, numRuns: 100 },
    )
  })
})

describe('one set for several, whoever they are (seed 73)', () => {
  const ids = vehicles.filter((v) => v.kind === 'car').map((v) => v.id)
  const served = fc.array(
    fc.record({ id: fc.constantFrom(...ids), pace: fc.constantFrom(0.45, 0.6, 0.75), reaction_s: fc.constantFrom(0, 0.25, 0.5) }),
    { minLength: 1, maxLength: 4 },
  )

  it('never asks anybody to brake before the cone, and in any order says the same', () => {
    fc.assert(
      fc.property(served, (list) => {
        const people = list.map(({ id, pace, reaction_s }, i) => ({ label: String(i), plan: demoVenuePlan({ pace }, id), reaction_s }))
        const groups = shareCones(people, coneSchemes[0])
        for (const group of groups.filter((g) => g.kind === 'brake')) {
          for (const [i, person] of people.entries()) {
            const mark = markOf(person.plan.marks, group.cornerId, 'brake')
            const { wait_s, off_m } = group.audience[i]
            if (!mark) expect(wait_s).toBeNull()
            else {
              expect(off_m).toBeLessThanOrEqual(1e-6)
              expect(wait_s).toBeGreaterThanOrEqual(0)
              // The wait is the time over the metres at about the speed there.
              expect(wait_s).toBeCloseTo(-(off_m ?? 0) / mark.speed_mps, 0)
            }
          }
        }
        const turned = shareCones([...people].reverse(), coneSchemes[0])
        for (const group of groups) {
          const same = turned.find((g) => g.groupId === group.groupId)
          expect(same?.station_m).toBeCloseTo(group.station_m, 6)
          expect(same?.fits).toBe(group.fits)
        }
      }),
      { seed: 73, numRuns: 40 },
    )
  })
})
