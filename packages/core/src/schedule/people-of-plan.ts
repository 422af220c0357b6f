import type { DayPlanning } from './planning.ts'
import { type PlannedSession, sessionKey } from './setup.ts'

/** Who stands where a student did; null: nobody. */
type Swap = (studentId: string) => string | null

const sessionWith = (session: PlannedSession, swap: Swap): PlannedSession[] => {
  const taken = new Set<string>()
  const seats = session.seats.flatMap((seat) => {
    const studentId = swap(seat.studentId)
    if (studentId === null || taken.has(studentId)) return []
    taken.add(studentId)
    return [{ ...seat, studentId }]
  })
  return seats.length > 0 ? [{ ...session, seats }] : []
}

/** A planning in which other people stand where students did, or nobody: no id of whoever is gone is left in it. */
export const withPeople = (planning: DayPlanning, swap: Swap): DayPlanning => {
  const inAll = (sessions: readonly PlannedSession[]): PlannedSession[] => sessions.flatMap((s) => sessionWith(s, swap))
  const people: DayPlanning['people'] = {}
  for (const [id, person] of Object.entries(planning.people)) {
    const now = swap(id)
    if (now !== null) people[now] = { ...person, ...people[now] }
  }
  return {
    ...planning,
    people,
    pairs: planning.pairs.flatMap((pair) => {
      const studentId = swap(pair.studentId)
      return studentId === null ? [] : [{ ...pair, studentId }]
    }),
    sessions: inAll(planning.sessions),
    told: planning.told && inAll(planning.told),
    locked: planning.sessions.flatMap((s) => (planning.locked.includes(sessionKey(s)) ? sessionWith(s, swap).map(sessionKey) : [])),
  }
}
