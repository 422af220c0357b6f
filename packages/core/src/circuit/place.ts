import type { Circuit } from './circuit.ts'
import { nearestIndex, wrapStation } from './station.ts'

/** A point placed on a circuit. */
export type Place = { station_m: number; offset_m: number }

/**
 * The place of a point on the circuit: the nearest station within `reach_m` of an expected one (the whole lap without),
 * then the foot of the perpendicular on the arc through it.
 */
export const placeOn = (circuit: Circuit, x_m: number, y_m: number, expected?: { station_m: number; reach_m: number }): Place => {
  const n = circuit.count
  const first = expected ? Math.floor((expected.station_m - expected.reach_m) / circuit.step_m) : 0
  const count = expected ? Math.min(n, Math.ceil((2 * expected.reach_m) / circuit.step_m) + 1) : n
  const best = nearestIndex(circuit, x_m, y_m, first, count)
  const dx = x_m - circuit.x_m[best]
  const dy = y_m - circuit.y_m[best]
  const cos = Math.cos(circuit.heading_rad[best])
  const sin = Math.sin(circuit.heading_rad[best])
  const along = dx * cos + dy * sin
  const across = -dx * sin + dy * cos
  // Foot on the arc of the station's curvature: exact on straights and circles.
  const kappa = circuit.kappa_1pm[best]
  if (Math.abs(kappa) < 1e-6) return { station_m: wrapStation(circuit.s_m[best] + along, circuit.length_m), offset_m: across }
  const turn = Math.atan2(kappa * along, 1 - kappa * across)
  const offset_m = (1 - Math.hypot(kappa * along, 1 - kappa * across)) / kappa
  return { station_m: wrapStation(circuit.s_m[best] + turn / kappa, circuit.length_m), offset_m }
}
