import { z } from 'zod'
import type { Survey } from '../circuit/survey.ts'
import { CoreError } from '../errors/errors.ts'
import { type CircuitLine, chosenLine, surveyOfLine } from './circuit-lines.ts'
import type { ReadCircuitOptions } from './read-circuit-options.ts'
import { parseXml } from './xml.ts'

const point = z.object({
  lat: z.coerce.number(),
  lon: z.coerce.number(),
  ele: z.coerce.number().optional(),
  name: z.coerce.string().optional(),
})
/** The parser gives an empty element as an empty text. */
const element = <T extends z.ZodType>(schema: T) => z.preprocess((value) => (value === '' ? {} : value), schema)
const points = z.array(point).default([])
const segment = element(z.object({ trkpt: points }))
const track = element(z.object({ name: z.coerce.string().optional(), trkseg: z.array(segment).default([]) }))
const route = element(z.object({ name: z.coerce.string().optional(), rtept: points }))
const document = z.object({
  gpx: element(z.object({ trk: z.array(track).default([]), rte: z.array(route).default([]), wpt: points })),
})

const lists = new Set(['trk', 'trkseg', 'trkpt', 'rte', 'rtept', 'wpt'])

/** A place by its own in a GPX file. */
export type Waypoint = { name: string; lat_deg: number; lon_deg: number }

/**
 * Lines of a GPX file: its tracks; without one, its routes; without one, its waypoints in their order. And the waypoints.
 * @throws CoreError 'file-unreadable'
 */
export const gpxLines = (text: string): { lines: CircuitLine[]; waypoints: Waypoint[] } => {
  const unreadable = (why: string): CoreError => new CoreError('file-unreadable', 'file', { expected: 'GPX circuit', why })
  const parsed = document.safeParse(parseXml(text, 'GPX circuit', lists))
  if (!parsed.success) throw unreadable('it has no GPX tracks or routes with positions')
  const { trk, rte, wpt } = parsed.data.gpx
  const coordinates = (list: z.infer<typeof points>): number[][] => list.map((p) => [p.lon, p.lat, p.ele ?? 0])
  const tracks = trk.map((t) => ({ name: t.name, points: coordinates(t.trkseg.flatMap((s) => s.trkpt)) }))
  const routes = rte.map((r) => ({ name: r.name, points: coordinates(r.rtept) }))
  const lines = [tracks, routes, [{ name: undefined, points: coordinates(wpt) }]]
    .map((list) => list.filter((line) => line.points.length > 0))
    .find((list) => list.length > 0)
  if (!lines) throw unreadable('it has no GPX track or route')
  return { lines, waypoints: wpt.map((p) => ({ name: p.name ?? '', lat_deg: p.lat, lon_deg: p.lon })) }
}

/** Reads the track or route of a GPX file. GPX knows no widths: they are assumed where none is given. */
export const readCircuitGpx = (text: string, name: string, options: ReadCircuitOptions): Survey =>
  surveyOfLine(chosenLine(gpxLines(text).lines, options.track), name, options)
