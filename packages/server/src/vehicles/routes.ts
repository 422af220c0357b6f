import { api, vehicleFileSchema } from '@ochote/contract'
import { CoreError, checkVehicle, kindOfFile } from '@ochote/core'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, HttpProblem, notFound } from '../http/problems.ts'
import type { VehicleStore } from './store.ts'

const parseFile = (text: string): unknown => {
  try {
    return JSON.parse(text)
  } catch {
    throw new CoreError('file-unreadable', 'file', { expected: 'vehicle file', why: 'its JSON is broken' })
  }
}

/** Vehicles of a file. @throws CoreError for a file of another kind, ZodError for one with wrong fields */
const fileOf = (text: string) => {
  const other = kindOfFile(text.slice(0, 4000))
  if (other !== null && other !== 'vehicle') throw new CoreError('file-of-other-kind', 'file', { is: other, wanted: 'vehicle' })
  return vehicleFileSchema.parse(parseFile(text))
}

/** Vehicles: list, import, add, change, remove. */
export const vehicleRoutes = (mount: Mount, vehicles: VehicleStore): void => {
  mount(api.vehicles, async () => vehicles.all())
  mount(api.importVehicles, async ({ upload }) => {
    const imported = fileOf(await upload.text())
    imported.forEach(checkVehicle)
    await vehicles.put(imported)
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
