import ICAL from 'ical.js'
import { describe, expect, it } from 'vitest'
import { calendarFile } from './calendar.ts'

type Read = { uid: string; start: Date; floating: string; summary: string; location: string; sequence: number; minutes: number }

/** A calendar file as another program reads it. */
const read = (text: string): Read[] =>
  new ICAL.Component(ICAL.parse(text)).getAllSubcomponents('vevent').map((one) => {
    const event = new ICAL.Event(one)
    return {
      uid: event.uid,
      start: event.startDate.toJSDate(),
      floating: event.startDate.toString(),
      summary: event.summary,
      location: event.location,
      sequence: event.sequence,
      minutes: event.duration.toSeconds() / 60,
    }
  })

const line = (uid: string, start: string, end: string) => ({ uid, start, end, summary: `Ride-along: ${uid}`, description: 'Car 4, Teo' })
const day = { name: 'Track day', place: 'Ostrel Mere', sequence: 7 }

describe('a calendar file', () => {
  it('has the venue’s times right in summer and in winter, for whoever reads it', () => {
    const at = (date: string, zone: string) => read(calendarFile({ ...day, date, zone, lines: [line('imke-1', '10:05', '10:25')] }))[0]
    expect(at('2027-05-15', 'Europe/Berlin').start.toISOString()).toBe('2027-05-15T08:05:00.000Z')
    expect(at('2027-11-15', 'Europe/Berlin').start.toISOString()).toBe('2027-11-15T09:05:00.000Z')
    // The night in which clocks go back is over by then.
    expect(at('2027-10-31', 'Europe/Berlin').start.toISOString()).toBe('2027-10-31T09:05:00.000Z')
    expect(at('2027-05-15', 'Australia/Sydney').start.toISOString()).toBe('2027-05-15T00:05:00.000Z')
    expect(at('2027-05-15', 'Europe/Berlin')).toMatchObject({
      minutes: 20,
      summary: 'Ride-along: imke-1',
      location: 'Ostrel Mere',
      sequence: 7,
    })
  })

  it('leaves times to the reader’s clock where the venue has no zone', () => {
    const [event] = read(calendarFile({ ...day, date: '2027-05-15', zone: '', lines: [line('a', '10:05', '10:25')] }))
    expect(event.floating).toBe('2027-05-15T10:05:00')
  })

  it('keeps the name of each line and counts up, so that a calendar replaces what moved', () => {
    const before = read(
      calendarFile({ ...day, date: '2027-05-15', zone: 'UTC', lines: [line('a', '10:05', '10:25'), line('b', '11:00', '11:20')] }),
    )
    const after = read(
      calendarFile({
        ...day,
        sequence: 8,
        date: '2027-05-15',
        zone: 'UTC',
        lines: [line('a', '13:05', '13:25'), line('b', '11:00', '11:20')],
      }),
    )
    expect(after.map((e) => e.uid)).toEqual(before.map((e) => e.uid))
    expect(after[0].sequence).toBeGreaterThan(before[0].sequence)
    expect(after[0].start.toISOString()).toBe('2027-05-15T13:05:00.000Z')
  })
})
