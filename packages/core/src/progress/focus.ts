import { type MistakeCode, mistakes, type Skill, teachableOf } from '../mistakes/mistakes.ts'
import { type Share, shareOf } from './estimate.ts'

/** One mistake in one corner, seen by a person, shown by a log, or both; `run`: number in order of time; `worth_s`: time or margin a lap. */
export type Seen = { cornerId: string; code: MistakeCode; run: number; by: 'hand' | 'log' | 'both'; worth_s?: number }

/** Frequency of a mistake in a corner. */
export type Tally = { cornerId: string; code: MistakeCode; count: number; runs: number; lastRun: number; worth_s: number }

/** The mistake to work on next, with the reasons. */
export type Focus = {
  cornerId: string
  code: MistakeCode
  skill: Skill
  reason: 'safety' | 'often' | 'costly'
  weight: number
  tally: Tally
  stuck: Share
  /** Corrections were tried often here and surely stick less than every second time: say it another way, or show it. */
  otherWords: boolean
}

/** Counts what was seen by corner and code, most frequent first. */
export const tallySeen = (seen: readonly Seen[]): Tally[] => {
  const tallies = new Map<string, Tally & { inRuns: Set<number> }>()
  for (const sighting of seen) {
    const key = `${sighting.cornerId} ${sighting.code}`
    const tally = tallies.get(key) ?? {
      cornerId: sighting.cornerId,
      code: sighting.code,
      count: 0,
      runs: 0,
      lastRun: 0,
      worth_s: 0,
      inRuns: new Set(),
    }
    tally.count++
    tally.inRuns.add(sighting.run)
    tally.runs = tally.inRuns.size
    tally.lastRun = Math.max(tally.lastRun, sighting.run)
    tally.worth_s += Math.max(0, sighting.worth_s ?? 0)
    tallies.set(key, tally)
  }
  return [...tallies.values()].map(({ inRuns: _, ...tally }) => tally).sort((a, b) => b.count - a.count || b.lastRun - a.lastRun)
}

/** Past success of corrections of a mistake in a corner. */
export type StuckAt = (cornerId: string, code: MistakeCode) => Share

/** After so many corrections it can be told whether they stick. */
const TRIED_OFTEN = 3

/**
 * What to work on next, best first, one mistake a corner: safety before all, then worth (how often of late, newer runs counting
 * more and halved every two, and time or margin) × how early the skill stands in the order in which skills build × the chance
 * that a correction sticks here, drawn towards one half where few were tried.
 */
export const nextFocus = (seen: readonly Seen[], stuckAt: StuckAt = () => shareOf(0, 0)): Focus[] => {
  const newest = seen.reduce((max, s) => Math.max(max, s.run), 0)
  const best = new Map<string, Focus>()
  for (const tally of tallySeen(seen)) {
    const words = mistakes[tally.code]
    const fresh = seen
      .filter((s) => s.cornerId === tally.cornerId && s.code === tally.code)
      .reduce((sum, s) => sum + 0.5 ** ((newest - s.run) / 2), 0)
    const teachable = teachableOf(words.skill)
    const stuck = stuckAt(tally.cornerId, tally.code)
    const chance = (stuck.hits + 2) / (stuck.of + 4)
    const weight = (fresh + 4 * tally.worth_s) * teachable * 2 * chance + (words.safety && fresh > 0.4 ? 100 : 0)
    const reason = words.safety ? 'safety' : 4 * tally.worth_s > fresh ? 'costly' : 'often'
    const other = best.get(tally.cornerId)
    if (!other || weight > other.weight)
      best.set(tally.cornerId, {
        cornerId: tally.cornerId,
        code: tally.code,
        skill: words.skill,
        reason,
        weight,
        tally,
        stuck,
        otherWords: stuck.of >= TRIED_OFTEN && stuck.high < 0.5,
      })
  }
  return [...best.values()].sort((a, b) => b.weight - a.weight)
}

/** Other evidence while driving: shown by positions just now, logged there in this run, and where the plan leaves little room. */
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
