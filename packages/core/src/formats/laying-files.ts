import type { LayingRow } from '../cones/laying.ts'
import { CoreError } from '../errors/errors.ts'
import { writeXml } from './circuit-kml.ts'
import { writeRows } from './table.ts'

/** A cone in words for a list of places: `3 Sluice brake, yellow tall, left`. */
const nameOf = ({ number, cornerName, cone }: LayingRow): string =>
  `${number} ${cornerName ? `${cornerName} ` : ''}${cone.kind}, ${cone.colour} ${cone.shape}, ${cone.roadSide}`

const placeOf = ({ lat_deg, lon_deg }: LayingRow): { lat_deg: number; lon_deg: number } => {
  if (lat_deg === null || lon_deg === null) throw new CoreError('circuit-no-place', 'circuit')
  return { lat_deg, lon_deg }
}

/** Writes a laying sheet as GPX 1.1 waypoints, in driving order; places to a centimetre. @throws CoreError 'circuit-no-place' */
export const writeLayingGpx = (name: string, rows: readonly LayingRow[]): string =>
  writeXml({
    gpx: {
      '@_version': '1.1',
      '@_creator': 'Ochote',
      '@_xmlns': 'http://www.topografix.com/GPX/1/1',
      metadata: { name },
      wpt: rows.map((row) => {
        const { lat_deg, lon_deg } = placeOf(row)
        return { '@_lat': lat_deg.toFixed(7), '@_lon': lon_deg.toFixed(7), name: nameOf(row), type: row.cone.kind }
      }),
    },
  })

/** Writes a laying sheet as GeoJSON points (RFC 7946), in driving order. @throws CoreError 'circuit-no-place' */
export const writeLayingGeoJson = (rows: readonly LayingRow[]): string =>
  JSON.stringify({
    type: 'FeatureCollection',
    features: rows.map((row) => {
      const { lat_deg, lon_deg } = placeOf(row)
      const { id, cornerId, kind, colour, shape, roadSide, station_m } = row.cone
      return {
        type: 'Feature',
        geometry: { type: 'Point', coordinates: [Number(lon_deg.toFixed(7)), Number(lat_deg.toFixed(7))] },
        properties: {
          number: row.number,
          name: nameOf(row),
          id,
          corner: cornerId,
          mark: kind,
          colour,
          shape,
          side: roadSide,
          station_m: Number(station_m.toFixed(2)),
          beyond_edge_m: Number(row.beyondEdge_m.toFixed(2)),
        },
      }
    }),
  })

/** The laying sheet as CSV; metres to the decimetre, places to about a centimetre. */
export const writeLayingCsv = (rows: readonly LayingRow[]): string =>
  writeRows(
    [
      'number',
      'cone',
      'shape',
      'corner',
      'mark',
      'side',
      'station_m',
      'beyond_edge_m',
      'from_last_m',
      'from_apex_m',
      'lat_deg',
      'lon_deg',
      'reference',
      'past_reference_m',
    ],
    rows.map((r) => [
      r.number,
      r.cone.colour,
      r.cone.shape,
      r.cornerName,
      r.cone.kind,
      r.cone.roadSide,
      r.cone.station_m.toFixed(1),
      r.beyondEdge_m.toFixed(1),
      r.fromLast_m.toFixed(1),
      r.fromApex_m?.toFixed(1) ?? '',
      r.lat_deg?.toFixed(7) ?? '',
      r.lon_deg?.toFixed(7) ?? '',
      r.reference?.name ?? '',
      r.reference?.past_m.toFixed(1) ?? '',
    ]),
  )
