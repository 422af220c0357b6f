import { XMLParser } from 'fast-xml-parser'
import { CoreError } from '../errors.ts'
import type { Log } from '../log/log.ts'
import { pickRows } from '../log/robust.ts'
import { readJsonLine } from './json-lines.ts'
import { type Channel, channelUnits, guessMapping, type LogMapping, mappingOf } from './log-mapping.ts'
import { type LogTable, readLogTable } from './log-table.ts'
import { nmeaReader } from './nmea.ts'
import type { ReceivedFix } from './received-fix.ts'

/** How a log file is written. */
export const logForms = ['table', 'gpx', 'nmea', 'json-lines'] as const
export type LogForm = (typeof logForms)[number]

/** The form of a log file, by its first characters. */
export const logFormOf = (text: string): LogForm => {
  const start = text
    .slice(0, 400)
    .replace(/^\ufeff/, '')
    .trimStart()
  if (start.startsWith('<')) return 'gpx'
  if (start.startsWith('{')) return 'json-lines'
  return /^[$!][A-Z]{2,}/.test(start) ? 'nmea' : 'table'
}

/**
 * Reads a log of any form: a table of any header (by a mapping, or by guessing one), GPX, NMEA 0183 or JSON lines.
 * @throws CoreError for files that cannot be used, with place and remedy; 'log-units' where a header's unit of speed does
 *   not fit the way covered and no mapping decides
 */
export const readLog = (text: string, mapping?: LogMapping): Log => {
  switch (logFormOf(text)) {
    case 'gpx':
      return logOfFixes(gpxFixes(text), 'GPX log')
    case 'nmea':
      return logOfFixes(nmeaFixes(text), 'NMEA log')
    case 'json-lines':
      return logOfFixes(jsonFixes(text), 'log of JSON lines')
    default:
      return logOfTable(readLogTable(text), mapping)
  }
}

/** A log out of a table. @throws CoreError as `readLog` */
export const logOfTable = (table: LogTable, mapping?: LogMapping): Log => {
  const guessed = guessMapping(table)
  const chosen = mapping ?? mappingOf(guessed)
  const speed = guessed.find((g) => g.channel === 'speed')
  if (!mapping && speed?.speaksFor) throw new CoreError('log-units', `column ${speed.column}`, { unit: speed.unit, fits: speed.speaksFor })
  const missing = (['time', 'lat', 'lon'] as const).filter((channel) => !chosen[channel])
  if (missing.length > 0)
    throw new CoreError('columns-missing', `row ${Math.max(1, table.firstRow - 1)}`, {
      missing: missing.map((m) => needed[m]).join(', '),
      found: table.columns
        .map((c) => c.name)
        .join(', ')
        .slice(0, 200),
      needed: Object.values(needed).join(', '),
    })
  const column = (channel: Channel): Float64Array | undefined => {
    const wanted = chosen[channel]
    if (!wanted) return undefined
    const found = table.columns.find((c) => c.name === wanted.column)
    const factor = channelUnits[channel][wanted.unit]
    if (!found)
      throw new CoreError('columns-missing', 'mapping', {
        missing: wanted.column,
        found: table.columns
          .map((c) => c.name)
          .join(', ')
          .slice(0, 200),
        needed: channel,
      })
    if (factor === undefined)
      throw new CoreError('setting-range', `mapping of ${channel}`, {
        field: 'unit',
        value: wanted.unit,
        range: Object.keys(channelUnits[channel]).join(', '),
      })
    return factor === 1 || found.kind !== 'number' ? found.values.slice() : found.values.map((v) => v * factor)
  }
  const own = {
    time_s: column('time') as Float64Array,
    lat_deg: column('lat') as Float64Array,
    lon_deg: column('lon') as Float64Array,
    ele_m: column('ele') ?? new Float64Array(table.rows),
    speed_mps: column('speed'),
    throttle_pct: column('throttle'),
    brake_bar: column('brake'),
    steer_deg: column('steer'),
    gear: column('gear'),
    rpm: column('rpm'),
  }
  const log = Object.fromEntries(Object.entries(own).filter(([, values]) => values?.some((v) => Number.isFinite(v)))) as Log
  log.ele_m ??= new Float64Array(table.rows)
  for (const name of ['time_s', 'lat_deg', 'lon_deg'] as const)
    if (!log[name]) throw new CoreError('file-empty', `column of ${name}`, { what: 'log' })
  const clocked = table.columns.find((c) => c.name === chosen.time?.column)?.kind !== 'number'
  return tidyLog(log, { row: table.firstRow, fromFirst: clocked })
}

const needed = { time: 'time', lat: 'latitude', lon: 'longitude' } as const

const DAY_S = 86_400
/** With more rows than this share out of order a file is not in the order of time. */
const MOST_BACKWARDS = 0.2

/**
 * Brings a log into order: missing stamps are filled in evenly, stamps that were there already or run back a little are
 * dropped, midnight is passed; positions that a slower receiver repeats, or leaves empty, are laid evenly between its own.
 * @param row number of the first row, for messages; fromFirst: count the time from the first row
 * @throws CoreError 'log-stamps' where time runs backwards, 'number-invalid' for places off the globe
 */
const tidyLog = (log: Log, { row, fromFirst }: { row: number; fromFirst: boolean }): Log => {
  const time = filled(log.time_s)
  const keep: number[] = []
  let days = 0
  let last = Number.NEGATIVE_INFINITY
  let backwards = 0
  let firstBack = -1
  for (let i = 0; i < time.length; i++) {
    let t = time[i] + days * DAY_S
    if (fromFirst && t < last - DAY_S / 2) {
      days++
      t += DAY_S
    }
    if (t < last) {
      backwards++
      if (firstBack < 0) firstBack = i
    }
    if (!(t > last)) continue
    time[i] = t
    last = t
    keep.push(i)
  }
  if (backwards > MOST_BACKWARDS * time.length)
    throw new CoreError('log-stamps', `row ${row + firstBack}`, { before: time[Math.max(0, firstBack - 1)], after: log.time_s[firstBack] })
  const zero_s = fromFirst ? time[keep[0]] : 0
  const out = Object.fromEntries(
    Object.entries(log).map(([name, column]) => [name, pickRows(name === 'time_s' ? time.map((t) => t - zero_s) : column, keep)]),
  ) as Log
  for (let i = 0; i < out.lat_deg.length; i++)
    if (Math.abs(out.lat_deg[i]) > 90 || Math.abs(out.lon_deg[i]) > 180)
      throw new CoreError('number-invalid', `row ${row + keep[i]}`, {
        value: `${out.lat_deg[i]}, ${out.lon_deg[i]}`,
        column: 'latitude, longitude',
        range: 'within ±90 and ±180 degrees',
      })
  spreadPlaces(out)
  return out
}

/** A column of stamps without holes: missing ones evenly between their neighbours; rows past the last known one carry on. */
const filled = (column: Float64Array): Float64Array => {
  const out = Float64Array.from(column)
  let before = -1
  for (let i = 0; i < out.length; i++) {
    if (!Number.isFinite(out[i])) continue
    if (before >= 0 && i - before > 1)
      for (let k = before + 1; k < i; k++) out[k] = out[before] + ((out[i] - out[before]) * (k - before)) / (i - before)
    before = i
  }
  return out
}

/** Share of rows that repeat the place before them from which a receiver is taken to be slower than the log. */
const HELD_SHARE = 0.3

/** Lays places that are empty, or held by a slower receiver, evenly in time between the receiver's own. In place. */
const spreadPlaces = (log: Log): void => {
  const { time_s, lat_deg, lon_deg, ele_m } = log
  const n = time_s.length
  let same = 0
  for (let i = 1; i < n; i++) if (lat_deg[i] === lat_deg[i - 1] && lon_deg[i] === lon_deg[i - 1]) same++
  const held = same > HELD_SHARE * n
  let before = -1
  for (let i = 0; i < n; i++) {
    const known = Number.isFinite(lat_deg[i]) && Number.isFinite(lon_deg[i])
    const repeats = held && before >= 0 && lat_deg[i] === lat_deg[before] && lon_deg[i] === lon_deg[before]
    if (!known || repeats) continue
    if (before >= 0 && i - before > 1)
      for (let k = before + 1; k < i; k++) {
        const share = (time_s[k] - time_s[before]) / (time_s[i] - time_s[before])
        lat_deg[k] = lat_deg[before] + share * (lat_deg[i] - lat_deg[before])
        lon_deg[k] = lon_deg[before] + share * (lon_deg[i] - lon_deg[before])
        ele_m[k] = (ele_m[before] || 0) + share * ((ele_m[i] || 0) - (ele_m[before] || 0))
      }
    before = i
  }
}

const logOfFixes = (fixes: readonly ReceivedFix[], what: string): Log => {
  if (fixes.length === 0) throw new CoreError('file-empty', 'file', { what })
  const column = (value: (fix: ReceivedFix) => number | undefined): Float64Array | undefined =>
    fixes.some((fix) => value(fix) !== undefined) ? Float64Array.from(fixes, (fix) => value(fix) ?? Number.NaN) : undefined
  const own = {
    time_s: Float64Array.from(fixes, (f) => f.time_s),
    lat_deg: Float64Array.from(fixes, (f) => f.lat_deg),
    lon_deg: Float64Array.from(fixes, (f) => f.lon_deg),
    ele_m: Float64Array.from(fixes, (f) => f.ele_m ?? 0),
    speed_mps: column((f) => f.speed_mps),
    throttle_pct: column((f) => f.throttle_pct),
    brake_bar: column((f) => f.brake_bar),
    steer_deg: column((f) => f.steer_deg),
    gear: column((f) => f.gear),
    rpm: column((f) => f.rpm),
  }
  const log = Object.fromEntries(Object.entries(own).filter(([, values]) => values !== undefined)) as Log
  return tidyLog(log, { row: 1, fromFirst: true })
}

const linesOf = function* (text: string): Generator<string> {
  for (let at = 0; at < text.length; ) {
    const end = text.indexOf('\n', at)
    yield text.slice(at, end < 0 ? undefined : end)
    at = end < 0 ? text.length : end + 1
  }
}

const nmeaFixes = (text: string): ReceivedFix[] => {
  const read = nmeaReader()
  const out: ReceivedFix[] = []
  for (const line of linesOf(text)) {
    const answer = read(line, 0)
    if (answer.kind === 'fix') out.push(answer.fix)
  }
  return out
}

const jsonFixes = (text: string): ReceivedFix[] => {
  const out: ReceivedFix[] = []
  for (const line of linesOf(text)) {
    const answer = readJsonLine(line)
    if (answer.kind === 'fix') out.push(answer.fix)
  }
  return out
}

type GpxPoint = { lat?: string; lon?: string; ele?: string; time?: string; speed?: string; extensions?: Record<string, unknown> }

const gpxFixes = (text: string): ReceivedFix[] => {
  const parser = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '',
    parseTagValue: false,
    removeNSPrefix: true,
    isArray: (name) => name === 'trk' || name === 'trkseg' || name === 'trkpt',
  })
  let parsed: { gpx?: { trk?: { trkseg?: ({ trkpt?: GpxPoint[] } | string)[] }[] } }
  try {
    parsed = parser.parse(text)
  } catch (error) {
    throw new CoreError('file-unreadable', 'file', { expected: 'GPX log', why: (error as Error).message.slice(0, 80) })
  }
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

/** Files of one run further apart than this at their seam are a new beginning (s). */
const SEAM_S = 1

/**
 * Joins several logs of one run in the order of their time; those whose times overlap, as when each begins at nothing, follow each other as given.
 * Channels that one of them lacks are left out.
 */
export const joinLogs = (logs: readonly Log[]): Log => {
  if (logs.length === 1) return logs[0]
  const sorted = [...logs].sort((a, b) => a.time_s[0] - b.time_s[0])
  const apart = sorted.every((log, i) => i === 0 || log.time_s[0] > (sorted[i - 1].time_s.at(-1) ?? 0))
  const ordered = apart ? sorted : [...logs]
  const names = (Object.keys(ordered[0]) as (keyof Log)[]).filter((name) => ordered.every((log) => log[name]))
  let end = Number.NEGATIVE_INFINITY
  const parts = ordered.map((log) => {
    const shift_s = log.time_s[0] > end ? 0 : end + SEAM_S - log.time_s[0]
    end = log.time_s[log.time_s.length - 1] + shift_s
    return { log, shift_s }
  })
  const rows = parts.reduce((sum, { log }) => sum + log.time_s.length, 0)
  return Object.fromEntries(
    names.map((name) => {
      const column = new Float64Array(rows)
      let at = 0
      for (const { log, shift_s } of parts) {
        const own = log[name] as Float64Array
        for (let i = 0; i < own.length; i++) column[at++] = name === 'time_s' ? own[i] + shift_s : own[i]
      }
      return [name, column]
    }),
  ) as Log
}
