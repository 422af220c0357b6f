import { type Observation, standingObservations } from '@ochote/contract'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { v7 as uuid } from 'uuid'
import { runEventsQuery } from '../../app/queries.ts'
import { adoptEvents, type KeptEvent, logEvent, sendWaiting, watchEvents } from './event-queue.ts'

/** A run's events on this device, joined with those of the server, and how to add to them. */
export const useRunEvents = (runId: string) => {
  const [kept, setKept] = useState<KeptEvent[]>([])
  useEffect(() => watchEvents(runId, setKept), [runId])
  const remote = useQuery(runEventsQuery(runId))
  useEffect(() => {
    if (remote.data) void adoptEvents(remote.data)
  }, [remote.data])
  useEffect(() => {
    const send = (): void => void sendWaiting()
    send()
    window.addEventListener('online', send)
    return () => window.removeEventListener('online', send)
  }, [])
  return useMemo(() => {
    const observations = standingObservations(kept.map((e) => e.doc))
    const common = () => ({ id: uuid(), runId, at: new Date().toISOString() })
    return {
      observations,
      waiting: kept.filter((e) => e.sent === 0).length,
      observe: (cornerId: string, code: Observation['code'], lap: number) =>
        logEvent({ ...common(), kind: 'observation', cornerId, code, lap }),
      undoLast: () => {
        const last = observations.at(-1)
        if (last) void logEvent({ ...common(), kind: 'undo', undoes: last.id })
      },
    }
  }, [kept, runId])
}
