import type { Call } from './call-sheet.ts'

/** Timing of a call in a rehearsal: seconds late (negative: early) against its start on the sheet; null where no key was pressed. */
export type PracticedCall = { call: Call; late_s: number | null }

/** A press belongs to the nearest call within this time (s). */
const PRESS_REACH_S = 2

/**
 * Key presses of a rehearsed lap matched to its calls: each press goes to the nearest call that has none yet, nearest pairs
 * first. `extra`: presses that belong to no call.
 */
export const judgePractice = (calls: readonly Call[], presses_s: readonly number[]): { calls: PracticedCall[]; extra: number } => {
  const pairs = calls
    .flatMap((call, c) => presses_s.map((press, p) => ({ c, p, late_s: press - call.start_s })))
    .filter(({ late_s }) => Math.abs(late_s) <= PRESS_REACH_S)
    .sort((a, b) => Math.abs(a.late_s) - Math.abs(b.late_s))
  const late = new Map<number, number>()
  const used = new Set<number>()
  for (const { c, p, late_s } of pairs) {
    if (late.has(c) || used.has(p)) continue
    late.set(c, late_s)
    used.add(p)
  }
  return { calls: calls.map((call, c) => ({ call, late_s: late.get(c) ?? null })), extra: presses_s.length - used.size }
}
