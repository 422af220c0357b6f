import { api, vehicleFileSchema } from '@ochote/contract'
import { CoreError, checkVehicle } from '@ochote/core'
import type { Mount } from '../http/mount.ts'
import { HttpProblem, notFound } from '../http/problems.ts'
import type { VehicleStore } from './store.ts'

const parseFile = (text: string): unknown => {
  try {
    return JSON.parse(text)
  } catch {
    throw new CoreError('file-unreadable', 'file', { expected: 'vehicle file', why: 'its JSON is broken' })
  }
}

/** Vehicles: list, import, add, change, remove. */
export const vehicleRoutes = (mount: Mount, vehicles: VehicleStore): void => {
  mount(api.vehicles, async () => vehicles.all())
  mount(api.importVehicles, async ({ upload }) => {
    const imported = vehicleFileSchema.parse(parseFile(await upload.text()))
    imported.forEach(checkVehicle)
    await vehicles.put(imported)
    return vehicles.all()
  })
  mount(api.putVehicle, async ({ params, body }) => {
    const vehicle = { ...body, id: params.vehicleId }
    checkVehicle(vehicle)
    await vehicles.put([vehicle])
    return vehicle
  })
  mount(api.removeVehicle, async ({ params }) => {
    if (await vehicles.isUsed(params.vehicleId))
      throw new HttpProblem(
        409,
        'in-use',
        'A day or a run uses this vehicle.',
        'It stays; change it, or choose another vehicle for the day first.',
      )
    if ((await vehicles.remove(params.vehicleId)) === 0) throw notFound('vehicle')
    return vehicles.all()
  })
}
