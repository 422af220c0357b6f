import type { RecallRound } from '../recall/index.ts'
import { type Difference, differenceOf, type Share, shareOf } from './estimate.ts'
import type { PassKnown } from './passes.ts'

/** Passes without a mistake: at corners that were driven from memory before the run, at others, and by how much they differ. */
export type HomeAndTrack = { trained: Share; others: Share; difference: Difference | null }

/** True if a corner was driven from memory, with eyes open, before a moment. */
const isTrained = (rounds: readonly RecallRound[], cornerId: string, before: string): boolean =>
  rounds.some((r) => r.mode !== 'closed' && r.at < before && r.marks.some((m) => m.cornerId === cornerId && m.off_s !== null))

/**
 * Whether what was driven from memory goes with fewer mistakes on the track. It cannot tell a cause: who trains a corner has a reason,
 * and passes of one run are alike, so the interval is rather too narrow. `startedAt`: when each run began, by its id.
 */
export const homeAndTrack = (
  passes: readonly (Pick<PassKnown, 'cornerId' | 'codes'> & { runId: string })[],
  rounds: readonly RecallRound[],
  startedAt: ReadonlyMap<string, string>,
): HomeAndTrack => {
  const counts = { trained: { clean: 0, of: 0 }, others: { clean: 0, of: 0 } }
  for (const { cornerId, codes, runId } of passes) {
    const began = startedAt.get(runId)
    if (began === undefined) continue
    const of = counts[isTrained(rounds, cornerId, began) ? 'trained' : 'others']
    of.of++
    if (codes.length === 0) of.clean++
  }
  const trained = shareOf(counts.trained.clean, counts.trained.of)
  const others = shareOf(counts.others.clean, counts.others.of)
  return { trained, others, difference: differenceOf(trained, others) }
}
