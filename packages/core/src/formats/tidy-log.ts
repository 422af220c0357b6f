import { CoreError } from '../errors/errors.ts'
import type { Log } from '../log/log.ts'
import { pickRows } from '../solve/robust.ts'

const DAY_S = 86_400
/** With more rows than this share out of order a file is not in the order of time. */
const MAX_BACKWARDS = 0.2

/**
 * Brings a log into order: missing stamps are filled in evenly, stamps that were there already or run back a little are
 * dropped, midnight is passed; positions that a slower receiver repeats, or leaves empty, are spread evenly between its own.
 * @param row number of the first row, for messages; fromFirst: count the time from the first row
 * @throws CoreError 'log-stamps' where time runs backwards, 'number-invalid' for places off the globe
 */
export const tidyLog = (log: Log, { row, fromFirst }: { row: number; fromFirst: boolean }): Log => {
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
  if (backwards > MAX_BACKWARDS * time.length)
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

/** Spreads places that are empty, or repeated by a slower receiver, evenly in time between the receiver's own. In place. */
const spreadPlaces = (log: Log): void => {
  const { time_s, lat_deg, lon_deg, ele_m } = log
  const n = time_s.length
  let same = 0
  for (let i = 1; i < n; i++) if (lat_deg[i] === lat_deg[i - 1] && lon_deg[i] === lon_deg[i - 1]) same++
  const isRepeated = same > HELD_SHARE * n
  let before = -1
  for (let i = 0; i < n; i++) {
    const hasPlace = Number.isFinite(lat_deg[i]) && Number.isFinite(lon_deg[i])
    const repeats = isRepeated && before >= 0 && lat_deg[i] === lat_deg[before] && lon_deg[i] === lon_deg[before]
    if (!hasPlace || repeats) continue
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
