import { channels, type Log, type LogFile, type LogMapping, logOf } from '@ochote/core'
import { z } from 'zod'
import { validationProblem } from './validation-problem.ts'

const column = z.instanceof(Float64Array)

/** A log out of a file: columns of equal length, places on the globe. */
const logSchema = z
  .object({
    time_s: column,
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

/** Which column of a log file is which channel, in which unit. */
export const logMappingSchema = z.partialRecord(
  z.enum(channels),
  z.object({ column: z.string().min(1).max(200), unit: z.string().max(20) }),
)

/** The log that a file holds, held against the schema. @throws CoreError for files that cannot be used */
export const parseLog = (file: LogFile, mapping?: LogMapping): Log => {
  const parsed = logSchema.safeParse(logOf(file, mapping))
  if (!parsed.success) throw validationProblem('log', parsed.error)
  return parsed.data as Log
}
