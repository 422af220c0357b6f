import { z } from 'zod'
import type { Survey } from '../circuit/survey.ts'
import { CoreError } from '../errors/errors.ts'
import { radians } from '../units/convert.ts'
import { surveyFromGeodetic } from './geodetic-points.ts'

const position = z.array(z.number()).min(2)
const perPoint = z.union([z.number(), z.array(z.number())])
const feature = z.object({
  type: z.literal('Feature'),
  geometry: z.object({ type: z.string(), coordinates: z.unknown() }).nullable(),
  properties: z.record(z.string(), z.unknown()).nullable(),
})
const collection = z.object({ type: z.literal('FeatureCollection'), features: z.array(feature) })
const road = z.object({
  name: z.string().optional(),
  width_left_m: perPoint.optional(),
  width_right_m: perPoint.optional(),
  bank_deg: perPoint.optional(),
  open: z.boolean().optional(),
})

/**
 * Reads the first LineString (or outer ring of a Polygon) of a GeoJSON file (RFC 7946). Widths and bank stand in its
 * properties, one number or one per coordinate; where widths are missing `width_m` on each side is taken.
 */
export const readCircuitGeoJson = (text: string, name: string, width_m: number | undefined): Survey => {
  const unreadable = (why: string): CoreError => new CoreError('file-unreadable', 'file', { expected: 'GeoJSON circuit', why })
  let raw: unknown
  try {
    raw = JSON.parse(text)
  } catch {
    throw unreadable('its JSON is broken')
  }
  const parsed = z.union([collection, feature]).safeParse(raw)
  if (!parsed.success) throw unreadable('it holds no GeoJSON features')
  const features = parsed.data.type === 'Feature' ? [parsed.data] : parsed.data.features
  const found = features.find((f) => f.geometry?.type === 'LineString' || f.geometry?.type === 'Polygon')
  if (!found?.geometry) throw unreadable('no feature of it is a LineString')
  const lines = z
    .array(z.array(position))
    .safeParse(found.geometry.type === 'Polygon' ? found.geometry.coordinates : [found.geometry.coordinates])
  if (!lines.success) throw unreadable('its coordinates are not numbers')
  const coordinates = lines.data[0] ?? []
  const properties = road.safeParse(found.properties ?? {})
  if (!properties.success) throw unreadable('its widths or banks are not numbers')
  const bank = properties.data.bank_deg ?? 0
  const survey = surveyFromGeodetic(
    properties.data.name ?? name,
    {
      lon_deg: coordinates.map((c) => c[0]),
      lat_deg: coordinates.map((c) => c[1]),
      height_m: coordinates.map((c) => c[2] ?? 0),
    },
    {
      widthLeft_m: properties.data.width_left_m ?? width_m,
      widthRight_m: properties.data.width_right_m ?? width_m,
      bank_rad: typeof bank === 'number' ? radians(bank) : bank.map(radians),
    },
  )
  return properties.data.open ? { ...survey, open: true } : survey
}
