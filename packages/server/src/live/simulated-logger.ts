import type { LiveFix, Run, Simulation, StoredPlan } from '@ochote/contract'
import { seedOf } from '@ochote/core'
import type { Jobs } from '../jobs/jobs.ts'
import type { SimulateOutput } from '../jobs/tasks.ts'

/** A simulated drive that is being played. */
type Playing = { simulation: Simulation; drive: SimulateOutput }

/** How often positions go out (ms). */
export const SEND_EVERY_MS = 100

/** Skill of the made-up students: halfway between new and steady. */
const SKILL = 0.3

/**
 * Stand-in for the logger in the car: drives the whole run in the core once, then plays it by the clock. A drive depends
 * on its seed and start alone, so after a restart of the server it goes on where the clock says.
 */
export const simulatedLogger = (jobs: Jobs, sourceOf: (run: Run) => Promise<StoredPlan>, now: () => number = Date.now) => {
  const playing = new Map<string, Promise<Playing>>()

  const load = (run: Run, simulation: Simulation): Promise<Playing> => {
    const known = playing.get(run.id)
    if (known) return known
    const loading = sourceOf(run)
      .then((source) =>
        jobs.simulate({ ...source, seed: simulation.seed, habitSeed: seedOf(run.studentId), skill: SKILL, laps: simulation.laps }),
      )
      .then((drive) => ({ simulation, drive }))
    loading.catch(() => playing.delete(run.id))
    playing.set(run.id, loading)
    return loading
  }

  const reached = ({ simulation, drive }: Playing): number => {
    const time_s = ((now() - Date.parse(simulation.startedAt)) / 1000) * simulation.speedFactor
    let low = 0
    let high = drive.time_s.length - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (drive.time_s[middle] <= time_s) low = middle
      else high = middle - 1
    }
    return low
  }

  return {
    /** The drive's latest fix by the clock. */
    latest: async (run: Run): Promise<LiveFix | null> => {
      if (!run.simulation) return null
      const one = await load(run, run.simulation)
      const i = reached(one)
      const { drive } = one
      const start_m = Math.ceil(drive.travel_m[0] / drive.length_m) * drive.length_m
      return {
        time_s: drive.time_s[i],
        station_m: drive.travel_m[i] % drive.length_m,
        offset_m: drive.offset_m[i],
        speed_mps: drive.speed_mps[i],
        lap: Math.floor((drive.travel_m[i] - start_m) / drive.length_m) + 1,
        finished: i === drive.time_s.length - 1,
      }
    },
    /** What the logger has recorded so far, as its file. */
    recorded: async (run: Run): Promise<string | null> => {
      if (!run.simulation) return null
      const one = await load(run, run.simulation)
      return `${one.drive.csv.split('\n', reached(one) + 2).join('\n')}\n`
    },
    forget: (runId: string): void => {
      playing.delete(runId)
    },
  }
}
export type SimulatedLogger = ReturnType<typeof simulatedLogger>
