import type { Mark, MarkKind } from '../marks/marks.ts'
import type { PhraseBook } from './phrases.ts'

/** How much is said: nothing but safety, one reminder a corner, or every action. */
export const intensities = ['quiet', 'guided', 'driven'] as const
export type Intensity = (typeof intensities)[number]

/** `reaction_s`: what a student needs after the last word; `rate_wps`: words a second; `link_s`: delay of radio or 0. */
export type CallTiming = { reaction_s: number; rate_wps: number; link_s: number; gap_s: number }

/** Handbook values for an instructor beside the student. */
export const inCarTiming: CallTiming = { reaction_s: 0.8, rate_wps: 3.2, link_s: 0, gap_s: 0.3 }

/** A short phrase bound to a mark. Times are from the start line on the plan's lap (s); a start may lie before the line. */
export type Call = {
  cornerId: string
  kind: MarkKind
  phrase: string
  start_s: number
  end_s: number
  mark_s: number
  markStation_m: number
  worth: number
}

/** A call that was left out, and why. */
export type DroppedCall = { cornerId: string; kind: MarkKind; reason: 'no-time' | 'intensity' }

/** The chosen calls in order of time, and the rest. */
export type CallSheet = { calls: Call[]; dropped: DroppedCall[] }

/** Worth of a call by its mark, in the order in which a miss hurts. */
const importance: Partial<Record<MarkKind, number>> = { brake: 10, lift: 7, 'turn-in': 6, throttle: 3, exit: 4 }
/** A shorter form says less: share of the worth kept by long, short and one-word form. */
const formShare = [1, 0.9, 0.75] as const

/**
 * The set of calls of greatest total worth in which no two overlap and each ends one reaction time before its mark.
 * Weighted interval scheduling by dynamic programming over end times (Kleinberg & Tardos, Algorithm Design, section
 * 6.1); the forms of one call share their end, so at most one of them is ever chosen. Cost: n log n in candidates.
 */
export const callSheet = (marks: readonly Mark[], book: PhraseBook, intensity: Intensity, timing: CallTiming = inCarTiming): CallSheet => {
  const wanted = marks.filter((m) => book.phrases[m.kind] && importance[m.kind])
  const kept = intensity === 'driven' ? wanted : intensity === 'guided' ? bestOfCorner(wanted) : []
  const candidates: Call[] = kept.flatMap((mark) =>
    (book.phrases[mark.kind] ?? []).map((phrase, form) => {
      const end_s = mark.time_s - timing.reaction_s - timing.link_s
      return {
        cornerId: mark.cornerId,
        kind: mark.kind,
        phrase,
        start_s: end_s - phrase.split(/\s+/).length / timing.rate_wps,
        end_s,
        mark_s: mark.time_s,
        markStation_m: mark.station_m,
        worth: (importance[mark.kind] ?? 0) * formShare[form],
      }
    }),
  )
  const calls = heaviestSet(candidates, timing.gap_s)
  const has = (list: readonly { cornerId: string; kind: MarkKind }[], m: Mark): boolean =>
    list.some((c) => c.cornerId === m.cornerId && c.kind === m.kind)
  const dropped = wanted
    .filter((m) => !has(calls, m))
    .map((m) => ({ cornerId: m.cornerId, kind: m.kind, reason: has(kept, m) ? ('no-time' as const) : ('intensity' as const) }))
  return { calls, dropped }
}

/** The most important mark of each corner, in order of travel. */
const bestOfCorner = (marks: readonly Mark[]): Mark[] => {
  const best = new Map<string, Mark>()
  for (const mark of marks) {
    const other = best.get(mark.cornerId)
    if (!other || (importance[mark.kind] ?? 0) > (importance[other.kind] ?? 0)) best.set(mark.cornerId, mark)
  }
  return [...best.values()]
}

const heaviestSet = (candidates: readonly Call[], gap_s: number): Call[] => {
  const sorted = [...candidates].sort((a, b) => a.end_s - b.end_s)
  const best = new Float64Array(sorted.length + 1)
  const fits = sorted.map((call, i) => {
    let low = 0
    let high = i
    while (low < high) {
      const middle = (low + high) >> 1
      if (sorted[middle].end_s + gap_s <= call.start_s) low = middle + 1
      else high = middle
    }
    return low
  })
  for (let i = 0; i < sorted.length; i++) best[i + 1] = Math.max(best[i], best[fits[i]] + sorted[i].worth)
  const chosen: Call[] = []
  for (let i = sorted.length; i > 0; )
    if (best[i] === best[i - 1]) i--
    else {
      chosen.push(sorted[i - 1])
      i = fits[i - 1]
    }
  return chosen.reverse()
}
