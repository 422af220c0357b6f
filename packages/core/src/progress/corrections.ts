import type { MistakeCode } from '../mistakes/mistakes.ts'
import { type Share, shareOf } from './estimate.ts'
import { before, inOrder, type PassKnown } from './passes.ts'

/** A correction as it was said: in the car after a pass (`lap`), or in the debrief after the last lap of a run (`lap` null). */
export type Said = { cornerId: string; code: MistakeCode; run: number; lap: number | null; words: string }

/** Outcome of a correction: `open` while fewer than two passes of the corner are known after it. */
export type Outcome = 'stuck' | 'not-yet' | 'open'

/** A correction sticks when so many passes after it are free of the mistake. */
const FREE_PASSES = 2

/** True if a correction stuck: the next two passes of that corner, in this run or a later one, are free of the mistake. */
export const outcomeOf = (said: Said, passes: readonly PassKnown[]): Outcome => {
  const moment = { run: said.run, lap: said.lap ?? Number.POSITIVE_INFINITY }
  const next = inOrder(passes.filter((p) => p.cornerId === said.cornerId && before(moment, p))).slice(0, FREE_PASSES)
  if (next.some((p) => p.codes.includes(said.code))) return 'not-yet'
  return next.length < FREE_PASSES ? 'open' : 'stuck'
}

/** Success of one wording of a correction. */
export type StuckRate = { code: MistakeCode; words: string; rate: Share; open: number }

/** Success of corrections by wording; the best that is surely good first (by the lower end of its interval). */
export const stuckRates = (said: readonly Said[], passes: readonly PassKnown[]): StuckRate[] => {
  const groups = new Map<string, { code: MistakeCode; words: string; outcomes: Outcome[] }>()
  for (const correction of said) {
    const key = `${correction.code} ${correction.words}`
    const group = groups.get(key) ?? { code: correction.code, words: correction.words, outcomes: [] }
    group.outcomes.push(outcomeOf(correction, passes))
    groups.set(key, group)
  }
  return [...groups.values()]
    .map(({ code, words, outcomes }) => {
      const stuck = outcomes.filter((o) => o === 'stuck').length
      const missed = outcomes.filter((o) => o === 'not-yet').length
      return { code, words, rate: shareOf(stuck, stuck + missed), open: outcomes.length - stuck - missed }
    })
    .sort((a, b) => (b.rate.of > 0 ? b.rate.low : -1) - (a.rate.of > 0 ? a.rate.low : -1) || b.rate.of - a.rate.of)
}
