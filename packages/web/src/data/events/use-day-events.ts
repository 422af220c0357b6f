import { api } from '@ochote/contract'
import { type DayEvent, standing } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { v7 as uuid } from 'uuid'
import { call } from '../api/api-client.ts'
import { dayEventsQuery } from '../api/queries.ts'
import { eventQueue } from './event-queue.ts'
import { useQueuedEvents } from './use-queued-events.ts'

/** Events of days on this device. */
export const dayQueue = eventQueue<DayEvent>(
  'dayEvents',
  (e) => e.dayId,
  (events, deviceNow) => call(api.addDayEvents, { body: { events, deviceNow } }),
)

/** A day's event without what is common to all. */
export type NewDayEvent = DayEvent extends infer E ? (E extends DayEvent ? Omit<E, 'id' | 'dayId' | 'at'> : never) : never

/** Events of a day beside its runs, and how to add to them. `events`: those that were not undone. */
export const useDayEvents = (dayId: string) => {
  const remote = useQuery({ ...dayEventsQuery(dayId), enabled: dayId !== '' })
  const kept = useQueuedEvents(dayQueue, dayId, remote.data)
  return useMemo(() => {
    /** Logs something on the day and gives it an id at once. */
    const tell = (told: NewDayEvent): string => {
      const id = uuid()
      void dayQueue.log({ ...told, id, dayId, at: new Date().toISOString() } as DayEvent)
      return id
    }
    const waitingIds: ReadonlySet<string> = new Set(kept.flatMap((e) => (e.sent === 0 ? [e.id] : [])))
    return { events: standing(kept.map((e) => e.doc)), waitingIds, waiting: waitingIds.size, tell }
  }, [kept, dayId])
}
