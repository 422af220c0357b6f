import type { Debrief, Run, StoredPlan } from '@ochote/contract'
import type { CircuitStore } from '../circuits/store.ts'
import { notFound } from '../http/problems.ts'
import type { Jobs } from '../jobs/jobs.ts'
import type { VehicleStore } from '../vehicles/store.ts'
import type { DebriefStore } from './store.ts'

/** What a run's plan is computed from. @throws HttpProblem 404 where circuit or vehicle are gone */
export const storedPlanOf = async (run: Pick<Run, 'settings'>, circuits: CircuitStore, vehicles: VehicleStore): Promise<StoredPlan> => {
  const circuit = await circuits.byId(run.settings.circuitId)
  if (!circuit) throw notFound('circuit')
  const vehicle = await vehicles.byId(run.settings.vehicleId)
  if (!vehicle) throw notFound('vehicle')
  return { circuit, vehicle, settings: run.settings }
}

/** Analyses a log against its run's plan and stores both; a log that cannot be used leaves everything as it was. */
export const debriefService = (jobs: Jobs, circuits: CircuitStore, vehicles: VehicleStore, debriefs: DebriefStore) => ({
  takeLog: async (run: Run, source: string, csv: string): Promise<Debrief> => {
    const output = await jobs.analyse({ ...(await storedPlanOf(run, circuits, vehicles)), csv })
    await debriefs.put(run.id, source, csv, output)
    const debrief = await debriefs.byRun(run.id)
    if (!debrief) throw notFound('debrief')
    return debrief
  },
})
export type DebriefService = ReturnType<typeof debriefService>
