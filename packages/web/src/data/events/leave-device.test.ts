import 'fake-indexeddb/auto'
import Dexie from 'dexie'
import { afterAll, describe, expect, it } from 'vitest'
import { entryTables, sealedEntries } from './event-queue.ts'
import { comeBack, leaveDevice, sealedHere } from './leave-device.ts'

const key = (fill: number): string => btoa(String.fromCharCode(...new Uint8Array(32).fill(fill)))
const marit = { id: 'marit', name: 'Marit Oakhanger', sealKey: key(1) }
const event = (id: string, sent: 0 | 1 | 2) => ({ id, about: 'run', at: id, sent, doc: { id, note: 'Imke is afraid of the crest' } })

afterAll(() => Dexie.delete('ochote'))

describe('a device that is signed out', () => {
  it('keeps nothing but what could not be sent, and that sealed', async () => {
    await entryTables.runEvents.bulkPut([event('1', 1), event('2', 0), event('3', 2)])
    await entryTables.dayEvents.bulkPut([event('4', 0)])
    expect(await leaveDevice(marit)).toBe(3)
    for (const table of Object.values(entryTables)) expect(await table.count()).toBe(0)
    expect(await sealedHere()).toEqual([{ name: marit.name, count: 3 }])
    const [{ data }] = await sealedEntries.toArray()
    expect(new TextDecoder().decode(data)).not.toContain('Imke')
  })

  it('gives it back to the same account alone', async () => {
    expect(await comeBack({ id: 'dunstan', sealKey: key(2) })).toBe(0)
    expect(await comeBack({ id: marit.id, sealKey: key(2) })).toBe(0)
    expect(await sealedHere()).toHaveLength(1)
    expect(await comeBack(marit)).toBe(3)
    expect((await entryTables.runEvents.toArray()).map((e) => [e.id, e.sent])).toEqual([
      ['2', 0],
      ['3', 2],
    ])
    expect(await entryTables.dayEvents.count()).toBe(1)
    expect(await sealedHere()).toEqual([])
  })

  it('leaves nothing behind where all was sent', async () => {
    for (const table of Object.values(entryTables)) await table.clear()
    await entryTables.runEvents.put(event('5', 1))
    expect(await leaveDevice(marit)).toBe(0)
    expect(await sealedEntries.count()).toBe(0)
  })
})
