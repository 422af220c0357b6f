import type { Slot } from './day.ts'
import { byStart } from './own-times.ts'

/** What people were told of a day: the run list then, and the one that they were told before it. */
export type Announced = { at: string; slots: Slot[]; before: Slot[] | null }

type DayTold = { slots: readonly Slot[]; announced: { slots: readonly Slot[] } | null }

/** The run list as people know it: what was announced, or, on a day on which nothing was, the run list itself. */
export const toldSlots = ({ slots, announced }: DayTold): readonly Slot[] => announced?.slots ?? slots

/** Lines that somebody had and no longer has, and lines that are new to them. */
export type OwnChange = { gone: Slot[]; added: Slot[] }

const sameLine = (a: Slot, b: Slot): boolean =>
  a.start === b.start &&
  a.end === b.end &&
  a.kind === b.kind &&
  a.title === b.title &&
  a.studentId === b.studentId &&
  a.carId === b.carId &&
  // Who gives a lesson makes no difference to whoever is in it.
  (a.carId === undefined || a.instructorId === b.instructorId)

/** What differs between two lists of one person's lines, each in the order of its starts. */
export const ownChange = (before: readonly Slot[], after: readonly Slot[]): OwnChange => ({
  gone: before.filter((a) => !after.some((b) => sameLine(a, b))).sort(byStart),
  added: after.filter((b) => !before.some((a) => sameLine(a, b))).sort(byStart),
})

/** Students whose own lines differ between two run lists, in the order of their first difference. Cost: students × lines. */
export const whoIsChanged = (before: readonly Slot[], after: readonly Slot[]): string[] => {
  const ids = new Set([...before, ...after].flatMap((s) => s.studentId ?? []))
  const of = (slots: readonly Slot[], id: string): Slot[] => slots.filter((s) => s.studentId === id)
  return [...ids]
    .map((id) => {
      const { gone, added } = ownChange(of(before, id), of(after, id))
      return { id, start: [...gone, ...added].map((s) => s.start).sort()[0] }
    })
    .filter((one) => one.start !== undefined)
    .sort(byStart)
    .map((one) => one.id)
}

/** Whether a run list says something else than what was announced, in whatever line. */
export const differsFromTold = (day: DayTold): boolean => {
  const { gone, added } = ownChange(toldSlots(day), day.slots)
  return gone.length + added.length > 0
}
