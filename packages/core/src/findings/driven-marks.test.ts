import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { signedDistance } from '../circuit/station.ts'
import { markOf } from '../marks/marks.ts'
import { drivenCorner, laterBy, referenceCorners } from './driven-marks.ts'
import { type LapTrace, planTrace } from './lap-trace.ts'

const plan = demoPlan()
const { circuit, corners } = plan
const trace = planTrace(plan)
const references = referenceCorners(circuit, corners, trace)
const rolled = (column: Float64Array, by: number): Float64Array => column.map((_, i) => column[(i - by + circuit.count) % circuit.count])
/** A corner braked for as early as the apex before it; its brake is looked for from there on only. */
const LINKED = 'T11'
/** The same lap, everything later by some stations. */
const laterLap = (by: number): LapTrace => ({
  ...trace,
  speed_mps: rolled(trace.speed_mps, by),
  offset_m: rolled(trace.offset_m, by),
  kappa_1pm: rolled(trace.kappa_1pm, by),
  brake: rolled(trace.brake, by),
  throttle: rolled(trace.throttle, by),
})

describe('marks that a lap shows', () => {
  it('are the plan’s own on the plan’s own lap', () => {
    const near = (seen_m: number | null, kind: 'brake' | 'turn-in' | 'apex', k: number, within_m: number): void => {
      const mark = markOf(plan.marks, corners[k].id, kind)
      if (!mark || seen_m === null) return
      expect(Math.abs(signedDistance(mark.station_m, seen_m, circuit.length_m)), `${kind} of ${corners[k].id}`).toBeLessThanOrEqual(
        within_m,
      )
    }
    references.forEach((reference, k) => {
      near(reference.brake_m, 'brake', k, 5)
      near(reference.turnIn_m, 'turn-in', k, 5)
      near(reference.apex_m, 'apex', k, 3)
    })
    expect(references.filter((r) => r.brake_m !== null).length).toBeGreaterThan(4)
    expect(references.filter((r) => r.turnIn_m !== null).length).toBeGreaterThan(8)
  })

  it('are the same again when that lap is searched as a driven one', () => {
    references.forEach((reference, k) => {
      const driven = drivenCorner(circuit, corners[k], trace, reference)
      expect(driven.brake_m).toEqual(reference.brake_m)
      expect(driven.turnIn_m).toEqual(reference.turnIn_m)
      expect(driven.slowest_mps).toBe(reference.slowest_mps)
      // A driven lap has its apex where it is nearest the inner edge.
      expect(driven.apexInner_m).toBeLessThanOrEqual(reference.apexInner_m + 1e-9)
    })
  })

  it.each([-6, -3, 4, 8])('move with a lap that is later by %i stations', (by) => {
    const lap = laterLap(by)
    let compared = 0
    references.forEach((reference, k) => {
      const driven = drivenCorner(circuit, corners[k], lap, reference)
      for (const key of ['brake_m', 'turnIn_m'] as const) {
        if (key === 'brake_m' && corners[k].id === LINKED) continue
        const [seen, wanted] = [driven[key], reference[key]]
        if (seen === null || wanted === null) continue
        compared++
        expect(laterBy(circuit, seen, wanted), `${key} of ${corners[k].id}`).toBeCloseTo(by * circuit.step_m, 6)
      }
    })
    expect(compared).toBeGreaterThan(12)
  })

  it('show no brake before the apex of the corner before', () => {
    const k = corners.findIndex((c) => c.id === LINKED)
    const driven = drivenCorner(circuit, corners[k], laterLap(-10), references[k])
    const past_m = laterBy(circuit, driven.brake_m ?? Number.NaN, references[k - 1].apex_m)
    expect(past_m).toBeGreaterThan(-1e-6)
    expect(past_m).toBeLessThanOrEqual(circuit.step_m + 1e-6)
  })

  it('have no brake where nothing is braked', () => {
    const coasting: LapTrace = { ...trace, brake: new Float64Array(circuit.count) }
    for (const [k, reference] of references.entries()) expect(drivenCorner(circuit, corners[k], coasting, reference).brake_m).toBeNull()
  })

  it('have no brake where the pedal is only stroked', () => {
    const at = references.findIndex((r) => r.brake_m !== null)
    const stroked: LapTrace = { ...trace, brake: trace.brake.map((v) => (v > 0 ? trace.brakeTouch * 0.9 : 0)) }
    expect(drivenCorner(circuit, corners[at], stroked, references[at]).brake_m).toBeNull()
  })

  it('have no turning in where the lap goes straight on', () => {
    const straight: LapTrace = { ...trace, kappa_1pm: new Float64Array(circuit.count) }
    for (const [k, reference] of references.entries()) expect(drivenCorner(circuit, corners[k], straight, reference).turnIn_m).toBeNull()
  })
})

describe('how much later a mark is', () => {
  it('goes the short way over the line', () => {
    expect(laterBy(circuit, 4, circuit.length_m - 6)).toBeCloseTo(10, 9)
    expect(laterBy(circuit, circuit.length_m - 6, 4)).toBeCloseTo(-10, 9)
  })
})
