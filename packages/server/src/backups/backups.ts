import { randomUUID } from 'node:crypto'
import { mkdirSync, renameSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import type { Backup, BackupReason, TableChange } from '@ochote/contract'
import { serverNow } from '../clock/clock.ts'
import { copyTo, type Opened } from '../db/open.ts'
import { removeDatabase } from '../db/restore-file.ts'
import { HttpProblem, notFound } from '../http/problems.ts'
import type { Jobs } from '../jobs/jobs.ts'
import { backupFolder, backupsIn, nameOf, outlived } from './backup-files.ts'

/** What backups work with. */
export type BackupWork = { opened: Opened; dataDir: string; jobs: Pick<Jobs, 'finishBackup' | 'compareBackup' | 'restoreBackup'> }

/** What restoring a backup would change, or has changed. */
export type Restored = { name: string; at: string; tables: TableChange[] }

/** Nothing is backed up here of a school that PostgreSQL keeps. */
export const keptElsewhere = (): HttpProblem =>
  new HttpProblem(
    409,
    'backups-elsewhere',
    'This school is kept in PostgreSQL, which makes its own backups.',
    'Make and restore them there, as “Several venues on PostgreSQL” in the guide says.',
  )

/** Backups of a school: made while it is in use, checked, thinned out, compared and restored, one after the other. */
export const backupService = ({ opened, dataDir, jobs }: BackupWork) => {
  const folder = backupFolder(dataDir)
  const recordings = join(dataDir, 'recordings')
  let working: Promise<unknown> = Promise.resolve()
  const inTurn = <T>(work: () => Promise<T>): Promise<T> => {
    if (opened.file === null) return Promise.reject(keptElsewhere())
    const result = working.then(work)
    working = result.catch(() => {})
    return result
  }

  const make = async (reason: BackupReason): Promise<Backup> => {
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    const name = nameOf(new Date(serverNow()), reason)
    const partial = join(folder, `${name}.partial`)
    try {
      await copyTo(opened.db, partial)
      await jobs.finishBackup({ file: partial, recordings })
      renameSync(partial, join(folder, name))
    } finally {
      removeDatabase(partial)
    }
    const all = backupsIn(dataDir)
    for (const { name: old } of outlived(all, serverNow())) rmSync(join(folder, old), { force: true })
    const made = all.find((backup) => backup.name === name)
    if (!made) throw notFound('backup')
    return made
  }
  const existing = (name: string): Backup => {
    const backup = backupsIn(dataDir).find((one) => one.name === name)
    if (!backup) throw notFound('backup')
    return backup
  }
  const input = (name: string) => ({
    file: opened.file ?? '',
    backup: join(folder, name),
    scratch: join(folder, `${randomUUID()}.scratch`),
    recordings,
  })

  return {
    /** Whether backups are made here; a school in PostgreSQL is backed up there. */
    here: opened.file !== null,
    list: (): Backup[] => backupsIn(dataDir),
    /** The newest backup that was checked; null for none. */
    newest: (): Backup | null => backupsIn(dataDir).find((backup) => backup.checked) ?? null,
    make: (reason: BackupReason): Promise<Backup> => inTurn(() => make(reason)),
    /** What restoring would change; nothing is changed. */
    compare: (name: string): Promise<Restored> =>
      inTurn(async () => {
        const { at } = existing(name)
        return { name, at, tables: await jobs.compareBackup(input(name)) }
      }),
    /** Restores a backup, after one of the school as it is now. */
    restore: (name: string): Promise<Restored> =>
      inTurn(async () => {
        const { at } = existing(name)
        await make('before-restore')
        return { name, at, tables: await jobs.restoreBackup(input(name)) }
      }),
  }
}
export type BackupService = ReturnType<typeof backupService>

const HOUR_MS = 3600 * 1000

/** The hour of the night, where this server stands, from which the nightly backup is due. */
const NIGHT_HOUR = 3

/** True where the newest backup of a kind is older than this (ms), or there is none. */
const isOlder = (backups: readonly Backup[], reasons: readonly BackupReason[], than_ms: number, now: number): boolean => {
  const newest = backups.find((backup) => reasons.includes(backup.reason))
  return !newest || now - Date.parse(newest.at) > than_ms
}

/** Which backup is due: hourly while a day runs, nightly otherwise, and at once where there has been none for a day. */
export const dueNow = (backups: readonly Backup[], dayRuns: boolean, now: Date): BackupReason | null => {
  const at = now.getTime()
  if (
    isOlder(backups, ['nightly'], 20 * HOUR_MS, at) &&
    (now.getHours() === NIGHT_HOUR || isOlder(backups, ['nightly', 'by-hand'], 26 * HOUR_MS, at))
  )
    return 'nightly'
  return dayRuns && isOlder(backups, ['hourly', 'nightly', 'by-hand'], HOUR_MS, at) ? 'hourly' : null
}

/** Makes the backups that are due, looking every few minutes. Each copies every page and reads it whole: a damaged page is found there. */
export const backupSchedule = (
  service: BackupService,
  dayRuns: () => Promise<boolean>,
  onFailure: (error: unknown) => void,
  every_ms = 5 * 60_000,
) => {
  let hasFailed = false
  const look = async (): Promise<void> => {
    if (!service.here) return
    try {
      const due = dueNow(service.list(), await dayRuns(), new Date(serverNow()))
      if (!due) return
      await service.make(due)
      hasFailed = false
    } catch (error) {
      hasFailed = true
      onFailure(error)
    }
  }
  const timer = setInterval(() => void look(), every_ms)
  timer.unref()
  return {
    /** Makes the backup that is due now, if one is. */
    look,
    /** True while the newest one that was due could not be made. */
    failed: (): boolean => hasFailed,
    close: (): void => clearInterval(timer),
  }
}
