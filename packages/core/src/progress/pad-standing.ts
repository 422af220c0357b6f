import { type DrillKind, type DrillResult, drillResults } from '../drills/drill.ts'

/** An attempt on the pad, with the sentence that went with it. */
export type PadAttempt = { date: string; drill: DrillKind; result: DrillResult; said: string | null }

/** How somebody stands in an exercise: attempts, how many were on target, the newest sentence. */
export type PadStanding = { drill: DrillKind; attempts: number; onTarget: number; said: string | null }

/** How somebody stands on the pad by exercise, in the order of their first attempts. */
export const padStandings = (attempts: readonly PadAttempt[]): PadStanding[] => {
  const found = new Map<DrillKind, PadStanding>()
  for (const { drill, result, said } of attempts) {
    const one = found.get(drill) ?? { drill, attempts: 0, onTarget: 0, said: null }
    one.attempts++
    if (result === drillResults[drill][0]) one.onTarget++
    if (said !== null) one.said = said
    found.set(drill, one)
  }
  return [...found.values()]
}

/** After so many attempts it can be told that an exercise is not had yet. */
const ENOUGH = 3

/** The exercise to do again first: the one with the least share on target, where that is under half; null where there is none. */
export const padFocus = (standings: readonly PadStanding[]): PadStanding | null => {
  const open = standings.filter((s) => s.attempts >= ENOUGH && s.onTarget < s.attempts / 2)
  return open.sort((a, b) => a.onTarget / a.attempts - b.onTarget / b.attempts)[0] ?? null
}
