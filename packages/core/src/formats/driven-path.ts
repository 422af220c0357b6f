import { surveyFromLaps } from '../circuit/from-laps.ts'
import type { GeoOrigin } from '../circuit/geo-origin.ts'
import { tangentPlane } from '../circuit/geodesy.ts'
import type { DrivenPath } from '../circuit/smooth.ts'
import type { Survey } from '../circuit/survey.ts'
import { gpxLines, type Waypoint } from './circuit-gpx.ts'
import { kmlLines } from './circuit-kml.ts'
import { chosenLine, surveyOfLine } from './circuit-lines.ts'
import { readLog } from './log-file.ts'

/** A place on Earth. */
type Place = { lat_deg: number; lon_deg: number }

/** Names of waypoints that mark the start line. */
const startNames = /\b(start|finish|s\/f|sf|line)\b/i

/** Positions of a drive, in order of time, out of a log or the track of a GPX or KML file; `origin`: where x = y = 0 lies. */
export const readDrivenPath = (text: string): DrivenPath & { origin: GeoOrigin | undefined; waypoints: readonly Waypoint[] } => {
  const start = text.slice(0, 4000).trimStart()
  if (start.startsWith('<')) {
    const { lines, waypoints } = /<kml[\s>]/.test(start) ? { lines: kmlLines(text), waypoints: [] } : gpxLines(text)
    // Tracks of one drive follow each other; the way between two of them is no lap.
    const points = lines.flatMap((line) => line.points)
    const { x_m, y_m, z_m, origin } = surveyOfLine({ ...chosenLine(lines, '1'), points }, 'laps', {})
    return { x_m, y_m, z_m, origin, waypoints }
  }
  const { lat_deg, lon_deg, ele_m } = readLog(text)
  const { origin, toPlane } = tangentPlane({ lat_deg: lat_deg[0], lon_deg: lon_deg[0] })
  const places = Array.from(lat_deg, (lat, i) => toPlane(lat, lon_deg[i], ele_m[i]))
  return {
    x_m: Float64Array.from(places, (p) => p.x_m),
    y_m: Float64Array.from(places, (p) => p.y_m),
    z_m: ele_m.map((z) => z || 0),
    origin,
    waypoints: [],
  }
}

/** How the start line of a circuit from laps was found: a person gave it, the file marks it, or the longest straight was taken. */
export const startsFound = ['given', 'waypoint', 'longest-straight'] as const
export type StartFound = (typeof startsFound)[number]

/**
 * A circuit out of a file with logged laps, for a place without a survey. `halfWidth_m`: the road on each side of the averaged path, where
 * somebody knows it; `start`: where the start line is, if somebody said so.
 * @throws CoreError for files without a closed lap
 */
export const lapsAsCircuit = (
  text: string,
  name: string,
  halfWidth_m?: number,
  start?: Place,
): { survey: Survey; startFound: StartFound } => {
  const { origin, waypoints, ...path } = readDrivenPath(text)
  const marked = start ?? waypoints.find((w) => startNames.test(w.name))
  const at = marked && origin ? tangentPlane(origin).toPlane(marked.lat_deg, marked.lon_deg, 0) : undefined
  const startFound = !at ? 'longest-straight' : start ? 'given' : 'waypoint'
  return { survey: surveyFromLaps(name, path, { ...(halfWidth_m === undefined ? {} : { halfWidth_m }), origin, start: at }), startFound }
}
