import { describe, expect, it } from 'vitest'
import { demoPlan, fixtureText, gripOnly, vehicle } from '../../fixtures/load.ts'
import { buildCircuit } from '../circuit/build-circuit.ts'
import type { Circuit } from '../circuit/circuit.ts'
import { reverseSurvey, type Survey } from '../circuit/survey.ts'
import { makeVenue } from '../circuit/venue.ts'
import { readCircuit } from '../formats/read-circuit.ts'
import { markOf } from '../marks/mark.ts'
import { makePlan } from './make-plan.ts'
import type { Plan } from './plan.ts'

const survey = (file: string): Survey => readCircuit(fixtureText(file), file)
const flipped = (s: Survey): Survey => ({
  ...s,
  y_m: s.y_m.map((v) => -v),
  widthLeft_m: s.widthRight_m,
  widthRight_m: s.widthLeft_m,
  bank_rad: s.bank_rad.map((v) => -v),
})
const widened = (s: Survey, by_m: number): Survey => ({
  ...s,
  widthLeft_m: s.widthLeft_m.map((w) => w + by_m),
  widthRight_m: s.widthRight_m.map((w) => w + by_m),
})
const planOf = (s: Survey, school: 'straight' | 'trail' = 'trail', pace = 0.8): Plan => {
  const circuit: Circuit = buildCircuit(s)
  return makePlan(makeVenue(circuit), vehicle('hatchback'), { surface: 'dry', pace, school })
}

describe('a plan', () => {
  it.each(['lobes.csv', 'ostrel-mere.csv', 'ostrel-mere-short.csv'])(
    'of %s keeps its lap time and marks when the circuit is mirrored',
    (file) => {
      const one = planOf(survey(file), 'straight')
      const other = planOf(flipped(survey(file)), 'straight')
      expect(Math.abs(other.profile.lapTime_s / one.profile.lapTime_s - 1)).toBeLessThan(1e-4)
      expect(other.corners.map((c) => c.side)).toEqual(one.corners.map((c) => (c.side === 'left' ? 'right' : 'left')))
      for (const corner of one.corners) {
        const [a, b] = [one, other].map((p) => markOf(p.marks, corner.id, 'turn-in')?.station_m ?? 0)
        expect(Math.abs(a - b)).toBeLessThan(4)
      }
    },
  )

  it.each(['lobes.csv', 'stadium.csv'])('of %s keeps its lap time when it is driven the other way by grip alone', (file) => {
    // Where braking and drive are limited alike and nothing drags, time may run backwards.
    const car = gripOnly()
    const lap = (s: Survey): number => {
      const circuit = buildCircuit(s)
      return makePlan(makeVenue(circuit), car, { surface: 'dry', pace: 0.8, school: 'trail' }).profile.lapTime_s
    }
    expect(Math.abs(lap(reverseSurvey(survey(file))) / lap(survey(file)) - 1)).toBeLessThan(1e-3)
  })

  it('keeps the fastest lap when the circuit is mirrored', () => {
    const lap = (s: Survey): number => {
      const circuit = buildCircuit(s)
      const settings = { surface: 'dry', pace: 0.8, school: 'trail', method: 'fast' } as const
      return makePlan(makeVenue(circuit), vehicle('roadster'), settings).profile.lapTime_s
    }
    expect(Math.abs(lap(flipped(survey('lobes.csv'))) / lap(survey('lobes.csv')) - 1)).toBeLessThan(5e-4)
  })

  it('is never less smooth on a wider road', () => {
    const widths = [0, 0.5, 1, 2].map((by) => planOf(widened(survey('lobes.csv'), by)).line.integralKappa2_1pm)
    for (let i = 1; i < widths.length; i++) expect(widths[i]).toBeLessThan(widths[i - 1])
  })

  it('is computed the same from any form of the same circuit', () => {
    const times = ['ostrel-mere.csv', 'ostrel-mere.geojson'].map((file) => planOf(survey(file)).profile.lapTime_s)
    expect(Math.abs(times[0] / times[1] - 1)).toBeLessThan(1e-4)
  })

  it('is a pure function of its inputs', () => {
    const again = planOf(survey('lobes.csv'))
    const once = planOf(survey('lobes.csv'))
    expect(again.profile.lapTime_s).toBe(once.profile.lapTime_s)
    expect(again.marks).toEqual(once.marks)
  })

  it('needs more road for a wider vehicle, and says so by a slower lap', () => {
    const circuit = buildCircuit(survey('lobes.csv'))
    const time = (width_m: number): number =>
      makePlan(makeVenue(circuit), vehicle('hatchback', { width_m }), { surface: 'dry', pace: 1, school: 'trail' }).profile.lapTime_s
    expect(time(2.6)).toBeGreaterThan(time(1.6))
  })

  it.each(['smoothest', 'fast', 'shortest'] as const)('goes through a mark that was dragged, by the %s line', (method) => {
    const circuit = buildCircuit(survey('lobes.csv'))
    const settings = { surface: 'dry', pace: 0.8, school: 'straight', method } as const
    const car = vehicle('hatchback')
    const free = makePlan(makeVenue(circuit), car, settings)
    const apex = free.marks.find((m) => m.kind === 'apex')
    if (!apex) throw new Error('no apex')
    const pin = {
      station_m: circuit.s_m[Math.round(apex.station_m / circuit.step_m)],
      offset_m: apex.offset_m > 0 ? apex.offset_m - 1.5 : apex.offset_m + 1.5,
    }
    const pinned = makePlan(makeVenue(circuit, { pins: [pin] }), car, settings)
    const i = Math.round(pin.station_m / circuit.step_m)
    expect(Math.abs(pinned.line.offset_m[i] - pin.offset_m)).toBeLessThan(0.15)
    expect(Math.abs(free.line.offset_m[i] - pin.offset_m)).toBeGreaterThan(1)
    if (method === 'fast') expect(pinned.profile.lapTime_s).toBeGreaterThan(free.profile.lapTime_s)
  })

  it('comes as near to a dragged mark as a wide vehicle can, where a narrow one drives through it', () => {
    const circuit = buildCircuit(survey('lobes.csv'))
    const settings = { surface: 'dry', pace: 0.8, school: 'straight' } as const
    const edge = circuit.widthLeft_m[100]
    const pins = [{ station_m: circuit.s_m[100], offset_m: edge - 1.3 }]
    const at = (width_m: number): number =>
      makePlan(makeVenue(circuit, { pins }), vehicle('hatchback', { width_m }), settings).line.offset_m[100]
    expect(at(1.5)).toBeCloseTo(edge - 1.3, 0)
    expect(at(2.6)).toBeCloseTo(edge - 1.3 - 0.5, 0)
  })

  it('has its times grow from mark to mark, and its speeds from the profile', () => {
    const plan = demoPlan()
    for (const mark of plan.marks) {
      const i = Math.round(mark.station_m / plan.circuit.step_m)
      expect(mark.speed_mps).toBe(plan.profile.speed_mps[i])
      expect(mark.time_s).toBe(plan.profile.time_s[i])
      expect(mark.time_s).toBeLessThan(plan.profile.lapTime_s)
    }
  })
})
