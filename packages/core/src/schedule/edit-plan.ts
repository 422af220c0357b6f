import { clockOf, minutesOf } from '../day/check-day.ts'
import { emptyBoard, put } from './board.ts'
import { type Broken, checkTimetable } from './check-timetable.ts'
import { placedOf } from './construct.ts'
import { type Costs, costsOf, totalOf } from './cost.ts'
import { modelOf } from './model.ts'
import type { DaySetup, PlannedSession } from './setup.ts'
import { announcedOf } from './solve-day.ts'

/** What tells a session from all others of its day, also after it was read again. */
export const sessionKey = ({ formatId, groupId, start, seats }: PlannedSession): string =>
  `${formatId} ${groupId} ${start} ${seats.map((seat) => seat.studentId).join(' ')}`

/** A session at another time, within the day. */
export const movedBy = (session: PlannedSession, minutes: number): PlannedSession => ({
  ...session,
  start: clockOf(minutesOf(session.start) + minutes),
  end: clockOf(minutesOf(session.end) + minutes),
})

/** What a plan costs and which hard rules it breaks, for a plan that was changed by hand. Sessions that name what is not there count as broken. */
export type Judged = { costs: Costs; cost: number; broken: Broken[] }

/** Judges a plan as it is; nothing is moved. Cost: one look at each person and session, and the square of sessions for the rules. */
export const judgePlan = (setup: DaySetup, sessions: readonly PlannedSession[]): Judged => {
  const model = modelOf(setup)
  const board = emptyBoard(model)
  for (const session of sessions) {
    const placed = placedOf(model, session, false)
    if (placed && placed.at + model.formats[placed.format].steps <= model.steps) put(board, placed)
  }
  const costs = costsOf(board, announcedOf(model))
  return { costs, cost: totalOf(costs), broken: checkTimetable(setup, sessions) }
}
