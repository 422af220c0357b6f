import {
  type CarCondition,
  instructorLaps,
  type LapKind,
  type LapProgram,
  lapKindOf,
  type RunEvent,
  type RunMode,
  standing,
} from '@ochote/contract'
import type { Intensity, MistakeCode } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { v7 as uuid } from 'uuid'
import { runEventsQuery } from '../api/queries.ts'
import { runQueue } from './run-queue.ts'
import { useKeptEvents } from './use-kept-events.ts'

/** A run's event without what is common to all. */
type Told = RunEvent extends infer E ? (E extends RunEvent ? Omit<E, 'id' | 'runId' | 'at'> : never) : never
type Standing = Exclude<RunEvent, { kind: 'undo' }>

/** What can be taken back by one touch: everything that was said of driving, not what began or ended something. */
const undoable: ReadonlySet<RunEvent['kind']> = new Set(['observation', 'held-well', 'traffic', 'pace', 'intensity', 'lap-kind'])

/** Logs something in a run: on this device first. */
export const tellRun = (runId: string, told: Told): Promise<void> =>
  runQueue.log({ ...told, id: uuid(), runId, at: new Date().toISOString() } as RunEvent)

/** What a run's events amount to. */
export const runStateOf = (events: readonly RunEvent[]) => {
  const known = standing(events)
  const last = <K extends Standing['kind']>(kind: K) => known.findLast((e): e is Extract<Standing, { kind: K }> => e.kind === kind) ?? null
  const named = known.flatMap((e) => (e.kind === 'lap-kind' ? [{ lap: e.lap, lapKind: e.lapKind }] : []))
  const program: LapProgram | null = last('sent-out')?.program ?? null
  return {
    observations: known.filter((e) => e.kind === 'observation'),
    heldWell: known.filter((e) => e.kind === 'held-well'),
    lastUndoable: known.findLast((e) => undoable.has(e.kind)) ?? null,
    checked: last('checked'),
    car: last('car'),
    program,
    kindOf: (lap: number): LapKind => (program ? lapKindOf(program, lap, named) : lap < 1 ? 'out' : 'coached'),
    intensity: last('intensity')?.intensity ?? null,
    pace: last('pace'),
    calledIn: last('called-in'),
    ended: last('ended'),
    account: last('account'),
    notes: known.filter((e) => e.kind === 'note'),
    said: known.filter((e) => e.kind === 'said'),
    byInstructor: instructorLaps(events),
  }
}

/** A run's events on this device, joined with those of the server, and how to add to them. */
export const useRunEvents = (runId: string) => {
  const remote = useQuery(runEventsQuery(runId))
  const kept = useKeptEvents(runQueue, runId, remote.data)
  return useMemo(() => {
    const state = runStateOf(kept.map((e) => e.doc))
    const tell = (told: Told): Promise<void> => tellRun(runId, told)
    return {
      ...state,
      waiting: kept.filter((e) => e.sent === 0).length,
      tell,
      check: (open: readonly string[]) => tell({ kind: 'checked', open: [...open] }),
      tellCar: (carId: string, condition: Pick<CarCondition, 'brakes' | 'tyres' | 'other'>) => tell({ kind: 'car', carId, ...condition }),
      observe: (cornerId: string, code: MistakeCode, lap: number, via: RunMode, shown = false) =>
        tell({ kind: 'observation', cornerId, code, lap, via, ...(shown ? { shown } : {}) }),
      talk: (intensity: Intensity) => tell({ kind: 'intensity', intensity }),
      undoLast: () => {
        if (state.lastUndoable) void tell({ kind: 'undo', undoes: state.lastUndoable.id })
      },
    }
  }, [kept, runId])
}
