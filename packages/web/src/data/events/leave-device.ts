import { v7 as uuid } from 'uuid'
import { entryTables, type QueuedEvent, type Sealed, sealedEntries } from './event-queue.ts'

/** Whoever leaves the device, or comes back to it; `sealKey` is given by the server to this account alone. */
export type Leaving = { id: string; name: string; sealKey: string }

/** What waits here unsent: entries by table. */
type Unsent = { runEvents: QueuedEvent<unknown>[]; dayEvents: QueuedEvent<unknown>[]; starts: { id: string; body: unknown }[] }

const keyOf = (sealKey: string): Promise<CryptoKey> =>
  crypto.subtle.importKey(
    'raw',
    Uint8Array.from(atob(sealKey), (sign) => sign.charCodeAt(0)),
    'AES-GCM',
    false,
    ['encrypt', 'decrypt'],
  )

/** Entries that the server has not got. */
const unsent = async (): Promise<Unsent> => {
  const waiting = (table: typeof entryTables.runEvents) => table.where('sent').notEqual(1).toArray()
  return {
    runEvents: await waiting(entryTables.runEvents),
    dayEvents: await waiting(entryTables.dayEvents),
    starts: await entryTables.starts.toArray(),
  }
}

const countOf = ({ runEvents, dayEvents }: Unsent): number => runEvents.length + dayEvents.length

/** False where the browser seals nothing: over a plain connection. Unsent entries then stay as they are. */
const canSeal = (): boolean => globalThis.crypto?.subtle !== undefined

/**
 * Takes everything of the school off this device. What could not be sent stays, sealed and named; where the browser cannot seal it
 * stays as it is. Returns the number of entries that stay.
 */
export const leaveDevice = async ({ id, name, sealKey }: Leaving): Promise<number> => {
  const left = await unsent()
  const count = countOf(left)
  const empty = count + left.starts.length === 0
  if (!empty && !canSeal()) {
    for (const table of [entryTables.runEvents, entryTables.dayEvents]) await table.where('sent').equals(1).delete()
    return count
  }
  if (!empty) {
    const iv = crypto.getRandomValues(new Uint8Array(12))
    const data = await crypto.subtle.encrypt({ name: 'AES-GCM', iv }, await keyOf(sealKey), new TextEncoder().encode(JSON.stringify(left)))
    await sealedEntries.put({ id: uuid(), accountId: id, name, count, iv, data })
  }
  // Only now that the sealed copy is on the disk do the open ones go.
  for (const table of Object.values(entryTables)) await table.clear()
  return count
}

/** Opens what an account left here sealed, to be sent. What was sealed by another key stays. Returns the number of entries. */
export const comeBack = async ({ id, sealKey }: Omit<Leaving, 'name'>): Promise<number> => {
  if (!canSeal()) return 0
  let opened = 0
  for (const sealed of await sealedEntries.where('accountId').equals(id).toArray()) {
    const plain = await crypto.subtle.decrypt({ name: 'AES-GCM', iv: sealed.iv }, await keyOf(sealKey), sealed.data).catch(() => null)
    if (!plain) continue
    const entries = JSON.parse(new TextDecoder().decode(plain)) as Unsent
    await entryTables.runEvents.bulkPut(entries.runEvents)
    await entryTables.dayEvents.bulkPut(entries.dayEvents)
    await entryTables.starts.bulkPut(entries.starts)
    await sealedEntries.delete(sealed.id)
    opened += countOf(entries)
  }
  return opened
}

/** Whose entries wait here sealed, and how many. */
export const sealedHere = async (): Promise<Pick<Sealed, 'name' | 'count'>[]> => {
  const all = await sealedEntries.toArray()
  const names = [...new Set(all.map((one) => one.name))]
  return names.map((name) => ({ name, count: all.reduce((sum, one) => sum + (one.name === name ? one.count : 0), 0) }))
}
