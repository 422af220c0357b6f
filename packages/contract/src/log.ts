import { type Log, readLogCsv } from '@ochote/core'
import { z } from 'zod'

const column = z.instanceof(Float64Array)

/** A log out of a file: columns of equal length, at least two rows, places on the globe. */
const logSchema = z
  .object({
    time_s: column.refine((c) => c.length >= 2, 'A log needs at least two rows'),
    lat_deg: column.refine((c) => c.every((v) => Math.abs(v) <= 90), 'Latitudes lie within ±90°'),
    lon_deg: column.refine((c) => c.every((v) => Math.abs(v) <= 180), 'Longitudes lie within ±180°'),
    ele_m: column,
    speed_mps: column.optional(),
    throttle_pct: column.optional(),
    brake_bar: column.optional(),
    steer_deg: column.optional(),
    gear: column.optional(),
    rpm: column.optional(),
  })
  .refine((log) => Object.values(log).every((c) => c === undefined || c.length === log.time_s.length), 'All columns have the same length')

/** Reads a log file and holds it against the schema. @throws CoreError or ZodError for files that cannot be used */
export const parseLogFile = (text: string): Log => logSchema.parse(readLogCsv(text)) as Log
