import { api } from '@ochote/contract'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile } from '../http/problems.ts'
import type { SchoolSettingsStore } from './store.ts'

/** the school settings: read, change. */
export const schoolSettingsRoutes = (mount: Mount, schoolSettings: SchoolSettingsStore): void => {
  mount(api.schoolSettings, async () => schoolSettings.read())
  mount(api.saveSchoolSettings, async ({ body }) => {
    if (!(await schoolSettings.change(body.version, body.schoolSettings))) throw changedMeanwhile('school settings')
    return schoolSettings.read()
  })
}
