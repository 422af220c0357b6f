import { surveyFromLaps } from '../circuit/from-laps.ts'
import type { GeoOrigin } from '../circuit/geo-origin.ts'
import { tangentPlane } from '../circuit/geodesy.ts'
import type { DrivenPath } from '../circuit/smooth.ts'
import type { Survey } from '../circuit/survey.ts'
import { readCircuitGpx } from './circuit-gpx.ts'
import { readLog } from './log-file.ts'

/** Positions of a drive, in order of time, out of a log or the track of a GPX file; `origin`: where x = y = 0 lies. */
export const readDrivenPath = (text: string): DrivenPath & { origin: GeoOrigin | undefined } => {
  if (text.trimStart().startsWith('<')) {
    const { x_m, y_m, z_m, origin } = readCircuitGpx(text, 'laps', 5)
    return { x_m, y_m, z_m, origin }
  }
  const { lat_deg, lon_deg, ele_m } = readLog(text)
  const { origin, toPlane } = tangentPlane({ lat_deg: lat_deg[0], lon_deg: lon_deg[0] })
  const places = Array.from(lat_deg, (lat, i) => toPlane(lat, lon_deg[i], ele_m[i]))
  return {
    x_m: Float64Array.from(places, (p) => p.x_m),
    y_m: Float64Array.from(places, (p) => p.y_m),
    z_m: ele_m.map((z) => z || 0),
    origin,
  }
}

/**
 * A circuit out of a file with logged laps, for a place without a survey. `halfWidth_m`: the road on each side of the averaged path.
 * @throws CoreError for files without a closed lap
 */
export const lapsAsCircuit = (text: string, name: string, halfWidth_m: number): Survey => {
  const { origin, ...path } = readDrivenPath(text)
  return surveyFromLaps(name, path, { halfWidth_m, origin })
}
