import type { Circuit } from '../circuit/circuit.ts'
import type { GeoOrigin } from '../circuit/geo-origin.ts'
import { tangentPlane } from '../circuit/geodesy.ts'
import { type Place, placeOn } from '../circuit/place.ts'
import { signedDistance, wrapStation } from '../circuit/station.ts'
import { CoreError } from '../errors/errors.ts'
import { laidByDistance, tellsDistanceAlone } from './laid-by-distance.ts'
import { localPlaces } from './local-places.ts'
import type { Log } from './log.ts'
import type { MatchedLog } from './matched-log.ts'

/** Distance beyond the edges from which a fix does not belong to the circuit (m). */
const OFF_CIRCUIT_M = 25
/** A log with a smaller fraction of fixes on the circuit is rejected as recorded elsewhere. */
const MIN_SHARE = 0.3

/** Place of a fix: `beyond_m` past the edge (negative on the road); `travel_m` counts on over laps, NaN when off the circuit. */
type FollowedPlace = { travel_m: number; offset_m: number; beyond_m: number }

/** Places fixes of one vehicle on a circuit, one after another. */
export type PlaceFollower = (time_s: number, lat_deg: number, lon_deg: number, ele_m: number) => FollowedPlace

/**
 * Places fixes one by one with continuity: after the first match a fix is sought only as far ahead as the vehicle can
 * have come, so that it never jumps to a neighbouring stretch. Times must rise (s). Cost of a fix: the stations within reach.
 */
export const placeFollower = (circuit: Circuit, origin: GeoOrigin): PlaceFollower => {
  const plane = tangentPlane(origin)
  let last_s = Number.NEGATIVE_INFINITY
  let travel = Number.NaN
  return (time_s, lat_deg, lon_deg, ele_m) => {
    const { x_m, y_m } = plane.toPlane(lat_deg, lon_deg, ele_m)
    const since_s = time_s - last_s
    const expected = since_s < 5 ? { station_m: wrapStation(travel, circuit.length_m), reach_m: 25 + 90 * since_s } : undefined
    const place = placeOn(circuit, x_m, y_m, expected)
    const beyond_m = beyondEdge(circuit, place, x_m, y_m)
    if (beyond_m > OFF_CIRCUIT_M) return { travel_m: Number.NaN, offset_m: Number.NaN, beyond_m }
    travel = Number.isNaN(travel) ? place.station_m : travel + forwardStep(circuit, travel, place.station_m, since_s)
    last_s = time_s
    return { travel_m: travel, offset_m: place.offset_m, beyond_m }
  }
}

/**
 * Places each fix of a log on the circuit. Cost: linear in fixes times the stations within reach.
 * @param expected_m offsets at which a drive is expected to run (m); only asked where the circuit has no place on the globe
 * @throws CoreError 'log-elsewhere' when most fixes lie off the circuit
 */
export const matchLog = (
  circuit: Circuit,
  log: Log,
  expected_m: () => Float64Array = () => new Float64Array(circuit.count),
): MatchedLog => {
  if (tellsDistanceAlone(log)) return laidByDistance(circuit, log, expected_m())
  const { origin, lat_deg, lon_deg, positionUncertainty_m } = onGlobe(circuit, log, expected_m)
  const follow = placeFollower(circuit, origin)
  const n = log.time_s.length
  const out = { travel_m: new Float64Array(n), offset_m: new Float64Array(n), onCircuit: new Uint8Array(n), positionUncertainty_m }
  let nearest = Number.POSITIVE_INFINITY
  let on = 0
  for (let i = 0; i < n; i++) {
    if (Number.isNaN(lat_deg[i])) {
      out.travel_m[i] = Number.NaN
      continue
    }
    const place = follow(log.time_s[i], lat_deg[i], lon_deg[i], log.ele_m[i])
    nearest = Math.min(nearest, place.beyond_m)
    out.travel_m[i] = place.travel_m
    out.offset_m[i] = place.offset_m
    if (Number.isNaN(place.travel_m)) continue
    out.onCircuit[i] = 1
    on++
  }
  if (on < MIN_SHARE * n) throw new CoreError('log-elsewhere', 'row 2', { distance_m: Math.round(Math.max(0, nearest)) })
  refuseReversed(out)
  return out
}

type OnGlobe = { origin: GeoOrigin; lat_deg: Float64Array; lon_deg: Float64Array; positionUncertainty_m: number }

/** Places of a log on the globe with the circuit's origin: its own, those of local coordinates by the circuit, or the circuit's by the log. */
const onGlobe = (circuit: Circuit, log: Log, expected_m: () => Float64Array): OnGlobe => {
  const { lat_deg, lon_deg, x_m, y_m } = log
  if (x_m && y_m && !lat_deg.some(Number.isFinite)) {
    const origin = circuit.origin ?? { lat_deg: 0, lon_deg: 0 }
    const plane = tangentPlane(origin)
    const local = localPlaces(circuit, { x_m, y_m })
    const places = Array.from(local.x_m, (x, i) => plane.toGeodetic(x, local.y_m[i], log.ele_m[i]))
    return {
      origin,
      lat_deg: Float64Array.from(places, (p) => p.lat_deg),
      lon_deg: Float64Array.from(places, (p) => p.lon_deg),
      positionUncertainty_m: 0,
    }
  }
  return {
    lat_deg,
    lon_deg,
    ...(circuit.origin ? { origin: circuit.origin, positionUncertainty_m: 0 } : originByShape(circuit, log, expected_m())),
  }
}

/** Share of backward steps from which a drive counts as driven in the other direction. */
const BACKWARD_SHARE = 0.7

/** @throws CoreError 'log-reversed' */
const refuseReversed = ({ travel_m }: MatchedLog): void => {
  let back = 0
  let on = 0
  for (let i = 1; i < travel_m.length; i++) {
    const step = travel_m[i] - travel_m[i - 1]
    if (step > 0) on++
    else if (step < 0) back++
  }
  if (back > BACKWARD_SHARE * (back + on) && back > 20) throw new CoreError('log-reversed', 'file', {})
}

const beyondEdge = (circuit: Circuit, place: Place, x_m: number, y_m: number): number => {
  const i = Math.min(Math.floor(place.station_m / circuit.step_m), circuit.count - 1)
  const far = Math.hypot(x_m - circuit.x_m[i], y_m - circuit.y_m[i])
  return Math.max(Math.abs(place.offset_m), far - 2 * circuit.step_m) - Math.max(circuit.widthLeft_m[i], circuit.widthRight_m[i])
}

/** After a long data gap the vehicle has gone forward, maybe more than half a lap; otherwise the short way counts. */
const forwardStep = (circuit: Circuit, travel_m: number, station_m: number, since_s: number): number =>
  since_s < 5 ? signedDistance(travel_m, station_m, circuit.length_m) : wrapStation(station_m - travel_m, circuit.length_m)

/** Distances to the line are capped here so that outliers do not decide the fit (m). */
const FAR_M = 5
/** A driver keeps to one side of where he is expected for about this long (m). */
const WANDER_M = 80

/**
 * Origin for a circuit in local coordinates, from the shape of the drive: the log is shifted (never turned) until it
 * lies best along the line on which a drive is expected, by repeated nearest points. The doubt is that of a mean of so many
 * stretches as one lap has; a survey with an origin is better.
 * Source: iterative closest points, Besl & McKay 1992, restricted to translation.
 */
const originByShape = (circuit: Circuit, log: Log, expected_m: Float64Array): { origin: GeoOrigin; positionUncertainty_m: number } => {
  const first: GeoOrigin = { lat_deg: log.lat_deg[0], lon_deg: log.lon_deg[0] }
  const plane = tangentPlane(first)
  const n = log.time_s.length
  const points: { x_m: number; y_m: number }[] = []
  let lastX = Number.POSITIVE_INFINITY
  let lastY = 0
  for (let i = 0; i < n && points.length < 4000; i++) {
    const p = plane.toPlane(log.lat_deg[i], log.lon_deg[i], log.ele_m[i])
    if (Math.hypot(p.x_m - lastX, p.y_m - lastY) < 10) continue
    points.push(p)
    lastX = p.x_m
    lastY = p.y_m
  }
  if (points.length < 8) throw new CoreError('log-elsewhere', 'row 2', { distance_m: 0 })
  const mid = (list: readonly number[]): number => (Math.min(...list) + Math.max(...list)) / 2
  let shiftX = mid(Array.from(circuit.x_m.filter((_, i) => i % 4 === 0))) - mid(points.map((p) => p.x_m))
  let shiftY = mid(Array.from(circuit.y_m.filter((_, i) => i % 4 === 0))) - mid(points.map((p) => p.y_m))
  let spread_m = 0
  for (let round = 0; round < 40; round++) {
    let moveX = 0
    let moveY = 0
    let square = 0
    for (const p of points) {
      const place = placeOn(circuit, p.x_m + shiftX, p.y_m + shiftY)
      const i = Math.min(Math.floor(place.station_m / circuit.step_m), circuit.count - 1)
      const beside_m = place.offset_m - expected_m[i]
      moveX += beside_m * Math.sin(circuit.heading_rad[i])
      moveY -= beside_m * Math.cos(circuit.heading_rad[i])
      square += Math.min(beside_m * beside_m, FAR_M * FAR_M)
    }
    spread_m = Math.sqrt(square / points.length)
    shiftX += (2 * moveX) / points.length
    shiftY += (2 * moveY) / points.length
    if (Math.hypot(moveX, moveY) / points.length < 0.01) break
  }
  // Half of the stretches tell of each direction.
  const positionUncertainty_m = spread_m * Math.sqrt((2 * WANDER_M) / circuit.length_m)
  return { origin: plane.toGeodetic(-shiftX, -shiftY, log.ele_m[0]), positionUncertainty_m }
}
