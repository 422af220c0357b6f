import type { CallKind } from '../calls/phrases.ts'
import type { MistakeCode } from '../mistakes/mistakes.ts'
import type { Seen } from './focus.ts'

/** Which mark a mistake misses. */
const markMissed: Partial<Record<MistakeCode, CallKind>> = {
  'brake-early': 'brake',
  'brake-late': 'brake',
  'brake-soft': 'brake',
  'brake-over': 'release',
  'turn-in-early': 'turn-in',
  'turn-in-late': 'turn-in',
  'apex-missed': 'apex',
  'exit-wide': 'exit',
  'throttle-early': 'throttle',
  'throttle-late': 'throttle',
  'eyes-near': 'apex',
}

/** The mark that a mistake misses: where its cone, its landmark or its call is looked at first; undefined for mistakes of no place. */
export const markOfMistake = (code: MistakeCode): CallKind | undefined =>
  markMissed[code] ??
  (code.startsWith('lift-')
    ? 'lift'
    : code.startsWith('apex-')
      ? 'apex'
      : code.startsWith('exit-')
        ? 'exit'
        : code.startsWith('setup-')
          ? 'turn-in'
          : undefined)

/** Only the latest runs say how somebody drives now. */
const RECENT_RUNS = 3

/**
 * How often a student misses each mark of late: the share of the last three runs in which a mistake at it was seen, drawn
 * towards one half where there are few runs ((k + ½)/(n + 1)); one half for somebody never seen.
 */
export const missRates = (seen: readonly Seen[]): ((cornerId: string, kind: CallKind) => number) => {
  const runs = [...new Set(seen.map((s) => s.run))].sort((a, b) => b - a).slice(0, RECENT_RUNS)
  const missed = new Map<string, Set<number>>()
  for (const { cornerId, code, run } of seen) {
    const kind = markMissed[code]
    if (!kind || !runs.includes(run)) continue
    const key = `${cornerId} ${kind}`
    missed.set(key, (missed.get(key) ?? new Set()).add(run))
  }
  return (cornerId, kind) => ((missed.get(`${cornerId} ${kind}`)?.size ?? 0) + 0.5) / (runs.length + 1)
}
