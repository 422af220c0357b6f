import { tangentPlane } from '../circuit/geodesy.ts'
import { ASSUMED_HALF_WIDTH_M, type Survey } from '../circuit/survey.ts'
import { CoreError } from '../errors/errors.ts'
import type { ReadCircuitOptions } from './read-circuit-options.ts'

/** Points in WGS 84 as a file gives them; the last may repeat the first. */
export type GeodeticPoints = { lat_deg: ArrayLike<number>; lon_deg: ArrayLike<number>; height_m: ArrayLike<number> }

/** Per-point properties; a single number stands for all points; a width that is not known is assumed. */
export type RoadProperties = {
  widthLeft_m: ArrayLike<number> | number | undefined
  widthRight_m: ArrayLike<number> | number | undefined
  bank_rad: ArrayLike<number> | number
}

/** Points nearer than this are the same (m). */
const SAME_M = 0.05

const expand = (value: ArrayLike<number> | number, n: number, what: string): Float64Array => {
  if (typeof value === 'number') return new Float64Array(n).fill(value)
  if (value.length < n)
    throw new CoreError('columns-missing', what, { missing: `${n - value.length} values of ${what}`, found: value.length, needed: n })
  return Float64Array.from({ length: n }, (_, i) => value[i])
}

/** Projects points around the first one. @throws CoreError 'circuit-swapped' where latitude and longitude seem to be the other way round */
export const surveyFromGeodetic = (
  name: string,
  points: GeodeticPoints,
  road: RoadProperties,
  { swapped = false }: ReadCircuitOptions,
): Survey => {
  const lat_deg = swapped ? points.lon_deg : points.lat_deg
  const lon_deg = swapped ? points.lat_deg : points.lon_deg
  if (lat_deg.length === 0) throw new CoreError('file-empty', 'file', { what: 'circuit' })
  for (let i = 0; i < lat_deg.length; i++) {
    if (Math.abs(lat_deg[i]) <= 89 && Math.abs(lon_deg[i]) <= 180) continue
    const beyond = Array.from(lat_deg).filter((lat, k) => Math.abs(lat) > 89 && Math.abs(lat) <= 180 && Math.abs(lon_deg[k]) <= 89)
    if (!swapped && beyond.length > lat_deg.length / 2)
      throw new CoreError('circuit-swapped', `point ${i + 1}`, { latitude: lat_deg[i], longitude: lon_deg[i] })
    throw new CoreError('number-invalid', `point ${i + 1}`, {
      value: `${lat_deg[i]}, ${lon_deg[i]}`,
      column: 'position',
      range: 'with latitude within ±89° and longitude within ±180°',
    })
  }
  const plane = tangentPlane({ lat_deg: lat_deg[0], lon_deg: lon_deg[0] })
  const { height_m } = points
  const places = Array.from(lat_deg, (lat, i) => plane.toPlane(lat, lon_deg[i], height_m[i] ?? 0))
  const column = (of: (place: { x_m: number; y_m: number }, i: number) => number): Float64Array => Float64Array.from(places, of)
  const plan = { x_m: column((p) => p.x_m), y_m: column((p) => p.y_m), z_m: column((_, i) => height_m[i] ?? 0) }
  return { ...surveyFromPlane(name, plan, road), origin: plane.origin }
}

/** A survey of points in metres; where the last repeats the first it is dropped. */
export const surveyFromPlane = (
  name: string,
  points: { x_m: Float64Array; y_m: Float64Array; z_m: Float64Array },
  road: RoadProperties,
): Survey => {
  const { x_m, y_m } = points
  let n = x_m.length
  while (n > 1 && Math.hypot(x_m[n - 1] - x_m[0], y_m[n - 1] - y_m[0]) < SAME_M) n--
  return {
    name,
    x_m: x_m.slice(0, n),
    y_m: y_m.slice(0, n),
    z_m: points.z_m.slice(0, n),
    widthLeft_m: expand(road.widthLeft_m ?? ASSUMED_HALF_WIDTH_M, n, 'width_left_m'),
    widthRight_m: expand(road.widthRight_m ?? ASSUMED_HALF_WIDTH_M, n, 'width_right_m'),
    bank_rad: expand(road.bank_rad, n, 'bank_deg'),
    ...(road.widthLeft_m === undefined || road.widthRight_m === undefined ? { widthAssumed: true } : {}),
  }
}

/** A survey's points in WGS 84, the first repeated at the end unless the course is open. @throws CoreError 'circuit-no-place' without an origin */
export const geodeticOf = (survey: Survey): GeodeticPoints => {
  if (!survey.origin) throw new CoreError('circuit-no-place', survey.name)
  const plane = tangentPlane(survey.origin)
  const n = survey.x_m.length
  const order = Array.from({ length: survey.open ? n : n + 1 }, (_, i) => i % n)
  const places = order.map((i) => plane.toGeodetic(survey.x_m[i], survey.y_m[i], survey.z_m[i]))
  return {
    lat_deg: places.map((p) => p.lat_deg),
    lon_deg: places.map((p) => p.lon_deg),
    height_m: order.map((i) => survey.z_m[i]),
  }
}
