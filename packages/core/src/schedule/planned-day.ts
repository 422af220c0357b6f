import type { Slot } from '../day/day.ts'
import { byStart } from '../day/own-times.ts'
import { type DayToPlan, type KnownPeople, setupOfDay, slotsOfPlan } from './planning.ts'
import { solveDay } from './solve-day.ts'

/**
 * A day with a plan that was searched for: its run list is that of the plan and what stood in it before. The same number of steps gives
 * the same plan.
 */
export const plannedDay = <D extends DayToPlan & { slots: Slot[] }>(day: D, known: KnownPeople, steps: number): D => {
  const { planning } = day
  const { sessions } = solveDay(setupOfDay(day, known), { steps })
  const made = slotsOfPlan(sessions, planning.formats, (format) => format.name ?? format.kind)
  return { ...day, slots: [...made, ...day.slots].sort(byStart), planning: { ...planning, sessions } }
}
