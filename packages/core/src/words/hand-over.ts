import type { Intensity } from '../day/intensity.ts'
import type { Level } from '../day/level.ts'
import type { MistakeCode } from '../mistakes/mistakes.ts'
import type { StuckRate } from '../progress/corrections.ts'
import { countInWords } from '../progress/estimate.ts'
import type { Focus } from '../progress/focus.ts'
import type { DayGap } from '../progress/forgetting.ts'
import type { SkillStanding } from '../progress/skill-levels.ts'
import { formatPercent } from '../units/format.ts'
import { correctionFor, mistakeName, readerWords } from './words.ts'

/** Input for a hand-over; `nameOf` gives corners their names. */
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
/** Skills lost over the last days without driving; certain only where the interval of the difference excludes zero. */
const forgotInWords = ({ days, last, first, backAfter }: DayGap, clear: boolean): string => {
  const change = `corners with a mistake went from ${formatPercent(last.share ?? 0)} to ${formatPercent(first.share ?? 0)}`
  if (!clear) return `After ${plural(days, 'day')} without driving nothing was clearly forgotten (${change}).`
  return `After ${plural(days, 'day')} without driving ${change}${backAfter === null ? '' : `; recovered after ${plural(backAfter, 'lap')}`}.`
}
/** Lines that fit on half a page. */
const MAX_FOCUS = 2

/** Notes for the next instructor, on half a page: each line says one thing, made from the record. */
export const handOver = (known: HandOverInput): string => {
  const { nameOf } = known
  const { skills, levels } = readerWords()
  const tried = known.rates.filter((r) => r.rate.of >= 2)
  const works = tried.find((r) => (r.rate.share ?? 0) >= 0.5)
  const fails = [...tried].reverse().find((r) => r.rate.hits === 0)
  const shown = known.standings.filter((s) => s.shown).map((s) => skills[s.skill])
  const nearest = known.standings.find((s) => !s.shown && s.corners.length > 0)
  const forgot = known.gaps.filter((g) => !g.faster && g.forgot !== null)
  const gap = forgot.at(-1)
  const lines = [
    `${known.name}: ${levels[known.level]}, prefers ${known.talk} coaching. ${plural(known.runs, 'run')} on ${plural(known.days, 'day')}, ${plural(known.laps, 'lap')} looked at, up to pace ${formatPercent(known.fastestPace)}.`,
    known.goals && `Wants: ${lower(known.goals)}`,
    known.worries.length > 0 && `Uneasy at ${list(known.worries.map(nameOf))}.`,
    known.safety.length > 0 &&
      `Safety in the last run: ${list([...new Set(known.safety.map((s) => `${lower(mistakeName(s.code))} at ${nameOf(s.cornerId)}`))])}. Begin a step below.`,
    ...known.focus
      .slice(0, MAX_FOCUS)
      .map(
        (f, i) =>
          `${i === 0 ? 'Next' : 'Then'}: ${nameOf(f.cornerId)}, ${lower(mistakeName(f.code))} (${plural(f.tally.count, 'time')} in ${plural(f.tally.runs, 'run')}). ${f.otherWords ? `Corrections seldom stick there (${countInWords(f.stuck)}): show it, or say it another way.` : correctionFor(f.code)}`,
      ),
    works && `What works: “${works.words}” stuck when it was said, ${countInWords(works.rate)}.`,
    fails && fails !== works && `What did not: “${fails.words}”, ${countInWords(fails.rate)}.`,
    shown.length > 0 && `Shown by the record: ${list(shown)}.`,
    nearest?.corners[0] &&
      `Nearest to come: ${skills[nearest.skill]}, at ${nameOf(nearest.corners[0].cornerId)} ${countInWords(nearest.corners[0].rate)}.`,
    gap?.forgot && forgotInWords(gap, gap.forgot.low > 0),
    known.laps < 8 && 'All this rests on few laps: take it as a first guess.',
  ]
  return lines.filter(Boolean).join('\n')
}
