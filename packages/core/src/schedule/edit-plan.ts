import { clockOf, minutesOf } from '../day/check-day.ts'
import { emptyBoard, put } from './board.ts'
import { type Broken, checkTimetable } from './check-timetable.ts'
import { placedOf } from './construct.ts'
import { type Costs, costsOf, totalOf } from './cost.ts'
import { modelOf } from './model.ts'
import { type DaySetup, type PlannedSession, sessionKey } from './setup.ts'
import { announcedOf } from './solve-day.ts'

/** A session at another time, within the day. */
export const movedBy = (session: PlannedSession, minutes: number): PlannedSession => ({
  ...session,
  start: clockOf(minutesOf(session.start) + minutes),
  end: clockOf(minutesOf(session.end) + minutes),
})

/**
 * A plan in which two sessions of one format have exchanged their people: each keeps its time, instructor and cars, as far as there are
 * as many of them. Sessions of different formats, or one and the same, stay as they are.
 */
export const exchanged = (sessions: readonly PlannedSession[], one: PlannedSession, other: PlannedSession): PlannedSession[] => {
  const [oneKey, otherKey] = [sessionKey(one), sessionKey(other)]
  if (oneKey === otherKey || one.formatId !== other.formatId) return [...sessions]
  const peopleOf = (place: PlannedSession, from: PlannedSession): PlannedSession => ({
    ...place,
    groupId: from.groupId,
    seats: from.seats.map((seat, k) => ({
      studentId: seat.studentId,
      carId: place.seats.length === from.seats.length ? place.seats[k].carId : seat.carId,
    })),
  })
  return sessions.map((s) => (sessionKey(s) === oneKey ? peopleOf(one, other) : sessionKey(s) === otherKey ? peopleOf(other, one) : s))
}

/** A plan without a student's place in a session, which is gone where nobody is left in it. */
export const withoutSeat = (sessions: readonly PlannedSession[], session: PlannedSession, studentId: string): PlannedSession[] =>
  sessions.flatMap((s) => {
    if (sessionKey(s) !== sessionKey(session)) return [s]
    const seats = s.seats.filter((seat) => seat.studentId !== studentId)
    return seats.length > 0 ? [{ ...s, seats }] : []
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
