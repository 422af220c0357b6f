import { describe, expect, it } from 'vitest'
import { mergeFields } from './merge-fields.ts'

const base = {
  title: 'Sandpiper day',
  weather: 'dry',
  settings: { surface: 'dry', pace: 0.6 },
  rules: ['Belts'],
  slots: [
    { id: 'a', start: '09:00' },
    { id: 'b', start: '09:25' },
  ],
}

describe('two changes of one document', () => {
  it('are both kept where they are of different fields, however deep', () => {
    const mine = { ...base, title: 'Heron day', settings: { ...base.settings, pace: 0.75 } }
    const theirs = { ...base, weather: 'rain', settings: { ...base.settings, surface: 'wet' } }
    expect(mergeFields(base, mine, theirs)).toEqual({
      merged: { ...base, title: 'Heron day', weather: 'rain', settings: { surface: 'wet', pace: 0.75 } },
      lost: [],
    })
  })

  it('leave a field that both changed as the other has it, and tell it', () => {
    const { merged, lost } = mergeFields(base, { ...base, weather: 'fog' }, { ...base, weather: 'rain' })
    expect(merged.weather).toBe('rain')
    expect(lost).toEqual([{ path: ['weather'], mine: 'fog', theirs: 'rain' }])
    expect(mergeFields(base, { ...base, rules: ['Belts', 'Radio'] }, { ...base, rules: [] }).lost).toEqual([
      { path: ['rules'], mine: ['Belts', 'Radio'], theirs: [] },
    ])
  })

  it('are no quarrel where both did the same', () => {
    const both = { ...base, weather: 'rain' }
    expect(mergeFields(base, both, { ...both })).toEqual({ merged: both, lost: [] })
  })

  it('see through the order of fields: a member that was added and taken away again is away', () => {
    const calls = (own: object) => ({ calls: own as Record<string, unknown> })
    const { merged, lost } = mergeFields(
      calls({ 'T1-brake': { silent: true, along_m: 0 } }),
      calls({}),
      calls({ 'T1-brake': { along_m: 0, silent: true, words: undefined } }),
    )
    expect({ merged, lost }).toEqual({ merged: calls({}), lost: [] })
  })

  it('merge lists by their members: changed, added, removed and put in order', () => {
    const mine = { ...base, slots: [base.slots[1], { id: 'a', start: '08:50' }, { id: 'c', start: '10:00' }] }
    const theirs = { ...base, slots: [base.slots[0], { id: 'b', start: '09:30' }, { id: 'd', start: '11:00' }] }
    const { merged, lost } = mergeFields(base, mine, theirs)
    expect(lost).toEqual([])
    expect(merged.slots).toEqual([
      { id: 'a', start: '08:50' },
      { id: 'b', start: '09:30' },
      { id: 'd', start: '11:00' },
      { id: 'c', start: '10:00' },
    ])
    const without = mergeFields(base, { ...base, slots: [base.slots[0]] }, { ...base, weather: 'rain' }).merged
    expect(without.slots).toEqual([base.slots[0]])
    const turned = { ...base, slots: [base.slots[1], base.slots[0]] }
    expect(mergeFields(base, turned, { ...base, slots: [base.slots[0], { id: 'b', start: '09:30' }] }).merged.slots).toEqual([
      { id: 'b', start: '09:30' },
      base.slots[0],
    ])
  })

  it('tell a member that one side removed and the other changed', () => {
    const { merged, lost } = mergeFields(
      base,
      { ...base, slots: [base.slots[0]] },
      { ...base, slots: [base.slots[0], { id: 'b', start: '09:30' }] },
    )
    expect(merged.slots).toHaveLength(2)
    expect(lost).toEqual([{ path: ['slots', 'b'], mine: undefined, theirs: { id: 'b', start: '09:30' } }])
  })
})
