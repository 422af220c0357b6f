import type { PassOff } from '../findings/advice.ts'
import type { MistakeCode } from '../mistakes/mistakes.ts'

/**
 * One pass of a corner as the record knows it. `run`: number in order of time; `watched`: who could have seen a mistake — a log
 * that judged this pass, or a person who said something of it; `codes`: roots of the log and what people logged.
 */
export type PassKnown = {
  cornerId: string
  run: number
  lap: number
  date: string
  pace: number
  watched: 'log' | 'seat' | 'both'
  codes: readonly MistakeCode[]
  off: PassOff | null
}

/** True if one pass came before another. */
export const before = (a: { run: number; lap: number }, b: { run: number; lap: number }): boolean =>
  a.run < b.run || (a.run === b.run && a.lap < b.lap)

/** Passes in the order in which they were driven. */
export const inOrder = <P extends { run: number; lap: number }>(passes: readonly P[]): P[] =>
  [...passes].sort((a, b) => a.run - b.run || a.lap - b.lap)
