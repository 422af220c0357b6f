import { copyFileSync } from 'node:fs'
import type { TableChange } from '@ochote/contract'
import { damageOf, migrationsOf } from '../db/checked.ts'
import { releasedMigrations } from '../db/migrations/index.ts'
import { migrateCopy } from '../db/open.ts'
import { compareFiles, removeDatabase, restoreFile } from '../db/restore-file.ts'
import { HttpProblem } from '../http/problems.ts'

/** A school's file, a backup of it, where a copy of that may lie for a moment, and the school's recordings. */
export type RestoreInput = { file: string; backup: string; scratch: string; recordings: string }

/** @throws HttpProblem 422 for a backup that is damaged, 409 for one of a newer release */
const checkBackup = (backup: string): void => {
  let damage: string | null
  try {
    damage = damageOf(backup)
  } catch (error) {
    damage = error instanceof Error ? error.message : String(error)
  }
  if (damage !== null)
    throw new HttpProblem(422, 'backup-broken', 'This backup is damaged.', `Take another one; nothing was changed. (${damage})`)
  const known = new Set(releasedMigrations.map((m) => m.name))
  const newer = migrationsOf(backup).filter((name) => !known.has(name))
  if (newer.length > 0)
    throw new HttpProblem(
      409,
      'archive-version',
      `This backup was made by a newer release (${newer.at(-1)}).`,
      'Start that release, then restore it; nothing was changed.',
    )
}

/** Does some work with a copy of a backup that has today's schema. */
const withToday = async <T>({ backup, scratch }: RestoreInput, work: (copy: string) => T): Promise<T> => {
  checkBackup(backup)
  try {
    copyFileSync(backup, scratch)
    await migrateCopy(scratch)
    return work(scratch)
  } finally {
    removeDatabase(scratch)
  }
}

/** What restoring would change. */
export const compareBackup = (input: RestoreInput): Promise<TableChange[]> =>
  withToday(input, (copy) => compareFiles({ file: input.file, backup: copy }))

/** Restores all of a backup or nothing; what was changed. */
export const restoreBackup = (input: RestoreInput): Promise<TableChange[]> =>
  withToday(input, (copy) => restoreFile({ file: input.file, backup: copy, recordings: input.recordings }))

export { finishBackup } from '../db/restore-file.ts'
