import { readFile } from 'node:fs/promises'
import { vehicleFileSchema } from '@ochote/contract'
import { CoreError, checkVehicle, decodeText, kindOfFile, type Vehicle } from '@ochote/core'

const parsed = (text: string): unknown => {
  try {
    return JSON.parse(text)
  } catch {
    throw new CoreError('file-unreadable', 'file', { expected: 'vehicle file', why: 'its JSON is broken' })
  }
}

/** Vehicles of a file, all of them checked. @throws CoreError for a file of another kind, ZodError for one with wrong fields */
export const readVehicleFile = async ({ path }: { path: string }): Promise<Vehicle[]> => {
  const text = decodeText(await readFile(path))
  const other = kindOfFile(text.slice(0, 4000))
  if (other !== null && other !== 'vehicle') throw new CoreError('file-of-other-kind', 'file', { is: other, wanted: 'vehicle' })
  const vehicles = vehicleFileSchema.parse(parsed(text))
  vehicles.forEach(checkVehicle)
  return vehicles
}
