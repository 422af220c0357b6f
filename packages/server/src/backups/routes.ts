import { api } from '@ochote/contract'
import type { Mount } from '../http/mount.ts'
import type { BackupService } from './backups.ts'

/** Backups: list, make, compare, restore. `around`: what is halted while a backup is restored, and begins anew after it. */
export const backupRoutes = (mount: Mount, backups: BackupService, around: <T>(restore: () => Promise<T>) => Promise<T>): void => {
  mount(api.backups, async () => backups.list())
  mount(api.makeBackup, async () => backups.make('by-hand'))
  mount(api.compareBackup, async ({ params }) => backups.compare(params.name))
  mount(api.restoreBackup, async ({ params }) => around(() => backups.restore(params.name)))
}
