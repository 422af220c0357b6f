import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { simulateDrive } from '../simulate/drive.ts'
import { buildCircuit } from './build-circuit.ts'
import type { Circuit } from './circuit.ts'
import { findCorners } from './corners.ts'
import { surveyFromLaps } from './from-laps.ts'
import { tangentPlane } from './geodesy.ts'
import { placeOn } from './place.ts'

const plan = demoPlan({ pace: 0.6 })
const path = (laps: number, noise_m: number, rate_hz = 25) => {
  const { log } = simulateDrive(plan, { laps, seed: 5, noise_m, rate_hz })
  const plane = tangentPlane(plan.circuit.origin ?? { lat_deg: 0, lon_deg: 0 })
  const places = Array.from(log.lat_deg, (lat, i) => plane.toPlane(lat, log.lon_deg[i], 0))
  return {
    x_m: Float64Array.from(places, (p) => p.x_m),
    y_m: Float64Array.from(places, (p) => p.y_m),
    z_m: new Float64Array(places.length),
  }
}

/** Distance between a circuit and the line that was driven (m, root mean square). */
const awayFromLine = (circuit: Circuit): number => {
  let sum = 0
  for (let i = 0; i < circuit.count; i++) {
    const place = placeOn(plan.circuit, circuit.x_m[i], circuit.y_m[i])
    const k = Math.round(place.station_m / plan.circuit.step_m) % plan.circuit.count
    sum += (place.offset_m - plan.line.offset_m[k]) ** 2
  }
  return Math.sqrt(sum / circuit.count)
}

describe('a circuit from logged laps', () => {
  const rates = [1, 5, 10].flatMap((rate_hz) => [0.05, 0.2, 0.5].map((noise_m) => [rate_hz, noise_m] as const))
  it.each(rates)('is the same at %i Hz with %f m of noise, and begins on the longest straight', (rate_hz, noise_m) => {
    const survey = surveyFromLaps('driven', path(5, noise_m, rate_hz), {})
    const circuit = buildCircuit(survey)
    expect(circuit.widthAssumed).toBe(true)
    expect(Math.abs(circuit.length_m / plan.line.length_m - 1)).toBeLessThan(0.004)
    expect(Math.abs(findCorners(circuit).length - plan.corners.length)).toBeLessThan(3)
    expect(awayFromLine(circuit)).toBeLessThan(0.6)
    // Nowhere near the start line does the road turn.
    const bends = Array.from({ length: 60 }, (_, k) => Math.abs(circuit.kappa_1pm[(k - 30 + circuit.count) % circuit.count]))
    expect(Math.max(...bends)).toBeLessThan(1 / 300)
  })

  it('is the path that was driven, to a few decimetres, with its corners', () => {
    const survey = surveyFromLaps('driven', path(4, 0.4), { halfWidth_m: 5, start: { x_m: 0, y_m: 0 } })
    const circuit = buildCircuit(survey)
    expect(Math.abs(circuit.length_m / plan.line.length_m - 1)).toBeLessThan(0.003)
    // A driven line flattens kinks and joins what the centreline keeps apart.
    expect(Math.abs(findCorners(circuit).length - plan.corners.length)).toBeLessThan(3)
    expect(awayFromLine(circuit)).toBeLessThan(0.6)
    // The lap is cut at the start that was given.
    expect(Math.hypot(circuit.x_m[0], circuit.y_m[0])).toBeLessThan(12)
  })

  it('needs one whole lap', () => {
    const whole = path(1, 0.1)
    const half = whole.x_m.length >> 1
    const part = { x_m: whole.x_m.slice(0, half), y_m: whole.y_m.slice(0, half), z_m: whole.z_m.slice(0, half) }
    expect(() => surveyFromLaps('half', part, { halfWidth_m: 5 })).toThrow(expect.objectContaining({ code: 'log-no-lap' }))
  })
})
