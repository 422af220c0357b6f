import dayjs from 'dayjs'
import timezone from 'dayjs/plugin/timezone.js'
import utc from 'dayjs/plugin/utc.js'
import ical from 'ical-generator'

dayjs.extend(utc)
dayjs.extend(timezone)

/** A line of a calendar. `uid` stays the same when it moves; times are hh:mm at the venue. */
type CalendarLine = { uid: string; start: string; end: string; summary: string; description: string }

/** A calendar of one day. `zone`: of the venue; without one times are those of whatever clock reads them. */
export type Calendar = { name: string; date: string; zone: string; place: string; sequence: number; lines: readonly CalendarLine[] }

/**
 * A day as a calendar file (RFC 5545). Times with a known zone are written in UTC, so that no reader has to know the zone's rules;
 * others float. UIDs stay and SEQUENCE grows with each version of the day, so that a calendar replaces what moved.
 */
export const calendarFile = ({ name, date, zone, place, sequence, lines }: Calendar): string => {
  const calendar = ical({ name, prodId: { company: 'ochote', product: 'ochote', language: 'EN' } })
  const moment = (clock: string) => (zone === '' ? dayjs(`${date}T${clock}:00`) : dayjs.tz(`${date}T${clock}:00`, zone).utc())
  for (const { uid, start, end, summary, description } of lines)
    calendar.createEvent({
      id: uid,
      sequence,
      start: moment(start),
      end: moment(end),
      floating: zone === '',
      summary,
      description,
      location: place,
    })
  return calendar.toString()
}
