import { XMLBuilder } from 'fast-xml-parser'
import type { Survey } from '../circuit/survey.ts'
import { CoreError } from '../errors/errors.ts'
import { radians } from '../units/convert.ts'
import { type CircuitLine, chosenLine, type PerPoint, surveyOfLine } from './circuit-lines.ts'
import { geodeticOf } from './geodetic-points.ts'
import type { ReadCircuitOptions } from './read-circuit-options.ts'
import { parseXml } from './xml.ts'

const lists = new Set<string>()

/** What is said of a line by the elements around it: its name, and fields of data by name. */
type Said = { name: string | undefined; data: Readonly<Record<string, string>> }

const listOf = (value: unknown): unknown[] => (value === undefined ? [] : Array.isArray(value) ? value : [value])
const fieldOf = (node: unknown, name: string): unknown =>
  typeof node === 'object' && node !== null ? (node as Record<string, unknown>)[name] : undefined

/** Fields of an element's own data, whichever of the ways of KML they are written in. */
const dataOf = (node: Record<string, unknown>): Record<string, string> => {
  const extended = listOf(node.ExtendedData)
  const schemas = extended.flatMap((e) => listOf(fieldOf(e, 'SchemaData')))
  const pairs = [
    ...extended.flatMap((e) => listOf(fieldOf(e, 'Data'))).map((d) => [fieldOf(d, 'name'), fieldOf(d, 'value')]),
    ...schemas.flatMap((s) => listOf(fieldOf(s, 'SimpleData'))).map((d) => [fieldOf(d, 'name'), fieldOf(d, '#text')]),
    ...schemas
      .flatMap((s) => listOf(fieldOf(s, 'SimpleArrayData')))
      .map((d) => [fieldOf(d, 'name'), listOf(fieldOf(d, 'value')).join(' ')]),
  ]
  return Object.fromEntries(
    pairs.flatMap(([name, value]) => (typeof name === 'string' && typeof value === 'string' ? [[name, value]] : [])),
  )
}

/** A number, or a list of them as converters write it: `(3:7,7,6.5)`. Undefined where it is none. */
const numbersIn = (text: string | undefined): PerPoint | undefined => {
  if (text === undefined) return undefined
  const values = text
    .replace(/^\s*\(\d+:|\)\s*$/g, '')
    .split(/[\s,]+/)
    .filter((v) => v !== '')
    .map(Number)
  if (values.length === 0 || values.some((v) => !Number.isFinite(v))) return undefined
  return values.length === 1 ? values[0] : values
}

/** Lines in an element and in those that it holds. */
const linesIn = (node: unknown, around: Said): CircuitLine[] => {
  if (Array.isArray(node)) return node.flatMap((child) => linesIn(child, around))
  if (typeof node !== 'object' || node === null) return []
  const record = node as Record<string, unknown>
  const said: Said = {
    name: typeof record.name === 'string' ? record.name : around.name,
    data: 'ExtendedData' in record ? dataOf(record) : around.data,
  }
  return Object.entries(record).flatMap(([key, child]) => {
    if (key === 'LineString' || key === 'LinearRing')
      return listOf(child).flatMap((line) => {
        const coordinates = fieldOf(line, 'coordinates')
        return typeof coordinates === 'string' ? [lineOf(coordinates.trim().split(/\s+/), /,/, said)] : []
      })
    if (key === 'Track') return listOf(child).map((line) => lineOf(listOf(fieldOf(line, 'coord')).map(String), /\s+/, said))
    return linesIn(child, said)
  })
}

/** A line of triples of longitude, latitude and height. @throws CoreError 'number-invalid' naming the first that is none */
const lineOf = (triples: readonly string[], between: RegExp, { name, data }: Said): CircuitLine => {
  const points = triples.map((triple) => triple.trim().split(between).map(Number))
  const broken = points.findIndex((p) => p.length < 2 || p.some((v) => !Number.isFinite(v)))
  if (broken >= 0)
    throw new CoreError('number-invalid', `point ${broken + 1}`, {
      value: triples[broken].slice(0, 40),
      column: 'coordinates',
      range: 'as longitude,latitude,height',
    })
  const bank = numbersIn(data.bank_deg)
  return {
    name,
    points,
    widthLeft_m: numbersIn(data.width_left_m),
    widthRight_m: numbersIn(data.width_right_m),
    bank_rad: typeof bank === 'number' ? radians(bank) : bank?.map(radians),
  }
}

/** Lines of a KML file: lines, outlines of areas, and tracks. @throws CoreError 'file-unreadable' or 'number-invalid' */
export const kmlLines = (text: string): CircuitLine[] => {
  const lines = linesIn(parseXml(text, 'KML circuit', lists), { name: undefined, data: {} })
  if (lines.length === 0) throw new CoreError('file-unreadable', 'file', { expected: 'KML circuit', why: 'it has no line' })
  return lines
}

/** Reads the line of a KML 2.2 file; widths and bank where its data have them, else assumed. */
export const readCircuitKml = (text: string, name: string, options: ReadCircuitOptions): Survey =>
  surveyOfLine(chosenLine(kmlLines(text), options.track), name, options)

const builder = new XMLBuilder({ ignoreAttributes: false, format: true, suppressEmptyNode: true })

/** Writes an XML document. */
export const writeXml = (body: object): string => builder.build({ '?xml': { '@_version': '1.0', '@_encoding': 'UTF-8' }, ...body })

/** Writes a survey's centreline as KML 2.2. @throws CoreError 'circuit-no-place' without an origin */
export const writeCircuitKml = (survey: Survey): string => {
  const { lat_deg, lon_deg, height_m } = geodeticOf(survey)
  const coordinates = Array.from(lat_deg, (lat, i) => `${lon_deg[i].toFixed(9)},${lat.toFixed(9)},${height_m[i].toFixed(3)}`).join(' ')
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
  const trkpt = Array.from(lat_deg, (lat, i) => ({ '@_lat': lat.toFixed(9), '@_lon': lon_deg[i].toFixed(9), ele: height_m[i].toFixed(3) }))
  return writeXml({
    gpx: {
      '@_version': '1.1',
      '@_creator': 'Ochote',
      '@_xmlns': 'http://www.topografix.com/GPX/1/1',
      trk: { name: survey.name, trkseg: { trkpt } },
    },
  })
}
