import type { DayPlan } from '@ochote/contract'
import { byStart, type PlannedSession, sessionKey, slotsOfPlan } from '@ochote/core'
import { say } from '../../language/say.ts'
import { formatName } from './plan-words.ts'

/** The day with a plan in use: its run list is made from it; breaks that were entered by hand stay, and so does every line that was driven. */
export const withPlan = (
  plan: DayPlan,
  sessions: PlannedSession[],
  driven: ReadonlySet<string>,
  locked: string[] = plan.planning.locked,
): DayPlan => {
  const made = slotsOfPlan(
    sessions,
    plan.planning.formats,
    (format) => format.name || (format.kind === 'briefing' ? say`everybody` : formatName(format)),
  )
  const known = new Set(made.map((slot) => slot.id))
  const stays = plan.slots.filter((slot) => slot.kind === 'break' || (driven.has(slot.id) && !known.has(slot.id)))
  return {
    ...plan,
    planning: { ...plan.planning, sessions, locked: locked.filter((key) => sessions.some((s) => sessionKey(s) === key)) },
    slots: [...made, ...stays].sort(byStart),
  }
}
