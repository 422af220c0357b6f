import { api } from '@ochote/contract'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile } from '../http/problems.ts'
import type { KitStore } from './store.ts'

/** The school's kit: read, change. */
export const kitRoutes = (mount: Mount, kits: KitStore): void => {
  mount(api.kit, async () => kits.read())
  mount(api.saveKit, async ({ body }) => {
    if (!(await kits.change(body.version, body.kit))) throw changedMeanwhile('kit')
    return kits.read()
  })
}
