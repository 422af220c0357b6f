import { api } from '@ochote/contract'
import { type DayEvent, stopNow } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { call } from '../../data/api/api-client.ts'
import { dayQueue, type useDayEvents } from '../../data/events/use-day-events.ts'

type Stop = Extract<DayEvent, { kind: 'stop' }>

/**
 * The stop in force. One that this device kept from before is asked for at the server: what the server does not know was taken back
 * meanwhile, and is dropped here. Until it answers, and without it, a stop is a stop.
 */
export const useStop = (
  dayId: string,
  { events, waitingIds }: Pick<ReturnType<typeof useDayEvents>, 'events' | 'waitingIds'>,
): Stop | null => {
  const stop = stopNow(events)
  const sent = stop !== null && !waitingIds.has(stop.id)
  const known = useQuery({
    queryKey: ['stop-known', stop?.id],
    // Only the server's own answer counts: what this device remembers of it is what is in doubt.
    queryFn: async () => (await call(api.dayEvents, { params: { dayId } })).map((e) => e.id),
    enabled: sent,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
    retry: true,
    retryDelay: 2000,
  })
  const gone = sent && known.data !== undefined && !known.data.includes(stop.id)
  useEffect(() => {
    if (gone) void dayQueue.forget([stop.id])
  }, [gone, stop])
  return gone ? null : stop
}
