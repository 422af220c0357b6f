import type { Gearbox } from '../vehicle/gearbox.ts'
import type { Car } from './day.ts'
import type { Level } from './level.ts'
import type { Student } from './student.ts'

/** A driving aid of a car: how it is set on track, and what brings it back. */
export type Aid = { name: string; set: string; resets: string }

/** A car that the school or a student brings, whatever day it drives on; null owner: the school's. */
export type SchoolCar = {
  id: string
  number: string
  vehicleId: string
  studentId: string | null
  gearbox: Gearbox
  mayDrive: { levels: Level[]; studentIds: string[] }
  aids: Aid[]
  note: string
}

/** True if a student may drive a car: it is theirs, or open to everybody, to their level or to them. */
export const mayDrive = (
  { studentId, mayDrive: { levels, studentIds } }: Pick<SchoolCar, 'studentId' | 'mayDrive'>,
  student: Pick<Student, 'id' | 'level'>,
): boolean => {
  if (studentId === student.id || studentIds.includes(student.id)) return true
  if (levels.length > 0) return levels.includes(student.level)
  // A student's own car is theirs alone unless it was opened to others.
  return studentIds.length === 0 && studentId === null
}

/** A school's car as a day lists it. `ownerName`: of the student who brings it. */
export const carForDay = ({ id, number, vehicleId }: SchoolCar, ownerName: string): Car => ({ id, number, vehicleId, owner: ownerName })
