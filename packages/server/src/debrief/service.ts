import type { Debrief, LogPreview, Run, StoredPlan } from '@ochote/contract'
import type { LogMapping } from '@ochote/core'
import type { CircuitStore } from '../circuits/store.ts'
import { changedMeanwhile, notFound } from '../http/problems.ts'
import type { JobFor, Jobs } from '../jobs/jobs.ts'
import { type GivenLog, type LogSource, packSource } from '../jobs/log-source.ts'
import type { AnalyseOutput, OnProgress } from '../jobs/tasks.ts'
import type { NounStores, Stores } from '../stores.ts'
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

/** A log that was read and judged, ready to be kept; `over`: the version of the log that it takes the place of. */
type Judged = { output: AnalyseOutput; source: string; csv_gz: Uint8Array; mapping: LogMapping | undefined; over: number | undefined }

/** Judging anew takes its turn as one more person. */
const BACKGROUND = 'judging anew'

/** How often work is done again because somebody else stored a log of the same run in the meantime. */
const TRIES = 5

/** A plan that was found to explain a drive is the one that its pages show. */
const keepFound = async ({ runs }: NounStores, run: Run, { review }: AnalyseOutput): Promise<void> => {
  const told = review.reference?.told
  if (run.heldAgainst.kind !== 'auto' || told?.kind !== 'plan') return
  const { school, method, pace } = told
  await runs.setSettings(run.id, { ...run.settings, school, method, pace })
}

/** Keeps a judged log with all that belongs to it; false where another log was stored in the meantime. To be called in a transaction. */
const keep = async (stores: NounStores, run: Run, judged: Judged): Promise<boolean> => {
  if (!(await stores.debriefs.put(run.id, judged))) return false
  await keepFound(stores, run, judged.output)
  if (judged.mapping) await stores.debriefs.rememberMapping(judged.output.signature, judged.mapping)
  return true
}

/** Judges and keeps until nobody else was faster. @throws HttpProblem 409 after {@link TRIES} */
const untilKept = async (work: () => Promise<boolean>): Promise<void> => {
  for (let k = 0; k < TRIES; k++) if (await work()) return
  throw changedMeanwhile('log')
}

/** Analyses a log against its run's plan and stores both; a log that cannot be used leaves everything as it was. */
export const debriefService = (jobs: Jobs, stores: Stores) => {
  const { circuits, vehicles, debriefs, schoolSettings, runs } = stores
  /** Plan and thresholds that a run's log is judged by, and the events that say which laps count. */
  const judgedBy = async (run: Run) => ({
    ...(await storedPlanOf(run, circuits, vehicles)),
    thresholds: (await schoolSettings.read()).schoolSettings.thresholds,
    events: await runs.events(run.id),
    heldAgainst: run.heldAgainst,
    otherLog: run.heldAgainst.kind === 'run' ? await debriefs.log(run.heldAgainst.runId) : null,
  })
  /** Reads and judges a log; nothing is stored. */
  const judge = async (run: Run, { source, log, add, onProgress }: Given): Promise<Judged> => {
    const before = add ? await debriefs.log(run.id) : null
    const [output, packed] = await Promise.all([
      jobs.analyse({ ...(await judgedBy(run)), logs: before ? [before, log] : [log] }, { person: run.studentId, onProgress }),
      before ? new Uint8Array() : packSource(log.source),
    ])
    onProgress?.({ step: 'storing', share: 0 })
    const over = add ? (before?.version ?? 0) : undefined
    // A joined log is kept in the product's own form, which needs no mapping.
    const { joined } = output
    return joined
      ? { output, source, csv_gz: await packSource({ text: joined }), mapping: undefined, over }
      : { output, source, csv_gz: packed, mapping: log.mapping, over }
  }
  const stored = async (run: Pick<Run, 'id'>): Promise<Debrief> => {
    const debrief = await debriefs.byRun(run.id)
    if (!debrief) throw notFound('debrief')
    return debrief
  }
  return {
    /** Gives a run its log. Files added at the same time are joined one after the other. */
    takeLog: async (run: Run, given: Given): Promise<Debrief> => {
      await untilKept(async () => {
        const judged = await judge(run, given)
        return stores.together((trx) => keep(trx, run, judged))
      })
      return stored(run)
    },
    /** Stores a drive and its log in one transaction: both or nothing. `run` is the drive as it will be stored by `add`. */
    takeDrive: async (run: Run, given: Given, add: (stores: NounStores) => Promise<void>): Promise<void> => {
      const judged = await judge(run, given)
      await stores.together(async (trx) => {
        await add(trx)
        await keep(trx, run, judged)
      })
    },
    /**
     * Judges the log that a run has anew, and stores what was found. `wish`: other settings to judge it by, stored with what was found.
     * @throws HttpProblem 404 where there is no log
     */
    judgeAgain: async (runId: string, wish?: Pick<Run, 'settings' | 'heldAgainst'>): Promise<Debrief> => {
      await untilKept(async () => {
        const run = await runs.byId(runId)
        const log = await debriefs.log(runId)
        const before = await debriefs.byRun(runId)
        if (!run || !log || !before) throw notFound('log')
        const judged = { ...run, ...wish }
        const output = await jobs.analyse({ ...(await judgedBy(judged)), logs: [log] }, { person: BACKGROUND })
        const kept = { output, source: before.source, csv_gz: log.source.packed, mapping: log.mapping, over: log.version }
        return stores.together(async (trx) => {
          if (!(await trx.debriefs.put(runId, kept))) return false
          if (wish) await trx.runs.setReference(runId, wish)
          await keepFound(trx, judged, output)
          return true
        })
      })
      return stored({ id: runId })
    },
    /** Preview of a file, with the mapping that was chosen last time for files like it. */
    previewLog: async (source: LogSource, whose: JobFor): Promise<LogPreview> => {
      const found = await jobs.previewLog({ source }, whose)
      return { ...found, remembered: await debriefs.mapping(found.signature) }
    },
  }
}
export type DebriefService = ReturnType<typeof debriefService>
