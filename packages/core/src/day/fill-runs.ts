import { clockOf, minutesOf } from './check-day.ts'
import type { Slot } from './day.ts'
import { mayDrive, type SchoolCar } from './school-car.ts'
import type { Student } from './student.ts'

/** Who and what there is to fill a run list with; `idOf` makes an id for the run of a student. */
export type FillRuns = {
  slots: readonly Slot[]
  students: readonly Pick<Student, 'id' | 'level'>[]
  instructorIds: readonly string[]
  cars: readonly Pick<SchoolCar, 'id' | 'studentId' | 'mayDrive'>[]
  title: string
  idOf: (studentId: string) => string
}

/** The first run of a day without any (minutes since midnight), its length and the pause to the next one (min). */
const FIRST = 9 * 60
const LENGTH = 20
const PAUSE = 5

/** A car that this student may take, their own first, out of those that are free. */
const carFor = (student: Pick<Student, 'id' | 'level'>, cars: FillRuns['cars'], taken: ReadonlySet<string>): string | undefined => {
  const free = cars.filter((car) => !taken.has(car.id) && mayDrive(car, student))
  return (free.find((car) => car.studentId === student.id) ?? free[0])?.id
}

/**
 * One run for every student who has none yet, in rounds after the last slot: in each round every instructor and every car is taken
 * once, and a student waits for the next round where no car is left that they may drive. Without instructors or cars one drives at a time.
 * A plain beginning that people change; nothing that stands already is moved.
 */
export const fillRuns = ({ slots, students, instructorIds, cars, title, idOf }: FillRuns): Slot[] => {
  const driving = new Set(slots.filter((s) => s.kind === 'run').map((s) => s.studentId))
  let waiting = students.filter((s) => !driving.has(s.id))
  const lanes = Math.max(1, instructorIds.length)
  const added: Slot[] = []
  let at = slots.reduce((last, slot) => Math.max(last, minutesOf(slot.end) + PAUSE), FIRST)
  while (waiting.length > 0) {
    const taken = new Set<string>()
    const later: typeof waiting = []
    let lane = 0
    for (const student of waiting) {
      const carId = carFor(student, cars, taken)
      // Somebody who may drive none of the cars drives all the same, and the list says what is wrong.
      const none = !cars.some((car) => mayDrive(car, student))
      if (lane >= lanes || (!carId && !none)) {
        later.push(student)
        continue
      }
      if (carId) taken.add(carId)
      added.push({
        id: idOf(student.id),
        start: clockOf(at),
        end: clockOf(at + LENGTH),
        kind: 'run',
        title,
        studentId: student.id,
        instructorId: instructorIds[lane],
        carId,
      })
      lane++
    }
    waiting = later
    at += LENGTH + PAUSE
  }
  return [...slots, ...added]
}
