import { readFileSync } from 'node:fs'
import { buildCircuit, makePlan, makeVenue, markOf, phraseBooks, planCalls, readCircuit, type Vehicle } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { cornerBehind, nextCalls } from './next-call.ts'
import { carriedOn } from './use-position.ts'

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

  it('is carried on by the plan through a silence, over the line too', () => {
    const from = 1000
    const to = carriedOn(plan, from, 5)
    const at = (s: number): number => plan.profile.time_s[Math.round(s / circuit.step_m)]
    expect(Math.abs(at(to) - at(from) - 5)).toBeLessThan(0.1)
    expect(carriedOn(plan, circuit.length_m - 20, 3)).toBeLessThan(200)
    expect(carriedOn(plan, from, plan.profile.lapTime_s)).toBeCloseTo(from, 0)
  })
})
