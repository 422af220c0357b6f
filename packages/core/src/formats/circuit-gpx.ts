import { XMLParser, XMLValidator } from 'fast-xml-parser'
import { z } from 'zod'
import type { Survey } from '../circuit/survey.ts'
import { CoreError } from '../errors/errors.ts'
import { surveyFromGeodetic } from './geodetic-points.ts'

const point = z.object({ lat: z.coerce.number(), lon: z.coerce.number(), ele: z.coerce.number().optional() })
/** The parser gives an empty element as an empty text. */
const element = <T extends z.ZodType>(schema: T) => z.preprocess((value) => (value === '' ? {} : value), schema)
const segment = element(z.object({ trkpt: z.array(point).default([]) }))
const track = element(z.object({ name: z.coerce.string().optional(), trkseg: z.array(segment).default([]) }))
const document = z.object({ gpx: element(z.object({ trk: z.array(track).default([]) })) })

const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '',
  parseTagValue: false,
  isArray: (name) => name === 'trk' || name === 'trkseg' || name === 'trkpt',
})

/**
 * Reads the track of a GPX 1.1 file. GPX knows no widths: `width_m` is taken on each side.
 * @param track name or number (from 1) of the track where the file holds several
 */
export const readCircuitGpx = (text: string, name: string, width_m: number | undefined, trackChoice?: string): Survey => {
  const unreadable = (why: string): CoreError => new CoreError('file-unreadable', 'file', { expected: 'GPX circuit', why })
  const valid = XMLValidator.validate(text)
  if (valid !== true) throw unreadable(`XML is broken in line ${valid.err.line}`)
  const parsed = document.safeParse(parser.parse(text))
  if (!parsed.success) throw unreadable('it has no GPX tracks with positions')
  const tracks = parsed.data.gpx.trk
  if (tracks.length === 0) throw unreadable('it has no GPX track')
  const names = tracks.map((t, i) => t.name ?? String(i + 1))
  const byName = names.indexOf(trackChoice ?? names[0])
  const chosen = byName >= 0 ? byName : Number(trackChoice) - 1
  const track = tracks[chosen]
  if ((tracks.length > 1 && trackChoice === undefined) || !track)
    throw new CoreError('circuit-several-tracks', 'file', { count: tracks.length, names: names.join(', ') })
  const points = track.trkseg.flatMap((s) => s.trkpt)
  return surveyFromGeodetic(
    track.name ?? name,
    { lat_deg: points.map((p) => p.lat), lon_deg: points.map((p) => p.lon), height_m: points.map((p) => p.ele ?? 0) },
    { widthLeft_m: width_m, widthRight_m: width_m, bank_rad: 0 },
  )
}
