import type { Slot } from './day.ts'
import { mayDrive, type SchoolCar } from './school-car.ts'
import type { Student } from './student.ts'

/** What can be wrong with a run list. */
export const dayProblemKinds = [
  'ends-before-start',
  'student-twice',
  'car-twice',
  'instructor-twice',
  'no-car',
  'no-student',
  'may-not-drive',
  'grounded',
] as const
export type DayProblemKind = (typeof dayProblemKinds)[number]

/** Something wrong in a slot; `with`: the other slot where two of them quarrel. */
export type DayProblem = { kind: DayProblemKind; slotId: string; with?: string }

/** What the check needs to know of cars and students; cars that are not known are open to everybody. */
export type CheckedDay = {
  slots: readonly Slot[]
  students: readonly Pick<Student, 'id' | 'level'>[]
  cars: readonly Pick<SchoolCar, 'id' | 'studentId' | 'mayDrive'>[]
  /** Cars of which somebody said that nobody should drive them. */
  grounded: ReadonlySet<string>
}

/** Minutes since midnight of a time as hh:mm. */
export const minutesOf = (clock: string): number => {
  const [hours, minutes] = clock.split(':').map(Number)
  return 60 * hours + minutes
}

/** A time of day as hh:mm; past midnight it stays at the day's last minute. */
export const clockOf = (minutes: number): string => {
  const within = Math.min(Math.max(0, Math.round(minutes)), 24 * 60 - 1)
  return `${String(Math.floor(within / 60)).padStart(2, '0')}:${String(within % 60).padStart(2, '0')}`
}

/** Whether two lines stand for one session of a plan, which several do together; nobody shares a ride-along. */
export const isSameSession = (a: Slot, b: Slot): boolean =>
  a.format !== undefined &&
  a.format !== 'ride-along' &&
  a.format === b.format &&
  a.start === b.start &&
  a.title === b.title &&
  a.instructorId === b.instructorId

/** Whether two lines at one time may share an instructor, or a car: those of one session do, and passengers of sighting laps. */
const mayShare = (field: 'studentId' | 'carId' | 'instructorId', a: Slot, b: Slot): boolean =>
  field !== 'studentId' && isSameSession(a, b) && (field === 'instructorId' || a.format === 'sighting')

const twice = [
  ['studentId', 'student-twice'],
  ['carId', 'car-twice'],
  ['instructorId', 'instructor-twice'],
] as const

/** Slots that take the same student, car or instructor at the same time, each pair once. Cost grows with slots times those at the same time. */
const clashes = (slots: readonly Slot[]): DayProblem[] => {
  const sorted = slots.filter((s) => minutesOf(s.end) > minutesOf(s.start)).sort((a, b) => minutesOf(a.start) - minutesOf(b.start))
  const found: DayProblem[] = []
  sorted.forEach((slot, i) => {
    for (let k = i + 1; k < sorted.length && minutesOf(sorted[k].start) < minutesOf(slot.end); k++)
      for (const [field, kind] of twice)
        if (slot[field] !== undefined && slot[field] === sorted[k][field] && !mayShare(field, slot, sorted[k]))
          found.push({ kind, slotId: sorted[k].id, with: slot.id })
  })
  return found
}

/** What is wrong with a day's run list, in the order of its slots. */
export const checkDay = ({ slots, students, cars, grounded }: CheckedDay): DayProblem[] => {
  const found = clashes(slots)
  for (const slot of slots) {
    const tell = (kind: DayProblemKind): void => void found.push({ kind, slotId: slot.id })
    if (minutesOf(slot.end) <= minutesOf(slot.start)) tell('ends-before-start')
    if (slot.kind !== 'run') continue
    if (!slot.studentId) tell('no-student')
    if (!slot.carId) tell('no-car')
    const student = students.find((s) => s.id === slot.studentId)
    const car = cars.find((c) => c.id === slot.carId)
    if (student && car && !mayDrive(car, student)) tell('may-not-drive')
    if (slot.carId && grounded.has(slot.carId)) tell('grounded')
  }
  const place = new Map(slots.map((slot, i) => [slot.id, i]))
  return found.sort((a, b) => (place.get(a.slotId) ?? 0) - (place.get(b.slotId) ?? 0))
}
