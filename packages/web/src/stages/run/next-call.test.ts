import { readFileSync } from 'node:fs'
import { buildCircuit, makePlan, makeVenue, markOf, phraseBooks, planCalls, readCircuit, type Vehicle } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { cornerBehind, nextCalls } from './next-call.ts'
import { placeAfter } from './use-position.ts'

const demo = (file: string): string => readFileSync(new URL(`../../../../../demo/${file}`, import.meta.url), 'utf8')
const circuit = buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'x'))
const plan = makePlan(makeVenue(circuit), (JSON.parse(demo('vehicles.json')) as Vehicle[])[0], {
  surface: 'dry',
  pace: 0.6,
  school: 'straight',
})
const sheet = planCalls(plan, phraseBooks[0], 'driven')

describe('the next call', () => {
  it('is the one whose mark comes next, with its distance and time', () => {
    const brake = markOf(plan.marks, 'T1', 'brake')
    if (!brake) throw new Error('T1 has no brake')
    const [next, after] = nextCalls(plan, sheet, brake.station_m - 60, 2)
    expect(next.call).toMatchObject({ cornerId: 'T1', kind: 'brake' })
    expect(next.toMark_m).toBeCloseTo(60, 6)
    expect(next.toMark_s).toBeCloseTo(60 / brake.speed_mps, 1)
    expect(after.toMark_s).toBeGreaterThan(next.toMark_s)
  })

  it('goes on over the start line', () => {
    const [next] = nextCalls(plan, sheet, circuit.length_m - 5, 1)
    expect(next.call).toMatchObject({ cornerId: 'T1', kind: 'brake' })
  })

  it('says “now” exactly while the words are to be spoken', () => {
    const call = sheet.calls[0]
    const at = (before_s: number): boolean => {
      let station = 0
      while (plan.profile.time_s[Math.round(station / circuit.step_m)] < call.mark_s - before_s) station += circuit.step_m
      return nextCalls(plan, sheet, station, 1)[0].now
    }
    expect(at(call.mark_s - call.start_s + 0.6)).toBe(false)
    expect(at(call.mark_s - call.start_s - 0.3)).toBe(true)
    expect(at(0.2)).toBe(false)
  })
})

describe('where the car is', () => {
  it('belongs to the corner whose apex lies behind', () => {
    const apex = (id: string): number => markOf(plan.marks, id, 'apex')?.station_m ?? 0
    expect(cornerBehind(plan, apex('T2') + 5)?.id).toBe('T2')
    expect(cornerBehind(plan, apex('T3') - 5)?.id).toBe('T2')
    expect(cornerBehind(plan, 5)?.id).toBe('T11')
  })

  it('is carried on by the plan through a silence, over the line into the next lap', () => {
    const known = (station_m: number, more = {}) => ({
      fix: { station_m, lap: 2, speed_mps: 20, time_s: 0, factor: 1, fault: null, inPits: false, ...more },
      at: 0,
    })
    const at = (s: number): number => plan.profile.time_s[Math.round(s / circuit.step_m)]
    const later = placeAfter(plan, known(1000), 5)
    expect(Math.abs(at(later.station_m) - at(1000) - 5)).toBeLessThan(0.1)
    expect(later.lap).toBe(2)
    expect(placeAfter(plan, known(1000), 0.1).station_m).toBe(1000)
    const over = placeAfter(plan, known(circuit.length_m - 20), 3)
    expect(over.station_m).toBeLessThan(200)
    expect(over.lap).toBe(3)
    expect(Math.abs(at(placeAfter(plan, known(1000, { factor: 4 }), 5).station_m) - at(1000) - 20)).toBeLessThan(0.1)
    expect(placeAfter(plan, known(1000, { inPits: true }), 50).station_m).toBe(1000)
    expect(placeAfter(plan, known(500), 2000)).toEqual({ ...placeAfter(plan, known(500), 240), silent_s: 2000 })
  })

  it('hears its calls later when it goes slower than the plan', () => {
    const [planned] = nextCalls(plan, sheet, 1000, 1)
    const speed = plan.profile.speed_mps[Math.round(1000 / circuit.step_m)]
    const [slow] = nextCalls(plan, sheet, 1000, 1, 0.8 * speed)
    expect(slow.toMark_s / planned.toMark_s).toBeCloseTo(1.25, 2)
    expect(slow.toMark_m).toBe(planned.toMark_m)
    const [standing] = nextCalls(plan, sheet, 1000, 1, 0)
    expect(standing.toMark_s / planned.toMark_s).toBeCloseTo(2, 6)
  })
})
