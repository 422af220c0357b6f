import { checkColumns, reverseSurvey, type Survey } from '../circuit/survey.ts'
import { readCircuitCsv } from './circuit-csv.ts'
import { readCircuitGeoJson } from './circuit-geojson.ts'
import { readCircuitGpx } from './circuit-gpx.ts'
import { readCircuitKml } from './circuit-kml.ts'
import type { ReadCircuitOptions } from './read-circuit-options.ts'

/** Reads a circuit file; its format (CSV, GeoJSON, GPX, KML) shows at its beginning. @throws CoreError for files that cannot be used */
export const readCircuit = (text: string, name: string, options: ReadCircuitOptions = {}): Survey => {
  const read = readAnyForm(text, name, options)
  const survey: Survey = options.open ? { ...read, open: true } : read
  checkColumns(survey)
  return options.reverse ? reverseSurvey(survey) : survey
}

const readAnyForm = (text: string, name: string, options: ReadCircuitOptions): Survey => {
  const start = text
    .slice(0, 4000)
    .replace(/^\ufeff/, '')
    .trimStart()
  if (start[0] === '{') return readCircuitGeoJson(text, name, options)
  if (start[0] === '<') return /<kml[\s>]/.test(start) ? readCircuitKml(text, name, options) : readCircuitGpx(text, name, options)
  return readCircuitCsv(text, name, options)
}
