import type { StoredPlan } from '@ochote/contract'
import type { Plan } from '@ochote/core'
import { proxy, type Remote, wrap } from 'comlink'
import type { Planner } from './plan.worker.ts'

type Kept = { worker: Worker; planner: Remote<Planner> }

const start = (): Kept => {
  const worker = new Worker(new URL('./plan.worker.ts', import.meta.url), { type: 'module' })
  return { worker, planner: wrap<Planner>(worker) }
}

let quick: Kept | null = null
let solver: Kept | null = null
let beside: Kept | null = null

/** The planner that answers at once; its worker starts with the first plan. */
export const thePlanner = (): Remote<Planner> => {
  quick ??= start()
  return quick.planner
}

/** A planner for what is shown beside the present plan, its numbers or other plans; it never holds that one up. */
export const secondPlanner = (): Remote<Planner> => {
  beside ??= start()
  return beside.planner
}

/**
 * A plan whose line takes a while, in a worker of its own, so that nothing waits for it. When `signal` says that it is
 * no longer wanted the worker is stopped; the next call starts a new one.
 */
export const solvePlan = async (stored: StoredPlan, signal: AbortSignal, onStep: (step: number) => void): Promise<Plan> => {
  solver ??= start()
  const current = solver
  const stop = (): void => {
    current.worker.terminate()
    if (solver === current) solver = null
  }
  signal.addEventListener('abort', stop)
  try {
    return await Promise.race([current.planner.plan(stored, proxy(onStep)), abortion(signal)])
  } finally {
    signal.removeEventListener('abort', stop)
  }
}

const abortion = (signal: AbortSignal): Promise<never> =>
  new Promise((_, reject) => signal.addEventListener('abort', () => reject(new DOMException('No longer wanted', 'AbortError'))))
