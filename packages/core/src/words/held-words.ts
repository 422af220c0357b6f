import type { Measures } from '../units/format.ts'

/** How what held is said: a mistake that went away, a mark that stays, laps without anything. */
export type HeldWords = {
  gone: (mistake: string, lap: number) => string
  brake: (within_m: number, laps: number) => string
  turnIn: (within_m: number, laps: number) => string
  within: (laps: number) => string
}

/** What held, in English. */
export const englishHeld = ({ metres }: Measures): HeldWords => ({
  gone: (mistake, lap) => `${mistake} until lap ${lap}, and not once after it.`,
  brake: (within_m, laps) => `Brake within ${metres(within_m)} of itself on ${laps} laps, and nothing else stood out.`,
  turnIn: (within_m, laps) => `Turn-in within ${metres(within_m)} of itself on ${laps} laps, and nothing else stood out.`,
  within: (laps) => `${laps} laps within the marks.`,
})
