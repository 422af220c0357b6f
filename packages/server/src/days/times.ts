import type { Day, DayBoard, Portal } from '@ochote/contract'
import { firstName, isInSlot, lastingNames, type Slot, timesOfStudent } from '@ochote/core'
import type { Stores } from '../stores.ts'
import { calendarFile } from './calendar.ts'

/** Names of instructors, and the numbers of the day's cars. */
const namesOf = async ({ accounts }: Stores, { plan }: Day) => {
  const byId = new Map((await accounts.all()).map((a) => [a.id, a.name]))
  return {
    instructor: (slot: Slot): string => byId.get(slot.instructorId ?? '') ?? '',
    car: (slot: Slot): string => plan.cars.find((c) => c.id === slot.carId)?.number ?? '',
  }
}

const ownSlots = ({ plan }: Day, studentId: string): Slot[] =>
  timesOfStudent(plan.slots, studentId, (slot) => isInSlot(slot, plan.planning.sessions, studentId))

/** A student's times of a day as their page shows them. */
export const ownTimes = async (stores: Stores, day: Day, studentId: string): Promise<Portal['times']> => {
  const names = await namesOf(stores, day)
  return ownSlots(day, studentId).map((slot) => ({
    start: slot.start,
    end: slot.end,
    kind: slot.kind,
    title: slot.title,
    car: names.car(slot),
    instructor: names.instructor(slot),
  }))
}

/** The day as the board in the paddock shows it; people by their first names unless the day says otherwise. */
export const boardOf = async (stores: Stores, day: Day): Promise<DayBoard> => {
  const { plan } = day
  const names = await namesOf(stores, day)
  const students = new Map((await stores.students.all()).map((s) => [s.id, s.name]))
  const shown = (id: string | undefined): string => {
    const name = students.get(id ?? '') ?? ''
    return plan.board?.names === 'whole' ? name : firstName(name)
  }
  return {
    title: plan.title,
    date: plan.date,
    venue: plan.venue,
    lines: plan.slots.map((slot) => ({
      start: slot.start,
      end: slot.end,
      kind: slot.kind,
      title: slot.title,
      name: shown(slot.studentId),
      car: names.car(slot),
    })),
  }
}

/** Time zone of a day's clocks: that of the venue of its circuit; empty where nobody said. */
const zoneOf = async ({ circuits, venues }: Stores, { plan }: Day): Promise<string> => {
  const venueId = (await circuits.all()).find((c) => c.id === plan.settings.circuitId)?.venueId
  return (await venues.all()).find((v) => v.id === venueId)?.timeZone ?? ''
}

/** A day as a calendar file: all of it, or one student's own times. */
export const dayCalendar = async (stores: Stores, day: Day, studentId?: string): Promise<string> => {
  const { plan } = day
  const names = await namesOf(stores, day)
  const students = new Map((await stores.students.all()).map((s) => [s.id, s.name]))
  const uids = lastingNames(plan.slots)
  const slots = studentId === undefined ? plan.slots : ownSlots(day, studentId)
  return calendarFile({
    name: plan.title,
    date: plan.date,
    zone: await zoneOf(stores, day),
    place: plan.venue,
    sequence: day.version,
    lines: slots.map((slot) => ({
      uid: `${uids.get(slot.id)} ${day.id}`.replace(/[^\w-]+/g, '-'),
      start: slot.start,
      end: slot.end,
      summary:
        studentId === undefined ? [slot.title, students.get(slot.studentId ?? '')].filter(Boolean).join(': ') : slot.title || slot.kind,
      description: [names.car(slot) && `Car ${names.car(slot)}`, names.instructor(slot)].filter(Boolean).join(', '),
    })),
  })
}
