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

/** How other devices reach the server: its addresses, where they learn to trust it, and the fingerprint of its own authority. */
export const networkSchema = z.object({
  addresses: z.array(z.string()),
  onboarding: z.array(z.string()),
  fingerprint: z.string().nullable(),
})
export type Network = z.infer<typeof networkSchema>
