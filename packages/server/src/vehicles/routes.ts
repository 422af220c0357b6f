import { api, vehicleFileSchema } from '@ochote/contract'
import { CoreError, checkVehicle } from '@ochote/core'
import type { Mount } from '../http/mount.ts'
import type { VehicleStore } from './store.ts'

const parseFile = (text: string): unknown => {
  try {
    return JSON.parse(text)
  } catch {
    throw new CoreError('file-unreadable', 'file', { expected: 'vehicle file', why: 'its JSON is broken' })
  }
}

/** Vehicles: list, import, add or change. */
export const vehicleRoutes = (mount: Mount, vehicles: VehicleStore): void => {
  mount(api.vehicles, async () => vehicles.all())
  mount(api.importVehicles, async ({ upload }) => {
    const imported = vehicleFileSchema.parse(parseFile(upload))
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
}
