import { tangentPlane } from '../circuit/geodesy.ts'
import type { Survey } from '../circuit/survey.ts'
import { CoreError } from '../errors/errors.ts'

/** Points in WGS 84 as a file gives them; the last may repeat the first. */
export type GeodeticPoints = { lat_deg: number[]; lon_deg: number[]; height_m: number[] }

/** Half width (m) taken on each side where neither file nor person gives one. */
const DEFAULT_HALF_WIDTH_M = 5

/** Per-point properties; a single number stands for all points; a width that is not known is assumed. */
export type RoadProperties = {
  widthLeft_m: number[] | number | undefined
  widthRight_m: number[] | number | undefined
  bank_rad: number[] | number
}

const expand = (value: number[] | number, n: number, what: string): Float64Array => {
  if (typeof value === 'number') return new Float64Array(n).fill(value)
  if (value.length < n)
    throw new CoreError('columns-missing', what, { missing: `${n - value.length} values of ${what}`, found: value.length, needed: n })
  return Float64Array.from(value.slice(0, n))
}

/** Projects points around the first one and drops the repeated last point. */
export const surveyFromGeodetic = (name: string, points: GeodeticPoints, road: RoadProperties): Survey => {
  const { lat_deg, lon_deg, height_m } = points
  if (lat_deg.length === 0) throw new CoreError('file-empty', 'file', { what: 'circuit' })
  for (let i = 0; i < lat_deg.length; i++)
    if (!(Math.abs(lat_deg[i]) <= 89 && Math.abs(lon_deg[i]) <= 180))
      throw new CoreError('number-invalid', `point ${i + 1}`, {
        value: `${lat_deg[i]}, ${lon_deg[i]}`,
        column: 'position',
        range: 'with latitude within ±89° and longitude within ±180°',
      })
  const plane = tangentPlane({ lat_deg: lat_deg[0], lon_deg: lon_deg[0] })
  const places = lat_deg.map((lat, i) => plane.toPlane(lat, lon_deg[i], height_m[i] ?? 0))
  const last = places.length - 1
  if (last > 0 && Math.hypot(places[last].x_m - places[0].x_m, places[last].y_m - places[0].y_m) < 0.05) places.pop()
  const n = places.length
  return {
    name,
    x_m: Float64Array.from(places, (p) => p.x_m),
    y_m: Float64Array.from(places, (p) => p.y_m),
    z_m: Float64Array.from({ length: n }, (_, i) => height_m[i] ?? 0),
    widthLeft_m: expand(road.widthLeft_m ?? DEFAULT_HALF_WIDTH_M, n, 'width_left_m'),
    widthRight_m: expand(road.widthRight_m ?? DEFAULT_HALF_WIDTH_M, n, 'width_right_m'),
    bank_rad: expand(road.bank_rad, n, 'bank_deg'),
    origin: plane.origin,
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
