import { api } from '@ochote/contract'
import { checkVehicle } from '@ochote/core'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, HttpProblem, notFound } from '../http/problems.ts'
import type { Jobs } from '../jobs/jobs.ts'
import type { VehicleStore } from './store.ts'

/** Versions by id, from “id:version” with commas. */
const versionsOf = (text: string): Map<string, number> =>
  new Map(
    text.split(',').flatMap((pair) => {
      const [, id, version] = /^(.+):(\d+)$/.exec(pair) ?? []
      return id ? [[id, Number(version)] as const] : []
    }),
  )

/** Vehicles: list, import, add, change, remove. */
export const vehicleRoutes = (mount: Mount, vehicles: VehicleStore, jobs: Jobs): void => {
  mount(api.vehicles, async () => vehicles.all())
  mount(api.importVehicles, async ({ upload, query, identity }) => {
    const read = await jobs.readVehicleFile({ path: upload.path }, { person: identity.key })
    const { differing, changed } = await vehicles.put(read, versionsOf(query.replacing ?? ''))
    if (changed.length > 0) throw changedMeanwhile('vehicle')
    if (differing.length > 0)
      throw new HttpProblem(
        409,
        'would-replace',
        `Here already, with other values: ${differing.join(', ')}.`,
        'Nothing was taken from the file. Replace them, or give those in the file other ids.',
      )
    return vehicles.all()
  })
  mount(api.putVehicle, async ({ params, body: { version, ...body } }) => {
    const vehicle = { ...body, id: params.vehicleId }
    checkVehicle(vehicle)
    if (!(await vehicles.change(vehicle, version))) throw changedMeanwhile('vehicle')
    const stored = (await vehicles.all()).find((v) => v.id === vehicle.id)
    if (!stored) throw notFound('vehicle')
    return stored
  })
  mount(api.removeVehicle, async ({ params }) => {
    if (await vehicles.isUsed(params.vehicleId))
      throw new HttpProblem(
        409,
        'in-use',
        'A day, a car or a run uses this vehicle.',
        'It stays; change it, or choose another vehicle for the day first.',
      )
    if ((await vehicles.remove(params.vehicleId)) === 0) throw notFound('vehicle')
    return vehicles.all()
  })
}
