import { api, parseCircuitFile } from '@ochote/contract'
import { v7 as uuid } from 'uuid'
import type { Mount } from '../http/mount.ts'
import { notFound } from '../http/problems.ts'
import type { CircuitStore } from './store.ts'

/** Circuits: list, read, import, name corners. */
export const circuitRoutes = (mount: Mount, circuits: CircuitStore): void => {
  const one = async (id: string) => {
    const circuit = await circuits.byId(id)
    if (!circuit) throw notFound('circuit')
    return circuit
  }
  mount(api.circuits, async () => circuits.all())
  mount(api.circuit, async ({ params }) => one(params.circuitId))
  mount(api.importCircuit, async ({ query, upload }) => {
    const { name, ...options } = query
    const survey = parseCircuitFile(upload, name, {
      ...(options.width_m === undefined ? {} : { width_m: options.width_m }),
      ...(options.track === undefined ? {} : { track: options.track }),
    })
    return circuits.add(uuid(), { ...survey, name })
  })
  mount(api.nameCorners, async ({ params, body }) => {
    if ((await circuits.nameCorners(params.circuitId, body)) === 0) throw notFound('circuit')
    return one(params.circuitId)
  })
}
