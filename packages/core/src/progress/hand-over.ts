import type { Intensity } from '../day/intensity.ts'
import type { Level } from '../day/level.ts'
import { type MistakeCode, mistakes } from '../mistakes/mistakes.ts'
import type { StuckRate } from './corrections.ts'
import { shareInWords } from './estimate.ts'
import type { Focus } from './focus.ts'
import type { DayGap } from './forgetting.ts'
import type { SkillStanding } from './skill-levels.ts'

/** What a hand-over is made from; `nameOf` gives corners their names. */
export type HandOverInput = {
  name: string
  level: Level
  talk: Intensity
  goals: string
  worries: readonly string[]
  runs: number
  laps: number
  days: number
  fastestPace: number
  focus: readonly Focus[]
  rates: readonly StuckRate[]
  standings: readonly SkillStanding[]
  gaps: readonly DayGap[]
  /** Safety mistakes of the last run. */
  safety: readonly { cornerId: string; code: MistakeCode }[]
  nameOf: (cornerId: string) => string
}

const list = (words: readonly string[]): string =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`
const lower = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1)
const plural = (n: number, one: string): string => `${n} ${n === 1 ? one : `${one}s`}`
/** What the last days without driving took; clear only where the interval of the difference leaves zero out. */
const forgotInWords = ({ days, last, first, backAfter }: DayGap, clear: boolean): string => {
  const change = `passes with a mistake went from ${Math.round(100 * (last.share ?? 0))} to ${Math.round(100 * (first.share ?? 0))} %`
  if (!clear) return `After ${plural(days, 'day')} without driving nothing was clearly forgotten (${change}).`
  return `After ${plural(days, 'day')} without driving ${change}${backAfter === null ? '' : `; as before after ${plural(backAfter, 'lap')}`}.`
}
/** Lines that fit on half a page. */
const MOST_FOCUS = 2

/** What the next instructor should know, on half a page: each line says one thing, made from the record. */
export const handOver = (known: HandOverInput): string => {
  const { nameOf } = known
  const tried = known.rates.filter((r) => r.rate.of >= 2)
  const works = tried.find((r) => (r.rate.share ?? 0) >= 0.5)
  const fails = [...tried].reverse().find((r) => r.rate.hits === 0)
  const shown = known.standings.filter((s) => s.shown).map((s) => s.skill)
  const nearest = known.standings.find((s) => !s.shown && s.corners.length > 0)
  const forgot = known.gaps.filter((g) => !g.faster && g.forgot !== null)
  const gap = forgot.at(-1)
  const lines = [
    `${known.name}: ${known.level}, likes ${known.talk} talk. ${plural(known.runs, 'run')} on ${plural(known.days, 'day')}, ${plural(known.laps, 'lap')} looked at, up to pace ${Math.round(100 * known.fastestPace)} %.`,
    known.goals && `Wants: ${lower(known.goals)}`,
    known.worries.length > 0 && `Uneasy at ${list(known.worries.map(nameOf))}.`,
    known.safety.length > 0 &&
      `Safety in the last run: ${list([...new Set(known.safety.map((s) => `${lower(mistakes[s.code].name)} at ${nameOf(s.cornerId)}`))])}. Begin a step below.`,
    ...known.focus
      .slice(0, MOST_FOCUS)
      .map(
        (f, i) =>
          `${i === 0 ? 'Next' : 'Then'}: ${nameOf(f.cornerId)}, ${lower(mistakes[f.code].name)} (${plural(f.tally.count, 'time')} in ${plural(f.tally.runs, 'run')}). ${f.otherWords ? `Corrections seldom stick there (${shareInWords(f.stuck)}): show it, or say it another way.` : mistakes[f.code].correction}`,
      ),
    works && `What works: “${works.words}” stuck when it was said, ${shareInWords(works.rate)}.`,
    fails && fails !== works && `What did not: “${fails.words}”, ${shareInWords(fails.rate)}.`,
    shown.length > 0 && `Shown by the record: ${list(shown)}.`,
    nearest?.corners[0] &&
      `Nearest to come: ${nearest.skill}, at ${nameOf(nearest.corners[0].cornerId)} ${shareInWords(nearest.corners[0].rate)}.`,
    gap?.forgot && forgotInWords(gap, gap.forgot.low > 0),
    known.laps < 8 && 'All this rests on few laps: take it as a first guess.',
  ]
  return lines.filter(Boolean).join('\n')
}
