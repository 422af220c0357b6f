import type { Acknowledged, Refused } from '@ochote/contract'
import { clockAhead } from './events.ts'

/** Why an event is not stored whose id belongs to another one. */
const clash: Omit<Refused, 'id'> = {
  title: 'Another entry has this id already, with other content.',
  remedy: 'The one stored before stands. What was logged stays on this device; log it once more if it is missing.',
}

/**
 * Stores a batch of events except those that can never be stored, and lists both: one bad event must not hold up the others
 * that wait behind it on a device. `store` returns those whose ids belong to other events.
 */
export const acknowledge = async <E extends { id: string }>(
  batch: { events: readonly E[]; deviceNow?: string | undefined },
  reasonFor: (event: E) => Omit<Refused, 'id'> | null,
  store: (events: E[], clock_ms: number) => Promise<readonly E[]>,
): Promise<Acknowledged> => {
  const clock_ms = clockAhead(batch.deviceNow)
  const good: E[] = []
  const refused: Refused[] = []
  for (const event of batch.events) {
    const reason = reasonFor(event)
    if (reason) refused.push({ id: event.id, ...reason })
    else good.push(event)
  }
  const clashing = new Set(good.length > 0 ? await store(good, clock_ms) : [])
  for (const { id } of clashing) refused.push({ id, ...clash })
  return { stored: good.filter((e) => !clashing.has(e)).map((e) => e.id), refused, clockAhead_s: clock_ms / 1000 }
}
