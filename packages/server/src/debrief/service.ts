import type { Debrief, LogPreview, Run, StoredPlan } from '@ochote/contract'
import type { CircuitStore } from '../circuits/store.ts'
import { notFound } from '../http/problems.ts'
import type { Jobs } from '../jobs/jobs.ts'
import { type GivenLog, type LogSource, packSource } from '../jobs/log-source.ts'
import type { AnalyseOutput, OnProgress } from '../jobs/tasks.ts'
import type { Stores } from '../stores.ts'
import type { VehicleStore } from '../vehicles/store.ts'

/** Stored documents that a run's plan is computed from. @throws HttpProblem 404 where circuit or vehicle are gone */
export const storedPlanOf = async (run: Pick<Run, 'settings'>, circuits: CircuitStore, vehicles: VehicleStore): Promise<StoredPlan> => {
  const circuit = await circuits.byId(run.settings.circuitId)
  if (!circuit) throw notFound('circuit')
  const vehicle = await vehicles.byId(run.settings.vehicleId)
  if (!vehicle) throw notFound('vehicle')
  return { circuit, vehicle, settings: run.settings }
}

/**
 * A log for a run. `source`: its origin in words; `add`: joined to the log that the run has; `onProgress`: called back with the
 * progress of the work.
 */
type Given = { source: string; log: GivenLog; add?: boolean | undefined; onProgress?: OnProgress | undefined }

/** Analyses a log against its run's plan and stores both; a log that cannot be used leaves everything as it was. */
export const debriefService = (jobs: Jobs, { circuits, vehicles, debriefs, schoolSettings, runs }: Stores) => {
  /** Plan and thresholds that a run's log is judged by, and the events that say which laps count. */
  const judgedBy = async (run: Run) => ({
    ...(await storedPlanOf(run, circuits, vehicles)),
    thresholds: (await schoolSettings.read()).schoolSettings.thresholds,
    events: await runs.events(run.id),
    heldAgainst: run.heldAgainst,
    otherLog: run.heldAgainst.kind === 'run' ? await debriefs.log(run.heldAgainst.runId) : null,
  })
  /** A plan that was found to explain a drive is the one that its pages show. */
  const keepFound = async (run: Run, { review }: AnalyseOutput): Promise<void> => {
    const told = review.reference?.told
    if (run.heldAgainst.kind !== 'auto' || told?.kind !== 'plan') return
    const { school, method, pace } = told
    await runs.setSettings(run.id, { ...run.settings, school, method, pace })
  }
  return {
    takeLog: async (run: Run, { source, log, add, onProgress }: Given): Promise<Debrief> => {
      const before = add ? await debriefs.log(run.id) : null
      const by = await judgedBy(run)
      const [output, packed] = await Promise.all([
        jobs.analyse({ ...by, logs: before ? [before, log] : [log] }, onProgress),
        before ? new Uint8Array() : packSource(log.source),
      ])
      onProgress?.({ step: 'storing', share: 0 })
      await keepFound(run, output)
      // A joined log is kept in the product's own form, which needs no mapping.
      const { joined } = output
      if (joined) await debriefs.put(run.id, source, await packSource({ text: joined }), output)
      else await debriefs.put(run.id, source, packed, output, log.mapping)
      if (log.mapping) await debriefs.rememberMapping(output.signature, log.mapping)
      const debrief = await debriefs.byRun(run.id)
      if (!debrief) throw notFound('debrief')
      return debrief
    },
    /** Judges the log that a run has against its settings as they are now. @throws HttpProblem 404 where there is no log */
    judgeAgain: async (run: Run): Promise<Debrief> => {
      const log = await debriefs.log(run.id)
      const before = await debriefs.byRun(run.id)
      if (!log || !before) throw notFound('log')
      const output = await jobs.analyse({ ...(await judgedBy(run)), logs: [log] })
      await keepFound(run, output)
      await debriefs.put(run.id, before.source, log.source.packed, output, log.mapping)
      return (await debriefs.byRun(run.id)) ?? before
    },
    /** Preview of a file, with the mapping that was chosen last time for files like it. */
    previewLog: async (source: LogSource, onProgress?: OnProgress): Promise<LogPreview> => {
      const found = await jobs.previewLog({ source }, onProgress)
      return { ...found, remembered: await debriefs.mapping(found.signature) }
    },
  }
}
export type DebriefService = ReturnType<typeof debriefService>
