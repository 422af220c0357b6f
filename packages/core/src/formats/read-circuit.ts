import { checkColumns, reverseSurvey, type Survey } from '../circuit/survey.ts'
import { readCircuitCsv } from './circuit-csv.ts'
import { readCircuitGeoJson } from './circuit-geojson.ts'
import { readCircuitGpx } from './circuit-gpx.ts'
import { readCircuitKml } from './circuit-kml.ts'

/**
 * `width_m`: half width for files without widths. `track`: which track or line of a file with several. `reverse`: drive
 * it the other way round. `open`: a course that ends where it ends, a hill road or a drill pad.
 */
export type ReadCircuitOptions = { width_m?: number; track?: string; reverse?: boolean; open?: boolean }

/** Reads a circuit file; its format (CSV, GeoJSON, GPX, KML) shows at its beginning. @throws CoreError for files that cannot be used */
export const readCircuit = (text: string, name: string, options: ReadCircuitOptions = {}): Survey => {
  const read = readAnyForm(text, name, options)
  const survey: Survey = options.open ? { ...read, open: true } : read
  checkColumns(survey)
  return options.reverse ? reverseSurvey(survey) : survey
}

const readAnyForm = (text: string, name: string, { width_m, track }: ReadCircuitOptions): Survey => {
  const start = text
    .slice(0, 1000)
    .trimStart()
    .replace(/^\ufeff/, '')
  if (start[0] === '{') return readCircuitGeoJson(text, name, width_m)
  if (start[0] === '<')
    return /<kml[\s>]/.test(start) ? readCircuitKml(text, name, width_m, track) : readCircuitGpx(text, name, width_m, track)
  return readCircuitCsv(text, name)
}
