import { z } from 'zod'
import { backupSchema } from './backup.ts'

/** What anybody may know of a server. */
export const healthSchema = z.object({ status: z.literal('ok') })

/** State of the disk with the data: what keeps it from storing anything, whether it is nearly full, and what is free (bytes). */
export const storageSchema = z.object({
  problem: z.enum(['disk-full', 'disk-read-only']).nullable(),
  low: z.boolean(),
  free_bytes: z.number().nullable(),
})
export type StorageState = z.infer<typeof storageSchema>

/** What every screen of the staff is told of the server; `held`: positions that wait for room on the disk, and those that found none. */
export const serverStateSchema = z.object({
  storage: storageSchema,
  held: z.object({ lines: z.number().int(), dropped: z.number().int() }),
  /** How far the machine's clock is ahead of the time that the server goes by (ms); `doubtful`: no device has said yet which is right. */
  clock: z.object({ ahead_ms: z.number(), doubtful: z.boolean() }),
  /** The newest backup that was due could not be made, or was damaged. */
  backupFailed: z.boolean(),
})
export type ServerState = z.infer<typeof serverStateSchema>

/** State of the server in full, for the lead. */
export const serverHealthSchema = z.object({
  version: z.string(),
  database: z.object({ file: z.string(), journal: z.string(), size_bytes: z.number(), checkedAt: z.iso.datetime().nullable() }),
  migrations: z.array(z.string()),
  /** Stored rows that could not be read since the start, each with what is wrong. */
  broken: z.array(z.object({ table: z.string(), id: z.string(), why: z.string() })),
  storage: storageSchema,
  /** The newest backup that was checked; null for none. */
  backup: backupSchema.nullable(),
  /** Failures since the start that nobody was waiting for. */
  failures: z.number().int(),
})
export type ServerHealth = z.infer<typeof serverHealthSchema>

/** How other devices reach the server: its addresses, where they learn to trust it, and the fingerprint of its own authority. */
export const networkSchema = z.object({
  addresses: z.array(z.string()),
  onboarding: z.array(z.string()),
  fingerprint: z.string().nullable(),
})
export type Network = z.infer<typeof networkSchema>
