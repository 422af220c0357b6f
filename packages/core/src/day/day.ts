import type { LineMethod } from '../line/line-method.ts'
import type { BrakingSchool } from '../marks/braking-school.ts'
import type { Surface } from '../profile/grip.ts'

/** Settings behind the numbers on every screen: circuit, vehicle, surface, pace (share of grip), braking style, line, cone scheme. */
export type PlanChoice = {
  circuitId: string
  vehicleId: string
  surface: Surface
  pace: number
  school: BrakingSchool
  method: LineMethod
  schemeId: string
  /** The lowest gear to use; second for cars where none is set. */
  lowestGear?: number | undefined
  /** What the compact line pays for a metre of path (s). */
  perMetre_s?: number | undefined
}

/** The settings that differ between two choices, in the order of the context bar. */
export const changedSettings = (one: PlanChoice, other: PlanChoice): (keyof PlanChoice)[] =>
  (['circuitId', 'vehicleId', 'surface', 'pace', 'method', 'school', 'schemeId', 'lowestGear', 'perMetre_s'] as const).filter(
    (key) => one[key] !== other[key],
  )

/** Kinds of slot: a run on track, or something that everyone or a group does. */
export const slotKinds = ['briefing', 'run', 'classroom', 'pad', 'break'] as const

/** One line of the day. Times are hh:mm. */
export type Slot = {
  id: string
  start: string
  end: string
  kind: (typeof slotKinds)[number]
  title: string
  studentId?: string | undefined
  instructorId?: string | undefined
  carId?: string | undefined
}

/** A car of the day: its number, which vehicle it is, and whose. */
export type Car = { id: string; number: string; vehicleId: string; owner: string }

/** A flag and what it means at this venue. */
export type DayFlag = { name: string; meaning: string }

/** Slots and cars: what it takes to find out who drives what. */
export type CarsOfDay = { slots: readonly Slot[]; cars: readonly Car[] }

/** The car of a run: the one it was started with, else that of its slot. */
export const carOfRun = (run: { carId: string | null; slotId: string | null }, { slots, cars }: CarsOfDay): Car | undefined => {
  const carId = run.carId ?? slots.find((slot) => slot.id === run.slotId)?.carId
  return cars.find((car) => car.id === carId)
}

/** The car of a student on this day: that of the first of their slots that has one. */
export const carOfStudent = (studentId: string | null | undefined, { slots, cars }: CarsOfDay): Car | undefined => {
  const carId = slots.find((slot) => slot.studentId === studentId && slot.carId)?.carId
  return cars.find((car) => car.id === carId)
}

/** A group's own pace and school of braking; what it has none of is the day's. */
export type GroupSettings = { studentIds: readonly string[]; pace?: number | undefined; school?: PlanChoice['school'] | undefined }

/** Settings by which a student drives on this day: in their car, at the pace and by the braking of their group; the rest is the day's. */
export const settingsOfStudent = <S extends Pick<PlanChoice, 'vehicleId' | 'pace' | 'school'>>(
  studentId: string,
  day: CarsOfDay & { settings: S; groups?: readonly GroupSettings[] },
): S => {
  const { pace, school } = day.groups?.find((g) => g.studentIds.includes(studentId)) ?? {}
  const vehicleId = carOfStudent(studentId, day)?.vehicleId
  return {
    ...day.settings,
    ...(vehicleId === undefined ? {} : { vehicleId }),
    ...(pace === undefined ? {} : { pace }),
    ...(school === undefined ? {} : { school }),
  }
}
