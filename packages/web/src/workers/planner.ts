import { type Remote, wrap } from 'comlink'
import type { Planner } from './plan.worker.ts'

let planner: Remote<Planner> | null = null

/** The one planner of this page; its worker starts with the first plan. */
export const thePlanner = (): Remote<Planner> => {
  planner ??= wrap<Planner>(new Worker(new URL('./plan.worker.ts', import.meta.url), { type: 'module' }))
  return planner
}
