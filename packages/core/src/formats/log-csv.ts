import { CoreError } from '../errors.ts'
import type { Log } from '../log/log.ts'
import { numericColumns, readTable, writeColumns } from './table.ts'

const required = ['time_s', 'lat_deg', 'lon_deg', 'ele_m'] as const
const optional = ['speed_mps', 'throttle_pct', 'brake_bar', 'steer_deg', 'gear', 'rpm'] as const

/**
 * Reads a log with the columns `time_s,lat_deg,lon_deg,ele_m` and any of `speed_mps,throttle_pct,brake_bar,steer_deg,gear,rpm`.
 * Rows that repeat the stamp before them are dropped.
 * @throws CoreError 'log-stamps' where time runs backwards, 'number-invalid' for places off the globe
 */
export const readLogCsv = (text: string): Log => {
  const columns = numericColumns(readTable(text, 'log CSV'), 'log', required, optional)
  const time = columns.time_s
  const keep: number[] = []
  for (let i = 0; i < time.length; i++) {
    const before = keep.length > 0 ? time[keep[keep.length - 1]] : Number.NEGATIVE_INFINITY
    if (time[i] < before) throw new CoreError('log-stamps', `row ${i + 2}`, { before, after: time[i] })
    if (Math.abs(columns.lat_deg[i]) > 90 || Math.abs(columns.lon_deg[i]) > 180)
      throw new CoreError('number-invalid', `row ${i + 2}`, {
        value: `${columns.lat_deg[i]}, ${columns.lon_deg[i]}`,
        column: 'lat_deg, lon_deg',
        range: 'within ±90 and ±180 degrees',
      })
    if (time[i] > before) keep.push(i)
  }
  const pick = (column: Float64Array): Float64Array => (keep.length === column.length ? column : Float64Array.from(keep, (i) => column[i]))
  return Object.fromEntries(Object.entries(columns).map(([name, column]) => [name, pick(column as Float64Array)])) as Log
}

const digits: Record<(typeof required)[number] | (typeof optional)[number], number> = {
  time_s: 3,
  lat_deg: 9,
  lon_deg: 9,
  ele_m: 3,
  speed_mps: 3,
  throttle_pct: 1,
  brake_bar: 2,
  steer_deg: 2,
  gear: 0,
  rpm: 0,
}

/** Writes a log in the same form. */
export const writeLogCsv = (log: Log): string =>
  writeColumns([...required, ...optional].flatMap((name) => (log[name] ? [{ name, values: log[name], digits: digits[name] }] : [])))
