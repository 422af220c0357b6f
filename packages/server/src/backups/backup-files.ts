import { existsSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { type Backup, type BackupReason, backupReasons } from '@ochote/contract'

/** The folder of the backups of a data folder. */
export const backupFolder = (dataDir: string): string => join(dataDir, 'backups')

/** Backups of releases before carry their time only. */
const NAME = /^ochote-(\d{4}-\d\d-\d\d)T(\d\d)-(\d\d)-(\d\d)-(\d{3})Z(?:\.([a-z-]+))?\.sqlite$/

/** The name of a backup that is made now. A file has it only once it was checked. */
export const nameOf = (at: Date, reason: BackupReason): string => `ochote-${at.toISOString().replace(/[:.]/g, '-')}.${reason}.sqlite`

const isReason = (text: string | undefined): text is BackupReason => backupReasons.some((reason) => reason === text)

const backupOf = (folder: string, name: string): Backup | null => {
  const parts = NAME.exec(name)
  if (!parts) return null
  const [, date, h, m, s, ms, reason] = parts
  const { size } = statSync(join(folder, name))
  return {
    name,
    at: `${date}T${h}:${m}:${s}.${ms}Z`,
    reason: isReason(reason) ? reason : 'before-upgrade',
    size_bytes: size,
    checked: isReason(reason),
  }
}

/** Backups in a data folder, newest first. */
export const backupsIn = (dataDir: string): Backup[] => {
  const folder = backupFolder(dataDir)
  if (!existsSync(folder)) return []
  return readdirSync(folder)
    .flatMap((name) => backupOf(folder, name) ?? [])
    .sort((a, b) => (a.at < b.at ? 1 : -1))
}

/** How many backups of each kind are kept, and how old they may become (days). Whoever was erased is in none that is older. */
const kept: Readonly<Record<BackupReason, { most: number; days: number }>> = {
  hourly: { most: 24, days: 3 },
  nightly: { most: 30, days: 60 },
  'by-hand': { most: 10, days: 60 },
  'before-upgrade': { most: 3, days: 60 },
  'before-restore': { most: 3, days: 60 },
}

const DAY_MS = 24 * 3600 * 1000

/** Backups that have had their time. The newest of all stays, however old it is. */
export const outlived = (backups: readonly Backup[], now: number): Backup[] => {
  const seen = new Map<BackupReason, number>()
  return [...backups]
    .sort((a, b) => (a.at < b.at ? 1 : -1))
    .filter((backup, k) => {
      const count = (seen.get(backup.reason) ?? 0) + 1
      seen.set(backup.reason, count)
      const { most, days } = kept[backup.reason]
      return k > 0 && (count > most || now - Date.parse(backup.at) > days * DAY_MS)
    })
}
