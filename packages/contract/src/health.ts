import { z } from 'zod'

/** State of the server: its version, its database and the migrations that have run. */
export const healthSchema = z.object({
  status: z.literal('ok'),
  version: z.string(),
  database: z.object({ file: z.string(), journal: z.string() }),
  migrations: z.array(z.string()),
  /** Stored rows that could not be read since the start, each with what is wrong. */
  broken: z.array(z.object({ table: z.string(), id: z.string(), why: z.string() })),
})
