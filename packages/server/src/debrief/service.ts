import type { Debrief, LogLook, Run, StoredPlan } from '@ochote/contract'
import type { LogMapping } from '@ochote/core'
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

/** How a log comes to a run. `mapping`: what a person said of its columns; `add`: joined to the log that the run has. */
type Given = { source: string; csv: string; mapping?: LogMapping | undefined; add?: boolean | undefined }

/** Analyses a log against its run's plan and stores both; a log that cannot be used leaves everything as it was. */
export const debriefService = (jobs: Jobs, circuits: CircuitStore, vehicles: VehicleStore, debriefs: DebriefStore) => ({
  takeLog: async (run: Run, { source, csv, mapping, add }: Given): Promise<Debrief> => {
    const before = add ? await debriefs.csv(run.id) : null
    const input = before ? { ...before, added: { csv, mapping } } : { csv, mapping }
    const output = await jobs.analyse({ ...(await storedPlanOf(run, circuits, vehicles)), ...input })
    // A joined log is kept in the product's own form, which needs no mapping.
    await debriefs.put(run.id, source, output.joined ?? csv, output, output.joined ? undefined : mapping)
    const debrief = await debriefs.byRun(run.id)
    if (!debrief) throw notFound('debrief')
    return debrief
  },
  /** Judges the log that a run has against its settings as they are now. @throws HttpProblem 404 where there is no log */
  judgeAgain: async (run: Run): Promise<Debrief> => {
    const log = await debriefs.csv(run.id)
    const before = await debriefs.byRun(run.id)
    if (!log || !before) throw notFound('log')
    const output = await jobs.analyse({ ...(await storedPlanOf(run, circuits, vehicles)), ...log })
    await debriefs.put(run.id, before.source, log.csv, output, log.mapping)
    return (await debriefs.byRun(run.id)) ?? before
  },
  /** What a file holds, and what was said last time of files like it. */
  look: async (csv: string): Promise<LogLook> => {
    const found = await jobs.look({ csv })
    return { ...found, remembered: await debriefs.mapping(found.signature) }
  },
  remember: async (csv: string, mapping: LogMapping): Promise<void> =>
    debriefs.rememberMapping((await jobs.look({ csv })).signature, mapping),
})
export type DebriefService = ReturnType<typeof debriefService>
