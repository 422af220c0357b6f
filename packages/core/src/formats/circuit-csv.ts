import type { Survey } from '../circuit/survey.ts'
import { degrees, radians } from '../units/convert.ts'
import { surveyFromGeodetic, surveyFromPlane } from './geodetic-points.ts'
import type { ReadCircuitOptions } from './read-circuit-options.ts'
import { numericColumns, plainName, readTable, writeColumns } from './table.ts'

/** Names that each column may have. */
const names = {
  x_m: ['x_m', 'x', 'east_m', 'easting_m', 'easting'],
  y_m: ['y_m', 'y', 'north_m', 'northing_m', 'northing'],
  lat_deg: ['lat_deg', 'lat', 'latitude', 'latitude_deg'],
  lon_deg: ['lon_deg', 'lon', 'lng', 'long', 'longitude', 'longitude_deg'],
  z_m: ['z_m', 'z', 'ele_m', 'ele', 'elevation', 'elevation_m', 'height_m', 'height', 'altitude_m', 'altitude'],
  width_left_m: ['width_left_m', 'width_left', 'left_width_m', 'left_width', 'left_m'],
  width_right_m: ['width_right_m', 'width_right', 'right_width_m', 'right_width', 'right_m'],
  width_m: ['width_m', 'width', 'total_width_m', 'road_width_m'],
  bank_deg: ['bank_deg', 'bank', 'banking_deg', 'banking', 'cross_slope_deg'],
} as const

/**
 * Reads a survey as a table: `x_m,y_m` in local coordinates or `lat_deg,lon_deg`, with `width_left_m,width_right_m` or the whole
 * `width_m` where they are known, and optionally `z_m,bank_deg`.
 */
export const readCircuitCsv = (text: string, name: string, options: ReadCircuitOptions): Survey => {
  const table = readTable(text, 'circuit CSV')
  const { width_left_m, width_right_m, width_m, z_m, bank_deg, lat_deg, lon_deg } = names
  const common = { width_left_m, width_right_m, width_m, z_m, bank_deg }
  const road = (columns: Partial<Record<keyof typeof common, Float64Array>>) => {
    const half = columns.width_m?.map((w) => w / 2)
    return {
      widthLeft_m: columns.width_left_m ?? half ?? options.width_m,
      widthRight_m: columns.width_right_m ?? half ?? options.width_m,
      bank_rad: columns.bank_deg?.map(radians) ?? 0,
    }
  }
  const known = new Set(table.header.map(plainName))
  if (lat_deg.some((n) => known.has(n))) {
    const columns = numericColumns(table, 'circuit CSV', { lat_deg, lon_deg }, common)
    const height_m = columns.z_m ?? new Float64Array(columns.lat_deg.length)
    return surveyFromGeodetic(name, { lat_deg: columns.lat_deg, lon_deg: columns.lon_deg, height_m }, road(columns), options)
  }
  const columns = numericColumns(table, 'circuit CSV', { x_m: names.x_m, y_m: names.y_m }, common)
  return surveyFromPlane(
    name,
    { x_m: columns.x_m, y_m: columns.y_m, z_m: columns.z_m ?? new Float64Array(columns.x_m.length) },
    road(columns),
  )
}

/** Writes a survey in local coordinates, to a tenth of a millimetre. */
export const writeCircuitCsv = (survey: Survey): string =>
  writeColumns([
    { name: 'x_m', values: survey.x_m, digits: 4 },
    { name: 'y_m', values: survey.y_m, digits: 4 },
    { name: 'z_m', values: survey.z_m, digits: 4 },
    { name: 'width_left_m', values: survey.widthLeft_m, digits: 3 },
    { name: 'width_right_m', values: survey.widthRight_m, digits: 3 },
    { name: 'bank_deg', values: survey.bank_rad.map(degrees), digits: 4 },
  ])
