import { CoreError } from '../errors/errors.ts'
import { type Channel, channelNames, channels, unitsOf } from '../log/channels.ts'
import type { Log } from '../log/log.ts'
import { guessMapping, type LogMapping, mappingOf } from './log-mapping.ts'
import { type LogFile, readLogText } from './log-reader.ts'
import type { LogTable } from './log-table.ts'
import { tidyLog } from './tidy-log.ts'

/**
 * Reads a log of any form out of a text: a table of any header (by a mapping, or by guessing one), GPX, NMEA 0183 or JSON lines.
 * @throws CoreError as `logOf` and `readLogText`
 */
export const readLog = (text: string, mapping?: LogMapping): Log => logOf(readLogText(text), mapping)

/**
 * The log that a file holds.
 * @throws CoreError for files that cannot be used, with place and remedy; 'log-units' where a header's unit of speed does not
 * match the distance covered and no mapping decides
 */
export const logOf = (file: LogFile, mapping?: LogMapping): Log => (file.form === 'table' ? logOfTable(file.table, mapping) : file.log)

/** A log out of a table. @throws CoreError as `logOf` */
const logOfTable = (table: LogTable, mapping?: LogMapping): Log => {
  const guessed = guessMapping(table)
  const chosen = mapping ?? mappingOf(guessed)
  const speed = guessed.find((g) => g.channel === 'speed')
  if (!mapping && speed?.speaksFor) throw new CoreError('log-units', `column ${speed.column}`, { unit: speed.unit, fits: speed.speaksFor })
  const missing = missingChannels(chosen)
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
    const factor = unitsOf(channel)[wanted.unit]
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
        range: Object.keys(unitsOf(channel)).join(', '),
      })
    return factor === 1 || found.kind !== 'number' ? found.values.slice() : found.values.map((v) => v * factor)
  }
  const found = channelNames.map((channel) => [channels[channel].column, column(channel)] as const)
  const log = Object.fromEntries(found.filter(([, values]) => values?.some((v) => Number.isFinite(v)))) as Log
  log.ele_m ??= new Float64Array(table.rows)
  const tellsWay = (log.lat_deg && log.lon_deg) || (log.x_m && log.y_m) || log.distance_m || (log.lap && log.speed_mps)
  if (!log.time_s || !tellsWay) throw new CoreError('file-empty', `column of ${log.time_s ? 'positions' : 'time'}`, { what: 'log' })
  log.lat_deg ??= new Float64Array(table.rows).fill(Number.NaN)
  log.lon_deg ??= new Float64Array(table.rows).fill(Number.NaN)
  const clocked = table.columns.find((c) => c.name === chosen.time?.column)?.kind !== 'number'
  return tidyLog(log, { row: table.firstRow, fromFirst: clocked })
}

const needed = { time: 'time', lat: 'latitude', lon: 'longitude' } as const

/**
 * Channels that a mapping lacks: time, and latitude and longitude where no other channels tell the way (local coordinates; the
 * distance in the lap; the number of the lap with a speed).
 */
export const missingChannels = (mapping: LogMapping): (keyof typeof needed)[] => {
  const { x, y, distance, lap, speed } = mapping
  const otherwise = (x && y) || distance || (lap && speed)
  return (['time', 'lat', 'lon'] as const).filter((channel) => !mapping[channel] && (channel === 'time' || !otherwise))
}
