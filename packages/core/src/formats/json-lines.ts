import { optionalColumns } from '../log/channels.ts'
import type { ReceivedFix, ReceiverLine } from '../log/received-fix.ts'

/** Optional values of a line beside moment and place; each is a number in the unit of its name. */
const carried = ['ele_m' as const, ...optionalColumns]

const isNumber = (value: unknown): value is number => typeof value === 'number' && Number.isFinite(value)

/**
 * Reads one line of the JSON form: `{"t": "2027-05-15T09:41:00.040Z", "lat": 0.01, "lon": 0.02, "speed_mps": 31.2, …}`, or the
 * greeting `{"hello": "simulated logger", "factor": 4, "car": "1"}`, or the farewell `{"bye": "simulated logger"}`. Unknown
 * names are ignored.
 */
export const readJsonLine = (line: string): ReceiverLine => {
  let value: unknown
  try {
    value = JSON.parse(line)
  } catch {
    return { kind: 'garbage' }
  }
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return { kind: 'garbage' }
  const row = value as Record<string, unknown>
  const car = typeof row.car === 'string' && row.car.length <= 12 ? row.car : undefined
  if (typeof row.hello === 'string') {
    const factor = isNumber(row.factor) && row.factor >= 1 && row.factor <= 60 ? row.factor : 1
    return { kind: 'hello', hello: { hello: row.hello.slice(0, 60), factor, car } }
  }
  if (typeof row.bye === 'string') return { kind: 'bye' }
  if (row.t === undefined) return { kind: 'unknown' }
  const time_s = typeof row.t === 'string' ? Date.parse(row.t) / 1000 : Number.NaN
  if (!Number.isFinite(time_s) || !isNumber(row.lat) || !isNumber(row.lon)) return { kind: 'garbage' }
  if (Math.abs(row.lat) > 90 || Math.abs(row.lon) > 180) return { kind: 'garbage' }
  const fix: ReceivedFix = { time_s, lat_deg: row.lat, lon_deg: row.lon, car }
  for (const name of carried) {
    const channel = row[name]
    if (isNumber(channel)) fix[name] = channel
  }
  return { kind: 'fix', fix }
}

/** One position as a line of the JSON form. */
export const writeJsonLine = (fix: ReceivedFix): string => {
  const row: Record<string, unknown> = {
    t: new Date(Math.round(fix.time_s * 1000)).toISOString(),
    lat: Number(fix.lat_deg.toFixed(9)),
    lon: Number(fix.lon_deg.toFixed(9)),
  }
  for (const name of carried) {
    const channel = fix[name]
    if (channel !== undefined) row[name] = Number(channel.toFixed(3))
  }
  if (fix.car !== undefined) row.car = fix.car
  return JSON.stringify(row)
}
