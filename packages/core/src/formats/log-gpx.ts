import { CoreError } from '../errors/errors.ts'
import type { ReceivedFix } from '../log/received-fix.ts'
import { parseXml } from './xml.ts'

const lists = new Set(['trk', 'trkseg', 'trkpt'])

type GpxPoint = { lat?: string; lon?: string; ele?: string; time?: string; speed?: string; extensions?: Record<string, unknown> }

/** Timed positions of a GPX file's tracks, in their order. @throws CoreError where it is none, or has no times */
export const gpxFixes = (text: string): ReceivedFix[] => {
  const parsed = parseXml(text, 'GPX log', lists) as { gpx?: { trk?: { trkseg?: ({ trkpt?: GpxPoint[] } | string)[] }[] } }
  const points = (parsed.gpx?.trk ?? []).flatMap((track) =>
    (track.trkseg ?? []).flatMap((segment) => (typeof segment === 'string' ? [] : (segment.trkpt ?? []))),
  )
  const timed = points.filter((p) => p.time !== undefined)
  if (points.length > 0 && timed.length < points.length / 2)
    throw new CoreError('columns-missing', 'file', { missing: 'time of the points', found: 'lat, lon', needed: 'time, lat, lon' })
  return timed.flatMap((p) => {
    const fix: ReceivedFix = {
      time_s: Date.parse(p.time ?? '') / 1000,
      lat_deg: Number(p.lat),
      lon_deg: Number(p.lon),
      ele_m: p.ele === undefined ? undefined : Number(p.ele),
      speed_mps: gpxSpeed(p),
    }
    return Number.isFinite(fix.time_s) && Number.isFinite(fix.lat_deg) && Number.isFinite(fix.lon_deg) ? [fix] : []
  })
}

/** Speed of a point (m/s): GPX 1.0 has an element for it, GPX 1.1 files put one into their extensions. */
const gpxSpeed = (point: GpxPoint): number | undefined => {
  const search = (value: unknown, depth: number): number | undefined => {
    if (typeof value !== 'object' || value === null || depth > 3) return undefined
    for (const [name, inner] of Object.entries(value)) {
      if (name === 'speed' && Number.isFinite(Number(inner))) return Number(inner)
      const deeper = search(inner, depth + 1)
      if (deeper !== undefined) return deeper
    }
    return undefined
  }
  return point.speed === undefined ? search(point.extensions, 0) : Number(point.speed)
}
