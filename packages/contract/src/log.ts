import { channelNames } from '@ochote/core'
import { z } from 'zod'

/** Which column of a log file is which channel, in which unit. */
export const logMappingSchema = z.partialRecord(
  z.enum(channelNames),
  z.object({ column: z.string().min(1).max(200), unit: z.string().max(20) }),
)
