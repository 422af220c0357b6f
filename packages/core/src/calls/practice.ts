import { nearestPairs } from '../units/index.ts'
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
  const found = nearestPairs(
    calls.map((call) => call.start_s),
    presses_s,
    PRESS_REACH_S,
  )
  return {
    calls: calls.map((call, c) => ({ call, late_s: found[c]?.late ?? null })),
    extra: presses_s.length - found.filter((press) => press !== null).length,
  }
}
