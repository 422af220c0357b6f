import { type CarCondition, type Observation, standingObservations } from '@ochote/contract'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { v7 as uuid } from 'uuid'
import { runEventsQuery } from '../../app/queries.ts'
import { useKeptEvents } from '../../shared/events/use-kept-events.ts'
import { runQueue } from './run-queue.ts'

/** A run's events on this device, joined with those of the server, and how to add to them. */
export const useRunEvents = (runId: string) => {
  const remote = useQuery(runEventsQuery(runId))
  const kept = useKeptEvents(runQueue, runId, remote.data)
  return useMemo(() => {
    const observations = standingObservations(kept.map((e) => e.doc))
    const common = () => ({ id: uuid(), runId, at: new Date().toISOString() })
    return {
      observations,
      waiting: kept.filter((e) => e.sent === 0).length,
      checked: kept.flatMap((e) => (e.doc.kind === 'checked' ? [e.doc] : [])).at(-1) ?? null,
      car: kept.flatMap((e) => (e.doc.kind === 'car' ? [e.doc] : [])).at(-1) ?? null,
      check: (open: readonly string[]) => runQueue.log({ ...common(), kind: 'checked', open: [...open] }),
      tellCar: (carId: string, condition: Pick<CarCondition, 'brakes' | 'tyres' | 'other'>) =>
        runQueue.log({ ...common(), kind: 'car', carId, ...condition }),
      observe: (cornerId: string, code: Observation['code'], lap: number) =>
        runQueue.log({ ...common(), kind: 'observation', cornerId, code, lap }),
      undoLast: () => {
        const last = observations.at(-1)
        if (last) void runQueue.log({ ...common(), kind: 'undo', undoes: last.id })
      },
    }
  }, [kept, runId])
}
