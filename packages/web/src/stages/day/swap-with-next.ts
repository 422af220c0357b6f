import { exchanged, type PlannedSession } from '@ochote/core'

/** A plan in which a session changed places with the next one of its kind that others are in; null where there is none. */
export const swappedWithNext = (sessions: readonly PlannedSession[], session: PlannedSession): PlannedSession[] | null => {
  const own = new Set(session.seats.map((seat) => seat.studentId))
  const next = sessions
    .filter((s) => s.formatId === session.formatId && s.start > session.start && !s.seats.some((seat) => own.has(seat.studentId)))
    .sort((a, b) => a.start.localeCompare(b.start))[0]
  return next ? exchanged(sessions, session, next) : null
}
