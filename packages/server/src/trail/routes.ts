import { api } from '@ochote/contract'
import type { Mount } from '../http/mount.ts'
import type { TrailTable } from './store.ts'

/** The trail, page by page; the first page says whether every line is as it was written. */
export const trailRoutes = (mount: Mount, trail: TrailTable): void =>
  mount(api.trail, async ({ query }) => {
    const brokenAt = query.before === undefined ? await trail.firstBroken() : null
    return { ...(await trail.page(query.before, query.about)), whole: brokenAt === null, brokenAt }
  })
