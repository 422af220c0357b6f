import Papa from 'papaparse'
import { tangentPlane } from '../circuit/geodesy.ts'
import { padColours } from '../cones/pad-cones.ts'
import type { LaidExercise } from '../drills/exercise.ts'
import type { Pad } from '../drills/pad.ts'

/** Cones of a pad as rows: exercise, number, role, colour, and metres along the first and the second base line. */
export const padCsv = (laid: readonly LaidExercise[]): string =>
  Papa.unparse(
    laid.flatMap(({ exercise, cones }) =>
      cones.map((cone, k) => ({
        exercise: exercise.name,
        cone: k + 1,
        role: cone.role,
        colour: padColours[cone.role],
        along_m: cone.x_m.toFixed(2),
        across_m: cone.y_m.toFixed(2),
      })),
    ),
  )

/** Cones of a pad on the earth as GeoJSON (RFC 7946); null where the pad's place is not known. */
export const padGeoJson = ({ place }: Pick<Pad, 'place'>, laid: readonly LaidExercise[]): string | null => {
  if (!place) return null
  const plane = tangentPlane(place)
  const bearing = (place.bearing_deg * Math.PI) / 180
  const features = laid.flatMap(({ exercise, cones }) =>
    cones.map(({ x_m, y_m, role }, k) => {
      // The first base line leads along the bearing, the second one to its left.
      const east_m = x_m * Math.sin(bearing) - y_m * Math.cos(bearing)
      const north_m = x_m * Math.cos(bearing) + y_m * Math.sin(bearing)
      const { lat_deg, lon_deg } = plane.toGeodetic(east_m, north_m, 0)
      return {
        type: 'Feature' as const,
        properties: { exercise: exercise.name, cone: k + 1, role, colour: padColours[role] },
        geometry: { type: 'Point' as const, coordinates: [Number(lon_deg.toFixed(8)), Number(lat_deg.toFixed(8))] },
      }
    }),
  )
  return JSON.stringify({ type: 'FeatureCollection', features })
}
