import { z } from 'zod'

/** Why a backup was made. */
export const backupReasons = ['hourly', 'nightly', 'by-hand', 'before-upgrade', 'before-restore'] as const
export type BackupReason = (typeof backupReasons)[number]

/** A backup: a file in the folder of backups. `checked`: it was read whole after it was written, and nothing was wrong. */
export const backupSchema = z.object({
  name: z.string(),
  at: z.iso.datetime(),
  reason: z.enum(backupReasons),
  size_bytes: z.number().int(),
  checked: z.boolean(),
})
export type Backup = z.infer<typeof backupSchema>

/** What a restore would change in one table: rows that come back, rows that go, rows that become other ones. */
export const tableChangeSchema = z.object({
  table: z.string(),
  inSchool: z.number().int(),
  inBackup: z.number().int(),
  back: z.number().int(),
  gone: z.number().int(),
  other: z.number().int(),
})
export type TableChange = z.infer<typeof tableChangeSchema>

/** What a restore would change, or has changed. */
export const restoreSchema = z.object({ name: z.string(), at: z.iso.datetime(), tables: z.array(tableChangeSchema) })
