import type { PlannedSession } from './setup.ts'

/** What one student had and has: sessions that are gone, new, or at another time or with another instructor. */
export type StudentChange = { studentId: string; gone: PlannedSession[]; added: PlannedSession[] }

const ofStudent = (sessions: readonly PlannedSession[], id: string): PlannedSession[] =>
  sessions.filter((s) => s.seats.some((seat) => seat.studentId === id))

/** Who gives a lesson makes no difference to whoever is in it; who sits beside them does. */
const same = (a: PlannedSession, b: PlannedSession, id: string): boolean =>
  a.formatId === b.formatId &&
  a.start === b.start &&
  a.end === b.end &&
  carIn(a, id) === carIn(b, id) &&
  (carIn(a, id) === null || a.instructorId === b.instructorId)

const carIn = (session: PlannedSession, id: string): string | null => session.seats.find((seat) => seat.studentId === id)?.carId ?? null

/** Students whose day differs between two plans, in the order of their first difference. */
export const planChanges = (before: readonly PlannedSession[], after: readonly PlannedSession[]): StudentChange[] => {
  const ids = new Set([...before, ...after].flatMap((s) => s.seats.map((seat) => seat.studentId)))
  const changes = [...ids].flatMap((studentId): StudentChange[] => {
    const [had, has] = [ofStudent(before, studentId), ofStudent(after, studentId)]
    const gone = had.filter((a) => !has.some((b) => same(a, b, studentId)))
    const added = has.filter((b) => !had.some((a) => same(a, b, studentId)))
    return gone.length + added.length > 0 ? [{ studentId, gone, added }] : []
  })
  const first = (c: StudentChange): string => [...c.gone, ...c.added].map((s) => s.start).sort()[0]
  return changes.sort((a, b) => (first(a) < first(b) ? -1 : 1))
}
