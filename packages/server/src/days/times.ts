import type { Day, DayBoard, OwnTime, Portal } from '@ochote/contract'
import { firstName, isInSlot, isSameSession, lastingNames, ownChange, type Slot, timesOfStudent, toldSlots } from '@ochote/core'
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

/** A student's lines as they were told them. */
const ownSlots = ({ plan }: Day, studentId: string, slots = toldSlots(plan)): Slot[] =>
  timesOfStudent(slots, studentId, (slot) => isInSlot(slot, plan.planning.told ?? plan.planning.sessions, studentId))

/** A student's times of a day as their page shows them, and what the last announcement changed for them. */
export const ownTimes = async (stores: Stores, day: Day, studentId: string): Promise<Pick<Portal, 'times' | 'changed'>> => {
  const names = await namesOf(stores, day)
  const shown = (slot: Slot): OwnTime => ({
    start: slot.start,
    end: slot.end,
    kind: slot.kind,
    title: slot.title,
    car: names.car(slot),
    instructor: names.instructor(slot),
  })
  const told = ownSlots(day, studentId)
  const { announced } = day.plan
  const { gone, added } = ownChange(announced?.before ? ownSlots(day, studentId, announced.before) : told, told)
  return {
    times: told.map(shown),
    changed: announced && gone.length + added.length > 0 ? { at: announced.at, gone: gone.map(shown), added: added.map(shown) } : null,
  }
}

/** The day as the board in the paddock shows it; people by their first names unless the day says otherwise. */
export const boardOf = async (stores: Stores, day: Day): Promise<DayBoard> => {
  const { plan } = day
  const names = await namesOf(stores, day)
  const students = new Map((await stores.students.byIds(plan.studentIds)).map((s) => [s.id, s.name]))
  const shown = (id: string | undefined): string => {
    const name = students.get(id ?? '') ?? ''
    return plan.board?.names === 'whole' ? name : firstName(name)
  }
  return {
    title: plan.title,
    date: plan.date,
    venue: plan.venue,
    lines: toldSlots(plan).map((slot) => ({
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

/** Lines of a row or an exercise that several do together: an instructor has them once. */
const oncePerSession = (slots: readonly Slot[]): Slot[] =>
  slots.filter((slot, k) => !slots.slice(0, k).some((before) => isSameSession(before, slot)))

/** A day as a calendar file: all of it, one student's own times as they were told them, or one instructor's. */
export const dayCalendar = async (
  stores: Stores,
  day: Day,
  { studentId, instructorId }: { studentId?: string; instructorId?: string } = {},
): Promise<string> => {
  const { plan } = day
  const names = await namesOf(stores, day)
  const students = new Map((await stores.students.byIds(plan.studentIds)).map((s) => [s.id, s.name]))
  const uids = lastingNames(studentId === undefined ? plan.slots : toldSlots(plan))
  const ofInstructor = (): Slot[] =>
    oncePerSession(plan.slots.filter((slot) => slot.instructorId === instructorId || slot.kind === 'break'))
  const all = instructorId === undefined ? plan.slots : ofInstructor()
  const slots = studentId === undefined ? all : ownSlots(day, studentId)
  const who = (slot: Slot): string =>
    (instructorId === undefined ? [slot] : plan.slots.filter((s) => s === slot || isSameSession(s, slot)))
      .flatMap((s) => students.get(s.studentId ?? '') ?? [])
      .join(', ')
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
      summary: studentId === undefined ? [slot.title, who(slot)].filter(Boolean).join(': ') : slot.title || slot.kind,
      description: [names.car(slot) && `Car ${names.car(slot)}`, names.instructor(slot)].filter(Boolean).join(', '),
    })),
  })
}
