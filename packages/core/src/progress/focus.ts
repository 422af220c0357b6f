import { type MistakeCode, mistakes, type Skill, skills } from '../findings/mistakes.ts'

/** One mistake in one corner, seen by a person or shown by a log. `run`: number in order of time, the newest greatest. */
export type Seen = { cornerId: string; code: MistakeCode; run: number; by: 'hand' | 'log'; lossTime_s?: number }

/** How often a mistake was seen in a corner. */
export type Tally = { cornerId: string; code: MistakeCode; count: number; runs: number; lastRun: number; lossTime_s: number }

/** What to work on next, and why. */
export type Focus = {
  cornerId: string
  code: MistakeCode
  skill: Skill
  reason: 'safety' | 'often' | 'costly'
  weight: number
  tally: Tally
}

/** Counts what was seen by corner and code, most frequent first. */
export const tallySeen = (seen: readonly Seen[]): Tally[] => {
  const tallies = new Map<string, Tally & { inRuns: Set<number> }>()
  for (const one of seen) {
    const key = `${one.cornerId} ${one.code}`
    const tally = tallies.get(key) ?? {
      cornerId: one.cornerId,
      code: one.code,
      count: 0,
      runs: 0,
      lastRun: 0,
      lossTime_s: 0,
      inRuns: new Set(),
    }
    tally.count++
    tally.inRuns.add(one.run)
    tally.runs = tally.inRuns.size
    tally.lastRun = Math.max(tally.lastRun, one.run)
    tally.lossTime_s += Math.max(0, one.lossTime_s ?? 0)
    tallies.set(key, tally)
  }
  return [...tallies.values()].map(({ inRuns: _, ...tally }) => tally).sort((a, b) => b.count - a.count || b.lastRun - a.lastRun)
}

/**
 * What to work on next, best first, one mistake a corner: safety before all, then frequency with newer runs counting
 * more (halved every two runs), time lost, and how early the skill stands in the order in which skills build.
 */
export const nextFocus = (seen: readonly Seen[]): Focus[] => {
  const newest = seen.reduce((most, s) => Math.max(most, s.run), 0)
  const best = new Map<string, Focus>()
  for (const tally of tallySeen(seen)) {
    const words = mistakes[tally.code]
    const fresh = seen
      .filter((s) => s.cornerId === tally.cornerId && s.code === tally.code)
      .reduce((sum, s) => sum + 0.5 ** ((newest - s.run) / 2), 0)
    const teachable = 1 - 0.05 * skills.indexOf(words.skill)
    const weight = (fresh + 4 * tally.lossTime_s) * teachable + (words.safety && fresh > 0.4 ? 100 : 0)
    const reason = words.safety ? 'safety' : 4 * tally.lossTime_s > fresh ? 'costly' : 'often'
    const other = best.get(tally.cornerId)
    if (!other || weight > other.weight)
      best.set(tally.cornerId, { cornerId: tally.cornerId, code: tally.code, skill: words.skill, reason, weight, tally })
  }
  return [...best.values()].sort((a, b) => b.weight - a.weight)
}

/** What else is known while driving: shown by positions just now, logged there in this run, and where the plan leaves little room. */
export type LikelyHints = { shown?: readonly MistakeCode[]; thisRun?: readonly MistakeCode[]; risks?: readonly MistakeCode[] }

/**
 * The most likely mistakes of a student in a corner, for one-touch logging: what positions show just now, what was logged
 * there in this run (newest first), what this student was seen to do there before, what the plan makes risky, then the usual
 * ones. Always `count` codes, no repeats.
 */
export const likelyMistakes = (
  seen: readonly Seen[],
  cornerId: string,
  hasBrake: boolean,
  { shown = [], thisRun = [], risks = [] }: LikelyHints = {},
  count = 6,
): MistakeCode[] => {
  const usual: MistakeCode[] = hasBrake
    ? ['brake-early', 'brake-late', 'turn-in-early', 'apex-missed', 'exit-wide', 'brake-over', 'throttle-early', 'eyes-near']
    : ['turn-in-early', 'apex-missed', 'exit-wide', 'eyes-near', 'steer-notched', 'turn-in-late', 'throttle-early', 'tense']
  const possible = (code: MistakeCode): boolean => hasBrake || !code.startsWith('brake')
  const here = tallySeen(seen.filter((s) => s.cornerId === cornerId)).map((t) => t.code)
  return [...new Set([...shown, ...thisRun, ...here.slice(0, 3), ...risks, ...usual])].filter(possible).slice(0, count)
}
