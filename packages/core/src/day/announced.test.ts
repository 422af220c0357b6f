import { describe, expect, it } from 'vitest'
import { differsFromTold, ownChange, toldSlots, whoIsChanged } from './announced.ts'
import type { Slot } from './day.ts'

const line = (studentId: string, start: string, end: string, carId = 'c1'): Slot => ({
  id: `ride-along ${start} ${studentId}`,
  start,
  end,
  kind: 'run',
  title: 'Ride-along',
  studentId,
  carId,
})
const before = [line('imke', '10:00', '10:20'), line('rashid', '10:25', '10:45'), line('noor', '11:00', '11:20')]
const after = [line('imke', '10:00', '10:20'), line('noor', '10:25', '10:45'), line('rashid', '11:00', '11:20', 'c2')]

describe('what was announced', () => {
  it('is what people know, and the run list itself on a day without any', () => {
    expect(toldSlots({ slots: after, announced: null })).toBe(after)
    expect(toldSlots({ slots: after, announced: { slots: before } })).toBe(before)
    expect(differsFromTold({ slots: after, announced: null })).toBe(false)
    expect(differsFromTold({ slots: after, announced: { slots: before } })).toBe(true)
    // Two who only changed places differ, too.
    const exchanged = [{ ...before[0], studentId: 'rashid' }, { ...before[1], studentId: 'imke' }, before[2]]
    expect(differsFromTold({ slots: exchanged, announced: { slots: before } })).toBe(true)
    expect(differsFromTold({ slots: [...before].reverse(), announced: { slots: before } })).toBe(false)
  })

  it('differs for those whose time, car or instructor is another one', () => {
    expect(whoIsChanged(before, after)).toEqual(['rashid', 'noor'])
    expect(whoIsChanged(before, before)).toEqual([])
    const own = ownChange([before[1]], [after[2]])
    expect(own.gone.map((s) => s.start)).toEqual(['10:25'])
    expect(own.added.map((s) => [s.start, s.carId])).toEqual([['11:00', 'c2']])
    expect(ownChange([before[0]], [after[0]])).toEqual({ gone: [], added: [] })
  })
})
