import type { CarCondition } from '@ochote/contract'
import { type Intensity, type MistakeCode, type RunEvent, type RunMode, runStateOf } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { v7 as uuid } from 'uuid'
import { runEventsQuery } from '../api/queries.ts'
import { runQueue } from './run-queue.ts'
import { useQueuedEvents } from './use-queued-events.ts'

/** A run's event without what is common to all. */
type NewRunEvent = RunEvent extends infer E ? (E extends RunEvent ? Omit<E, 'id' | 'runId' | 'at'> : never) : never

/** Logs something in a run: on this device first. */
export const logRunEvent = (runId: string, told: NewRunEvent): Promise<void> =>
  runQueue.log({ ...told, id: uuid(), runId, at: new Date().toISOString() } as RunEvent)

/** A run's events on this device, joined with those of the server, and how to add to them. */
export const useRunEvents = (runId: string) => {
  const remote = useQuery(runEventsQuery(runId))
  const kept = useQueuedEvents(runQueue, runId, remote.data)
  return useMemo(() => {
    const all = kept.map((e) => e.doc)
    const own = new Set(kept.flatMap((e) => (e.own ? [e.id] : [])))
    const state = runStateOf(all, (id) => own.has(id))
    const tell = (told: NewRunEvent): Promise<void> => logRunEvent(runId, told)
    return {
      ...state,
      /** The run’s events as they are, oldest first. */
      all,
      waiting: kept.filter((e) => e.sent === 0).length,
      tell,
      check: (open: readonly string[]) => tell({ kind: 'checked', open: [...open] }),
      tellCar: (carId: string, condition: Pick<CarCondition, 'brakes' | 'tyres' | 'other'>) => tell({ kind: 'car', carId, ...condition }),
      observe: (cornerId: string, code: MistakeCode, lap: number, via: RunMode, shown = false) =>
        tell({ kind: 'observation', cornerId, code, lap, via, ...(shown ? { shown } : {}) }),
      talk: (intensity: Intensity, lap: number) => tell({ kind: 'intensity', intensity, lap }),
      undoLast: () => {
        if (state.lastUndoable) void tell({ kind: 'undo', undoes: state.lastUndoable.id })
      },
    }
  }, [kept, runId])
}
