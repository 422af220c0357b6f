import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser'
import type { Survey } from '../circuit/survey.ts'
import { CoreError } from '../errors/errors.ts'
import { geodeticOf, surveyFromGeodetic } from './geodetic-points.ts'

const parser = new XMLParser({ ignoreAttributes: false, parseTagValue: false })

type Place = { name: string | undefined; coordinates: string }

/** All lines (and outlines of areas) of a document, wherever they are nested. */
const linesIn = (node: unknown, name?: string): Place[] => {
  if (Array.isArray(node)) return node.flatMap((child) => linesIn(child, name))
  if (typeof node !== 'object' || node === null) return []
  const record = node as Record<string, unknown>
  const label = typeof record.name === 'string' ? record.name : name
  return Object.entries(record).flatMap(([key, child]) => {
    if (key !== 'LineString' && key !== 'LinearRing') return linesIn(child, label)
    return (Array.isArray(child) ? child : [child]).flatMap((line) =>
      typeof line?.coordinates === 'string' ? [{ name: label, coordinates: line.coordinates as string }] : [],
    )
  })
}

/**
 * Reads the line (LineString or outline of a Polygon) of a KML 2.2 file; KML knows no widths: `width_m` is taken on each side.
 * @param choice name or number (from 1) of the line where the file holds several
 */
export const readCircuitKml = (text: string, name: string, width_m: number | undefined, choice?: string): Survey => {
  const unreadable = (why: string): CoreError => new CoreError('file-unreadable', 'file', { expected: 'KML circuit', why })
  const valid = XMLValidator.validate(text)
  if (valid !== true) throw unreadable(`XML is broken in line ${valid.err.line}`)
  const lines = linesIn(parser.parse(text))
  if (lines.length === 0) throw unreadable('it has no line')
  const names = lines.map((line, i) => line.name ?? String(i + 1))
  const byName = choice === undefined ? 0 : names.indexOf(choice)
  const line = lines[byName >= 0 ? byName : Number(choice) - 1]
  if ((lines.length > 1 && choice === undefined) || !line)
    throw new CoreError('circuit-several-tracks', 'file', { count: lines.length, names: names.join(', ') })
  const points = line.coordinates
    .trim()
    .split(/\s+/)
    .map((triple) => triple.split(',').map(Number))
  const broken = points.findIndex((p) => p.length < 2 || p.some((v) => !Number.isFinite(v)))
  if (broken >= 0)
    throw new CoreError('number-invalid', `point ${broken + 1}`, {
      value: line.coordinates.trim().split(/\s+/)[broken].slice(0, 40),
      column: 'coordinates',
      range: 'as longitude,latitude,height',
    })
  return surveyFromGeodetic(
    line.name ?? name,
    { lon_deg: points.map((p) => p[0]), lat_deg: points.map((p) => p[1]), height_m: points.map((p) => p[2] ?? 0) },
    { widthLeft_m: width_m, widthRight_m: width_m, bank_rad: 0 },
  )
}

const builder = new XMLBuilder({ ignoreAttributes: false, format: true, suppressEmptyNode: true })

/** Writes an XML document. */
export const writeXml = (body: object): string => builder.build({ '?xml': { '@_version': '1.0', '@_encoding': 'UTF-8' }, ...body })

/** Writes a survey's centreline as KML 2.2. @throws CoreError 'circuit-no-place' without an origin */
export const writeCircuitKml = (survey: Survey): string => {
  const { lat_deg, lon_deg, height_m } = geodeticOf(survey)
  const coordinates = lat_deg.map((lat, i) => `${lon_deg[i].toFixed(9)},${lat.toFixed(9)},${height_m[i].toFixed(3)}`).join(' ')
  return writeXml({
    kml: {
      '@_xmlns': 'http://www.opengis.net/kml/2.2',
      Document: { Placemark: { name: survey.name, LineString: { tessellate: 1, coordinates } } },
    },
  })
}

/** Writes a survey's centreline as a GPX 1.1 track. @throws CoreError 'circuit-no-place' without an origin */
export const writeCircuitGpx = (survey: Survey): string => {
  const { lat_deg, lon_deg, height_m } = geodeticOf(survey)
  const trkpt = lat_deg.map((lat, i) => ({ '@_lat': lat.toFixed(9), '@_lon': lon_deg[i].toFixed(9), ele: height_m[i].toFixed(3) }))
  return writeXml({
    gpx: {
      '@_version': '1.1',
      '@_creator': 'Ochote',
      '@_xmlns': 'http://www.topografix.com/GPX/1/1',
      trk: { name: survey.name, trkseg: { trkpt } },
    },
  })
}
