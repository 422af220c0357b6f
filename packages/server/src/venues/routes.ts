import { api } from '@ochote/contract'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, notFound } from '../http/problems.ts'
import type { VenueStore } from './store.ts'

/** Venues: list, add, change, remove. */
export const venueRoutes = (mount: Mount, venues: VenueStore): void => {
  mount(api.venues, () => venues.all())
  mount(api.putVenue, async ({ params, body: { version, ...venue } }) => {
    if (!(await venues.put({ ...venue, id: params.venueId }, version))) throw changedMeanwhile('venue')
    const stored = (await venues.all()).find((v) => v.id === params.venueId)
    if (!stored) throw notFound('venue')
    return stored
  })
  mount(api.removeVenue, async ({ params }) => {
    if ((await venues.remove(params.venueId)) === 0) throw notFound('venue')
    return venues.all()
  })
}
