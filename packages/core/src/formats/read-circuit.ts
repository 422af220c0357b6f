import type { Survey } from '../circuit/survey.ts'
import { readCircuitCsv } from './circuit-csv.ts'
import { readCircuitGeoJson } from './circuit-geojson.ts'
import { readCircuitGpx } from './circuit-gpx.ts'

/** Half width (m) taken on each side where a file gives none. */
export const DEFAULT_HALF_WIDTH_M = 5

/** `width_m`: half width for files without widths. `track`: which track of a GPX with several. */
export type ReadCircuitOptions = { width_m?: number; track?: string }

/** Reads a circuit file; its form (CSV, GeoJSON, GPX) is told from its first character. */
export const readCircuit = (text: string, name: string, options: ReadCircuitOptions = {}): Survey => {
  const width_m = options.width_m ?? DEFAULT_HALF_WIDTH_M
  const start = text.trimStart().replace(/^\ufeff/, '')[0]
  if (start === '{') return readCircuitGeoJson(text, name, width_m)
  if (start === '<') return readCircuitGpx(text, name, width_m, options.track)
  return readCircuitCsv(text, name)
}
