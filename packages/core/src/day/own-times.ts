import type { Slot } from './day.ts'

/** Lines or sessions of a day in the order of their starts. */
export const byStart = (a: { start: string }, b: { start: string }): number => (a.start < b.start ? -1 : a.start > b.start ? 1 : 0)

/** Briefings and lessons are for everybody; all else is for whom it names. */
const forAll: ReadonlySet<Slot['kind']> = new Set(['briefing', 'classroom', 'break'])

/**
 * The lines of a run list that concern a student: their own, and what is for everybody. Where the plan knows who is in a lesson
 * (`inSession`), only theirs.
 */
export const timesOfStudent = (slots: readonly Slot[], studentId: string, inSession?: (slot: Slot) => boolean | null): Slot[] =>
  slots
    .filter(
      (slot) => slot.studentId === studentId || (slot.studentId === undefined && forAll.has(slot.kind) && inSession?.(slot) !== false),
    )
    .sort(byStart)

/**
 * A name for each line that stays when its time changes, for calendars that replace what moved: who, what, and the how-manieth of it
 * on this day.
 */
export const lastingNames = (slots: readonly Slot[]): Map<string, string> => {
  const counts = new Map<string, number>()
  const sorted = [...slots].sort((a, b) => byStart(a, b) || (a.id < b.id ? -1 : 1))
  return new Map(
    sorted.map((slot) => {
      const what = `${slot.studentId ?? 'everybody'}-${slot.kind}-${slot.title}`
      const nth = (counts.get(what) ?? 0) + 1
      counts.set(what, nth)
      return [slot.id, `${what}-${nth}`]
    }),
  )
}
