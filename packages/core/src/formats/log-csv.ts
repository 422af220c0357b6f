import { channelNames, channels } from '../log/channels.ts'
import type { Log } from '../log/log.ts'
import { writeColumns } from './table.ts'

/** Writes a log as CSV: `time_s,lat_deg,lon_deg,ele_m` and those of the other channels that it has. */
export const writeLogCsv = (log: Log): string =>
  writeColumns(
    channelNames.flatMap((channel) => {
      const { column, digits } = channels[channel]
      const values = log[column]
      return values ? [{ name: column, values, digits }] : []
    }),
  )
