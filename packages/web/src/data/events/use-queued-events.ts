import { useEffect, useState } from 'react'
import type { EventQueue, QueuedEvent } from './event-queue.ts'

/** Events on this device joined with those of the server: what waits is sent now and whenever the network is back. */
export const useQueuedEvents = <E>(queue: EventQueue<E>, about: string, remote: readonly E[] | undefined): QueuedEvent<E>[] => {
  const [kept, setKept] = useState<QueuedEvent<E>[]>([])
  useEffect(() => queue.watch(about, setKept), [queue, about])
  useEffect(() => {
    if (remote) void queue.adopt(remote)
  }, [queue, remote])
  useEffect(() => {
    const send = (): void => void queue.sendWaiting()
    send()
    window.addEventListener('online', send)
    return () => window.removeEventListener('online', send)
  }, [queue])
  return kept
}
