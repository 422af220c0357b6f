import { describe, expect, it } from 'vitest'
import { type DayDifference, withDifference } from './differences.ts'
import { EVERYBODY, setupOfDay, usualPlanning, wantsOfGroup } from './planning.ts'
import { usualFormats } from './setup.ts'

const said = (planning: ReturnType<typeof usualPlanning>, ...all: DayDifference[]) => {
  let now = planning
  for (const one of all) now = { ...now, ...withDifference(now, one) }
  return now
}
const span = { from: '11:00', to: '12:00' }

describe('what differs on a day', () => {
  it('is kept with whom it concerns, and said twice it changes nothing', () => {
    const late: DayDifference = { kind: 'late', id: 'imke', from: '10:30', to: '' }
    const out: DayDifference = { kind: 'car-out', id: 'c4', ...span }
    const planning = said(usualPlanning(), late, out, { kind: 'helmet', id: 'imke', other: 'M', from: '', to: '' })
    expect(planning.people.imke).toEqual({ arrives: '10:30', helmet: 'M' })
    expect(planning.cars.c4).toMatchObject({ cooling_min: 10, out: [span] })
    expect(said(planning, late, out)).toEqual(planning)
    expect(said(planning, { ...out, from: '11:30', to: '13:00' }).cars.c4.out).toEqual([{ from: '11:00', to: '13:00' }])
    expect(said(planning, { ...out, from: '17:30', to: '17:00' })).toEqual(planning)
    expect(said(planning, { ...out, from: '15:00', to: '15:30' }).cars.c4.out).toHaveLength(2)
  })

  it('gives a new group what everybody gets, until somebody says otherwise', () => {
    const planning = { ...usualPlanning(), wants: { [EVERYBODY]: { briefing: 1, pad: 2 }, quick: { pad: 3 } } }
    const withPad = { ...planning, formats: [...planning.formats, { id: 'pad', ...usualFormats.pad }] }
    expect(wantsOfGroup(withPad, 'new')).toEqual({ briefing: 1, pad: 2 })
    expect(wantsOfGroup(withPad, 'quick')).toEqual({ pad: 3 })
    // What was taken out of the day again is not wanted either.
    expect(wantsOfGroup(planning, 'new')).toEqual({ briefing: 1 })
    expect(wantsOfGroup(usualPlanning(), 'new')).toEqual({ briefing: 1, 'ride-along': 2 })
  })

  it('wishes either to keep or to avoid an instructor', () => {
    const wish = (kind: 'keep' | 'avoid'): DayDifference => ({ kind, id: 'imke', other: 'teo', from: '', to: '' })
    const planning = said(usualPlanning(), wish('keep'), wish('avoid'))
    expect(planning.pairs).toEqual([{ studentId: 'imke', instructorId: 'teo', wish: 'avoid' }])
  })

  it('reaches what is planned from: pairs, orders, fuel, and few cars in shared hours', () => {
    const planning = {
      ...said(
        usualPlanning(),
        { kind: 'keep', id: 'imke', other: 'teo', from: '', to: '' },
        { kind: 'keep', id: 'gone', other: 'teo', from: '', to: '' },
        { kind: 'track-shared', id: '', from: '10:00', to: '12:00', maxCars: 2 },
        { kind: 'track-closed', id: '', from: '11:00', to: '11:30' },
      ),
      cars: { c4: { cooling_min: 5, fuel_laps: 12, refuel_min: 20, out: [] } },
      order: [
        { groupId: null, first: 'briefing', second: 'ride-along' },
        { groupId: 'other', first: 'ride-along', second: 'briefing' },
        { groupId: null, first: 'pad', second: 'ride-along' },
      ],
    }
    const profile = { experience: '', car: '', goals: '', worries: [], language: null }
    const setup = setupOfDay(
      {
        date: '2027-05-15',
        studentIds: ['imke'],
        instructorIds: ['teo'],
        cars: [{ id: 'c4', number: '4', vehicleId: 'hatchback', owner: '' }],
        groups: [],
        planning,
      },
      { students: [{ id: 'imke', level: 'first-day', profile }], schoolCars: [], teaching: {}, lap_s: () => 120 },
    )
    expect(setup.pairs).toEqual([{ studentId: 'imke', instructorId: 'teo', wish: 'keep' }])
    expect(setup.cars).toEqual([{ id: 'c4', groupIds: [], studentIds: [], cooling_min: 5, fuel_laps: 12, refuel_min: 20, out: [] }])
    // The pad is no format of this day, and the other group has its own order.
    expect(setup.groups[0].order).toEqual([['briefing', 'ride-along']])
    const track = setup.windows.filter((w) => w.place === 'track').sort((a, b) => (a.from < b.from ? -1 : 1))
    expect(track).toEqual([
      { place: 'track', from: '09:30', to: '10:00' },
      { place: 'track', from: '10:00', to: '11:00', maxCars: 2 },
      { place: 'track', from: '11:30', to: '12:00', maxCars: 2 },
      { place: 'track', from: '12:00', to: '17:00' },
    ])
  })
})
