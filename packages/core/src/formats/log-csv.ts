import { type Log, logColumns } from '../log/log.ts'
import { writeColumns } from './table.ts'

const digits: Record<(typeof logColumns)[number], number> = {
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

/** Writes a log as CSV: `time_s,lat_deg,lon_deg,ele_m` and those of the other channels that it has. */
export const writeLogCsv = (log: Log): string =>
  writeColumns(logColumns.flatMap((name) => (log[name] ? [{ name, values: log[name], digits: digits[name] }] : [])))
