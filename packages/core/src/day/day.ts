import type { LineMethod } from '../line/line-method.ts'
import type { BrakingSchool } from '../marks/braking-school.ts'
import type { Surface } from '../profile/grip.ts'
import type { FormatKind } from './format-kind.ts'

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
  /** How it is run, where a plan says so. */
  format?: FormatKind | undefined
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

/** How a group drives; what it has none of is the day's. */
export type GroupSettings = {
  studentIds: readonly string[]
  /** Pace of a student's first drive of the day, and of those after it; the last one stays. */
  pace?: number | undefined
  laterPaces?: readonly number[] | undefined
  school?: PlanChoice['school'] | undefined
  method?: LineMethod | undefined
  schemeId?: string | undefined
  /** What is driven by whoever has no car of the day. */
  vehicleId?: string | undefined
  /** Corners that the group works on. */
  cornerIds?: readonly string[] | undefined
}

/** A day as far as it says how somebody drives. */
type DrivenDay<S> = CarsOfDay & {
  settings: S
  groups?: readonly GroupSettings[]
  planning?: { rules: { lastNotFaster: boolean } }
}

/**
 * Pace of a group's k-th drive of the day, the first being 0; undefined where the group has none of its own. `last`: that drive is the
 * last one of the day and must not be faster than the one before it.
 */
export const paceOfDrive = ({ pace, laterPaces = [] }: GroupSettings, k: number, last = false): number | undefined => {
  if (pace === undefined) return undefined
  const paces = [pace, ...laterPaces]
  const at = (n: number): number => paces[Math.min(n, paces.length - 1)]
  return last && k > 0 ? Math.min(at(k), at(k - 1)) : at(k)
}

/** Which of a student's drives at a pace a slot is, from 0, and whether it is their last; the first where it is none of them. */
const driveOf = (studentId: string, slotId: string | null, slots: readonly Slot[]): { k: number; last: boolean } => {
  const drives = slots
    .filter((s) => s.kind === 'run' && s.studentId === studentId && s.format !== 'sighting')
    .sort((a, b) => a.start.localeCompare(b.start))
  const k = drives.findIndex((s) => s.id === slotId)
  return { k: Math.max(0, k), last: k >= 0 && k === drives.length - 1 }
}

/**
 * Settings by which a student drives on this day: in their car, and as their group does; the rest is the day's. `slotId`: the drive, for
 * a group whose pace grows from one to the next; without it the first.
 */
export const settingsOfStudent = <S extends Pick<PlanChoice, 'vehicleId' | 'pace' | 'school' | 'method' | 'schemeId'>>(
  studentId: string,
  day: DrivenDay<S>,
  slotId: string | null = null,
): S => {
  const group = day.groups?.find((g) => g.studentIds.includes(studentId))
  const { k, last } = driveOf(studentId, slotId, day.slots)
  const pace = group && paceOfDrive(group, k, last && day.planning?.rules.lastNotFaster)
  const vehicleId = carOfStudent(studentId, day)?.vehicleId ?? group?.vehicleId
  return {
    ...day.settings,
    ...(vehicleId === undefined ? {} : { vehicleId }),
    ...(pace === undefined ? {} : { pace }),
    ...(group?.school === undefined ? {} : { school: group.school }),
    ...(group?.method === undefined ? {} : { method: group.method }),
    ...(group?.schemeId === undefined ? {} : { schemeId: group.schemeId }),
  }
}

/** Corners that a student's group works on today, by id. */
export const sectionsOfStudent = (studentId: string, groups: readonly GroupSettings[]): readonly string[] =>
  groups.find((g) => g.studentIds.includes(studentId))?.cornerIds ?? []
