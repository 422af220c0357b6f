import { readFileSync } from 'node:fs'
import { buildCircuit, cornerMetrics, makePlan, makeVenue, type PlanSettings, readCircuit, type Vehicle } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { lossByCorner } from './compare.tsx'
import { cornersCsv } from './corner-table.tsx'
import { stripsAgainst, stripsOf } from './layers.ts'

const demo = (file: string): string => readFileSync(new URL(`../../../../../demo/${file}`, import.meta.url), 'utf8')
const venue = makeVenue(buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'Ostrel Mere')), { cornerNames: { T1: '=Boathouse' } })
const car = (JSON.parse(demo('vehicles.json')) as Vehicle[])[0]
const planAt = (change: Partial<PlanSettings> = {}) => makePlan(venue, car, { surface: 'dry', pace: 0.6, school: 'straight', ...change })
const plan = planAt()

describe('two set-ups compared', () => {
  it('share out the whole difference of the laps among the corners', () => {
    const wet = planAt({ surface: 'wet' })
    const losses = lossByCorner(plan, wet)
    const sum = losses.reduce((total, l) => total + l.loss_s, 0)
    // Sections meet at stations, so that a hundredth or two is lost to rounding.
    expect(Math.abs(sum - (wet.profile.lapTime_s - plan.profile.lapTime_s))).toBeLessThan(0.3)
    expect(losses.every((l) => l.loss_s > 0)).toBe(true)
    expect(lossByCorner(plan, plan).every((l) => l.loss_s === 0)).toBe(true)
  })
})

describe('strips of a comparison', () => {
  it('show the other speed and how far behind it is, from nothing at the start line', () => {
    const wet = planAt({ surface: 'wet' })
    const [speed, behind] = stripsAgainst(plan, wet)
    expect(speed.column).toBe(wet.profile.speed_mps)
    expect(behind.column[0]).toBe(0)
    const last = plan.circuit.count - 1
    expect(behind.column[last]).toBeCloseTo(wet.profile.time_s[last] - plan.profile.time_s[last], 9)
    expect(behind.range).toMatch(/up to \+\d+\.\d\d s/)
  })
})

describe('the table of corners', () => {
  it('is a CSV with a row a corner, and no name runs as a formula', () => {
    const rows = cornersCsv(plan, cornerMetrics(plan)).trimEnd().split('\n')
    expect(rows).toHaveLength(12)
    expect(rows[0].split(',')).toContain('price_s_per_mps')
    expect(rows[1]).toContain("'=Boathouse")
    expect(cornersCsv(plan, undefined).split('\n')[1]).toContain(',,')
  })
})

describe('strips under the band', () => {
  it('come in their order, sight only once it is computed for this circuit', () => {
    expect(stripsOf(plan, undefined, ['sight', 'bank', 'speed']).map((s) => s.id)).toEqual(['speed', 'bank'])
    const sight_m = new Float64Array(plan.circuit.count).fill(80)
    expect(stripsOf(plan, { corners: [], shifts: [], sight_m }, ['sight'])[0].range).toContain('80 m or more')
    expect(stripsOf(plan, { corners: [], shifts: [], sight_m: new Float64Array(3) }, ['sight'])).toEqual([])
    expect(stripsOf(plan, undefined, ['grip'])[0].range).toMatch(/up to 6\d%/)
  })
})
