import { z } from 'zod'
import type { Circuit } from '../circuit/circuit.ts'
import { tangentPlane } from '../circuit/geodesy.ts'
import { type GroundItem, groundKinds, referenceKinds, runOffSurfaces } from '../circuit/ground.ts'
import { placeOn } from '../circuit/place.ts'
import { atStation, distanceAhead, placeAt } from '../circuit/station.ts'
import type { Survey } from '../circuit/survey.ts'
import { CoreError } from '../errors/errors.ts'
import { degrees } from '../units/convert.ts'
import { geodeticOf } from './geodetic-points.ts'

/** Points along an item are at most this far apart (m). */
const SPACING_M = 10

/** Offset (m) at which an item is drawn: the middle of its band, or its side's edge. */
const drawnOffset = (circuit: Circuit, item: GroundItem, s_m: number): number => {
  const inward = ((item.near_m ?? 0) + (item.far_m ?? 0)) / 2
  if (item.side === 'both') return 0
  return item.side === 'left'
    ? atStation(circuit, circuit.widthLeft_m, s_m) - inward
    : inward - atStation(circuit, circuit.widthRight_m, s_m)
}

const round = (value: number, digits: number): number => Number(value.toFixed(digits))

/**
 * A circuit with what lies on its ground as GeoJSON (RFC 7946): the surveyed centreline with widths and bank, then one
 * feature an item, a point or a line along its middle. Coordinates to a tenth of a millimetre.
 * @throws CoreError 'circuit-no-place' without an origin
 */
export const writeVenueGeoJson = (survey: Survey, circuit: Circuit, ground: readonly GroundItem[]): string => {
  const { lat_deg, lon_deg, height_m } = geodeticOf(survey)
  const plane = tangentPlane(survey.origin ?? { lat_deg: 0, lon_deg: 0 })
  const position = (item: GroundItem, s_m: number): number[] => {
    const at = placeAt(circuit, s_m, drawnOffset(circuit, item, s_m))
    const { lat_deg, lon_deg } = plane.toGeodetic(at.x_m, at.y_m, at.z_m)
    return [round(lon_deg, 9), round(lat_deg, 9), round(at.z_m, 3)]
  }
  const feature = (item: GroundItem) => {
    const length_m = distanceAhead(item.from_m, item.to_m, circuit.length_m)
    const steps = Math.max(1, Math.ceil(length_m / SPACING_M))
    const geometry =
      length_m < 0.5
        ? { type: 'Point', coordinates: position(item, item.from_m) }
        : {
            type: 'LineString',
            coordinates: Array.from({ length: steps + 1 }, (_, k) => position(item, item.from_m + (k / steps) * length_m)),
          }
    return {
      type: 'Feature',
      geometry,
      properties: {
        id: item.id,
        kind: item.kind,
        name: item.name,
        side: item.side,
        ...(item.near_m === undefined ? {} : { near_m: item.near_m }),
        ...(item.far_m === undefined ? {} : { far_m: item.far_m }),
        ...(item.reference === undefined ? {} : { reference: item.reference }),
        ...(item.runOff === undefined ? {} : { run_off_surface: item.runOff.surface, run_off_length_m: item.runOff.length_m }),
      },
    }
  }
  const centreline = {
    type: 'Feature',
    geometry: {
      type: 'LineString',
      coordinates: Array.from(lat_deg, (lat, i) => [round(lon_deg[i], 9), round(lat, 9), round(height_m[i], 4)]),
    },
    properties: {
      name: survey.name,
      ...(survey.open ? { open: true } : {}),
      width_left_m: Array.from(survey.widthLeft_m, (w) => round(w, 3)),
      width_right_m: Array.from(survey.widthRight_m, (w) => round(w, 3)),
      bank_deg: Array.from(survey.bank_rad, (b) => round(degrees(b), 4)),
    },
  }
  return `${JSON.stringify({ type: 'FeatureCollection', features: [centreline, ...ground.map(feature)] })}\n`
}

const itemProperties = z.object({
  id: z.string().min(1).max(60).optional(),
  kind: z.enum(groundKinds),
  name: z.string().max(80).default(''),
  side: z.enum(['left', 'right', 'both']).default('both'),
  near_m: z.number().min(0).max(60).optional(),
  far_m: z.number().min(0).max(60).optional(),
  reference: z.enum(referenceKinds).optional(),
  run_off_surface: z.enum(runOffSurfaces).optional(),
  run_off_length_m: z.number().min(0).max(1000).optional(),
})
const itemFeature = z.object({
  geometry: z.object({ type: z.enum(['Point', 'LineString']), coordinates: z.union([z.array(z.array(z.number())), z.array(z.number())]) }),
  properties: z.record(z.string(), z.unknown()),
})

/**
 * The ground items in a GeoJSON file, placed on a circuit: features whose properties have a `kind` of ground. A file of
 * another form holds none.
 * @throws CoreError 'file-unreadable' for items that cannot be understood, naming the feature
 */
export const readGround = (text: string, circuit: Circuit): GroundItem[] => {
  if (!text.trimStart().startsWith('{') || !circuit.origin) return []
  const { features } = z.object({ features: z.array(z.unknown()).default([]) }).parse(JSON.parse(text))
  const plane = tangentPlane(circuit.origin)
  return features.flatMap((raw, i): GroundItem[] => {
    const feature = itemFeature.safeParse(raw)
    if (!feature.success || typeof feature.data.properties.kind !== 'string') return []
    const parsed = itemProperties.safeParse(feature.data.properties)
    if (!parsed.success)
      throw new CoreError('file-unreadable', `feature ${i + 1}`, {
        expected: 'ground item',
        why: `its ${parsed.error.issues[0].path.join('.')} is not one that is known`,
      })
    const { run_off_surface, run_off_length_m, id, ...item } = parsed.data
    const { coordinates } = feature.data.geometry
    const line = (Array.isArray(coordinates[0]) ? coordinates : [coordinates]) as number[][]
    const stationOf = ([lon, lat, height = 0]: number[]): number => {
      const { x_m, y_m } = plane.toPlane(lat, lon, height)
      return placeOn(circuit, x_m, y_m).station_m
    }
    return [
      {
        ...item,
        id: id ?? `item-${i}`,
        from_m: stationOf(line[0]),
        to_m: stationOf(line[line.length - 1]),
        ...(run_off_surface ? { runOff: { surface: run_off_surface, length_m: run_off_length_m ?? 0 } } : {}),
      },
    ]
  })
}
