import { CoreError } from '../errors/errors.ts'
import type { Circuit } from './circuit.ts'
import type { CornerEdit } from './corner-edits.ts'
import type { GeoOrigin } from './geo-origin.ts'
import { tangentPlane } from './geodesy.ts'
import { placeOn } from './place.ts'
import { nearestStation, placeAt, signedDistance } from './station.ts'
import type { Venue } from './venue.ts'

/** A circuit with its points in the plane of another origin; headings turn by less than a minute of arc within 10 km. */
export const inPlaneOf = (circuit: Circuit, origin: GeoOrigin | undefined): Circuit => {
  if (!circuit.origin || !origin) return circuit
  const [own, other] = [tangentPlane(circuit.origin), tangentPlane(origin)]
  const places = Array.from(circuit.x_m, (x, i) => {
    const { lat_deg, lon_deg } = own.toGeodetic(x, circuit.y_m[i], circuit.z_m[i])
    return other.toPlane(lat_deg, lon_deg, circuit.z_m[i])
  })
  return { ...circuit, origin, x_m: Float64Array.from(places, (p) => p.x_m), y_m: Float64Array.from(places, (p) => p.y_m) }
}

/** Carries stations of one survey of a place over to another by the ground they lie on, for edits and ground items. */
export const carryStation = (from: Circuit, to: Circuit, s_m: number): number => {
  const place = placeAt(from, s_m, 0)
  return nearestStation(to, place.x_m, place.y_m)
}

/** Interval of stations at which two surveys are compared. */
const COMPARED_EVERY = 20

/**
 * Compares a new survey of a place with the older one before notes are carried over.
 * @throws CoreError 'circuit-reversed' where it runs in the other direction, 'circuit-elsewhere' where it is another place
 */
export const checkSamePlace = (older: Circuit, newer: Circuit): void => {
  let against = 0
  let near = 0
  let compared = 0
  for (let i = 0; i < newer.count; i += COMPARED_EVERY) {
    const { station_m, offset_m } = placeOn(older, newer.x_m[i], newer.y_m[i])
    compared++
    if (Math.abs(offset_m) > 30) continue
    near++
    if (Math.cos(placeAt(older, station_m, 0).heading_rad - newer.heading_rad[i]) < 0) against++
  }
  if (near < compared / 2)
    throw new CoreError('circuit-elsewhere', newer.name, { share: Math.round((100 * near) / compared), older: older.name })
  if (against > near / 2) throw new CoreError('circuit-reversed', newer.name, { older: older.name })
}

/** Names of corners (and words to them) of one survey for another: each goes with the corner nearest to its own on the ground. */
export const carryByCorner = <V>(from: Venue, to: Venue, byId: Readonly<Record<string, V>>): Record<string, V> => {
  const { length_m } = to.circuit
  const carried: [string, V][] = []
  for (const corner of from.corners) {
    const value = byId[corner.id]
    if (value === undefined || to.corners.length === 0) continue
    const at_m = carryStation(from.circuit, to.circuit, corner.peak_m)
    const away = (c: { peak_m: number }): number => Math.abs(signedDistance(at_m, c.peak_m, length_m))
    carried.push([to.corners.reduce((a, b) => (away(a) <= away(b) ? a : b)).id, value])
  }
  return Object.fromEntries(carried)
}

/** Edits of one survey for another survey of the same place. */
export const carryEdits = (from: Circuit, to: Circuit, edits: readonly CornerEdit[]): CornerEdit[] => {
  const carry = (s_m: number): number => carryStation(from, to, s_m)
  return edits.map((edit) => {
    const places = Object.entries(edit).map(([key, value]) => [key, typeof value === 'number' ? carry(value) : value])
    return Object.fromEntries(places) as CornerEdit
  })
}
