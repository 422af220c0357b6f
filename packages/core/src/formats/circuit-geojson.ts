import { z } from 'zod'
import { groundKinds } from '../circuit/ground.ts'
import type { Survey } from '../circuit/survey.ts'
import { CoreError } from '../errors/errors.ts'
import { radians } from '../units/convert.ts'
import { type CircuitLine, chosenLine, joinedParts, surveyOfLine } from './circuit-lines.ts'
import type { ReadCircuitOptions } from './read-circuit-options.ts'

const position = z.array(z.number()).min(2)
const perPoint = z.union([z.number(), z.array(z.number())])
const properties = z.record(z.string(), z.unknown()).nullish()
const geometry = z.discriminatedUnion('type', [
  z.object({ type: z.literal('Point'), coordinates: position }),
  z.object({ type: z.literal('MultiPoint'), coordinates: z.array(position) }),
  z.object({ type: z.literal('LineString'), coordinates: z.array(position) }),
  z.object({ type: z.literal('MultiLineString'), coordinates: z.array(z.array(position)) }),
  z.object({ type: z.literal('Polygon'), coordinates: z.array(z.array(position)) }),
  z.object({ type: z.literal('MultiPolygon'), coordinates: z.array(z.array(z.array(position))) }),
])
type Geometry = z.infer<typeof geometry>
const road = z.object({
  name: z.string().optional().catch(undefined),
  width_left_m: perPoint.optional(),
  width_right_m: perPoint.optional(),
  bank_deg: perPoint.optional(),
  open: z.boolean().optional(),
})

/** A geometry with the properties of its feature. */
type Found = { geometry: Geometry; properties: Record<string, unknown> }

const unreadable = (why: string, place = 'file'): CoreError => new CoreError('file-unreadable', place, { expected: 'GeoJSON circuit', why })

const typed = z.looseObject({ type: z.string() })

/** Collections within collections: more than anybody draws, fewer than would exhaust the stack. */
const MAX_DEPTH = 20

/** All geometries of a document, in their order: a collection, a feature, or a geometry that stands alone. Cost: linear in the features. */
const geometriesIn = (node: unknown, of: Record<string, unknown>, place: string, depth = 0): Found[] => {
  if (depth > MAX_DEPTH) throw unreadable('it holds collections within collections', place)
  const record = typed.safeParse(node)
  if (!record.success) return []
  const { type, ...rest } = record.data
  const each = (list: unknown, name: string): Found[] =>
    Array.isArray(list) ? list.flatMap((child, i) => geometriesIn(child, of, `${name} ${i + 1}`, depth + 1)) : []
  if (type === 'FeatureCollection') return each(rest.features, 'feature')
  if (type === 'GeometryCollection') return each(rest.geometries, place === 'file' ? 'geometry' : `${place}, geometry`)
  if (type === 'Feature') return geometriesIn(rest.geometry, properties.safeParse(rest.properties).data ?? {}, place, depth + 1)
  const parsed = geometry.safeParse(node)
  if (parsed.success) return [{ geometry: parsed.data, properties: of }]
  if (geometry.options.some((known) => known.shape.type.value === type)) throw unreadable('its coordinates are not numbers', place)
  return []
}

/** Points; where their height is not among their coordinates, converters put it beside them. */
const pointsOf = ({ geometry: { type, coordinates }, properties }: Found): number[][] => {
  if (type === 'MultiPoint') return coordinates
  if (type !== 'Point') return []
  return [coordinates.length > 2 || typeof properties.ele !== 'number' ? coordinates : [...coordinates, properties.ele]]
}

const partsOf = ({ geometry: { type, coordinates } }: Found): number[][][] =>
  type === 'LineString' ? [coordinates] : type === 'MultiLineString' ? coordinates : []

/** Outer rings. */
const outlinesOf = ({ geometry: { type, coordinates } }: Found): number[][][] =>
  type === 'Polygon' ? coordinates.slice(0, 1) : type === 'MultiPolygon' ? coordinates.flatMap((polygon) => polygon.slice(0, 1)) : []

/** Lines of a feature with what its properties say of the road; a width for each point is that of a line in one part. */
const linesOf = (found: Found, parts: readonly (readonly (readonly number[])[])[]): CircuitLine[] => {
  const said = road.safeParse(found.properties)
  if (!said.success) throw unreadable('its widths or banks are not numbers')
  const { name, width_left_m, width_right_m, bank_deg, open } = said.data
  const bank_rad = typeof bank_deg === 'number' ? radians(bank_deg) : bank_deg?.map(radians)
  return joinedParts(parts).map((points) => ({
    name,
    points,
    widthLeft_m: width_left_m,
    widthRight_m: width_right_m,
    bank_rad,
    ...(open ? { open } : {}),
  }))
}

/** Things beside the road that the product writes itself are no road. */
const isGround = ({ properties: { kind } }: Found): boolean => (groundKinds as readonly unknown[]).includes(kind)

/**
 * Reads the line of a GeoJSON file (RFC 7946): a line in one or more parts; without one, the outline of an area, or points in their
 * order. Widths and bank stand in its properties, one number or one per coordinate; where widths are missing they are assumed.
 */
export const readCircuitGeoJson = (text: string, name: string, options: ReadCircuitOptions): Survey => {
  let raw: unknown
  try {
    raw = JSON.parse(text)
  } catch {
    throw unreadable('its JSON is broken')
  }
  const found = geometriesIn(raw, {}, 'file').filter((one) => !isGround(one))
  if (found.length === 0) throw unreadable('it holds no GeoJSON geometry')
  const lines = found.flatMap((one) => linesOf(one, partsOf(one)))
  const outlines = found.flatMap((one) => linesOf(one, outlinesOf(one)))
  const points = found.flatMap(pointsOf)
  if (lines.length > 0) return surveyOfLine(chosenLine(lines, options.track), name, options)
  if (outlines.length > 0) return surveyOfLine(chosenLine(outlines, options.track), name, options)
  return surveyOfLine({ name: undefined, points }, name, options)
}
