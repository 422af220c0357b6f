import type { Acknowledged, Refused } from '@ochote/contract'
import { clockAhead } from './events.ts'

/**
 * Stores a batch of events except those that can never be stored, and lists both: one bad event must not hold up the others
 * that wait behind it on a device.
 */
export const acknowledge = async <E extends { id: string }>(
  batch: { events: readonly E[]; deviceNow?: string | undefined },
  reasonFor: (event: E) => Omit<Refused, 'id'> | null,
  store: (events: E[], clock_ms: number) => Promise<void>,
): Promise<Acknowledged> => {
  const clock_ms = clockAhead(batch.deviceNow)
  const good: E[] = []
  const refused: Refused[] = []
  for (const event of batch.events) {
    const reason = reasonFor(event)
    if (reason) refused.push({ id: event.id, ...reason })
    else good.push(event)
  }
  if (good.length > 0) await store(good, clock_ms)
  return { stored: good.map((e) => e.id), refused, clockAhead_s: clock_ms / 1000 }
}
