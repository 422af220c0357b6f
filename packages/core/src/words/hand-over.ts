import type { Intensity } from '../day/intensity.ts'
import type { Level } from '../day/level.ts'
import type { MistakeCode } from '../mistakes/mistakes.ts'
import type { StuckRate } from '../progress/corrections.ts'
import type { Focus } from '../progress/focus.ts'
import type { DayGap } from '../progress/forgetting.ts'
import type { SkillStanding } from '../progress/skill-levels.ts'
import type { Language } from '../units/language.ts'
import type { HandOverWords } from './hand-over-words.ts'
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

/** Lines that fit on half a page. */
const MAX_FOCUS = 2

/** Skills lost over days without driving; certain only where the interval of the difference excludes zero. */
const forgotten = (words: HandOverWords, { days, last, first, backAfter }: DayGap, clear: boolean): string =>
  words.forgot({ days, from: last.share ?? 0, to: first.share ?? 0, clear, backAfter })

/** Notes for the next instructor, on half a page: each line says one thing, made from the record. */
export const handOver = (known: HandOverInput, language: Language = 'en'): string => {
  const { nameOf } = known
  const { skills, levels, handOver: words } = readerWords(language)
  const nameInside = (code: MistakeCode): string => words.inside(mistakeName(code, language))
  const tried = known.rates.filter((r) => r.rate.of >= 2)
  const works = tried.find((r) => (r.rate.share ?? 0) >= 0.5)
  const fails = [...tried].reverse().find((r) => r.rate.hits === 0)
  const shown = known.standings.filter((s) => s.shown).map((s) => skills[s.skill])
  const nearest = known.standings.find((s) => !s.shown && s.corners.length > 0)
  const gap = known.gaps.filter((g) => !g.faster && g.forgot !== null).at(-1)
  const lines = [
    words.head({ ...known, level: levels[known.level], pace: known.fastestPace }),
    known.goals && words.wants(known.goals),
    known.worries.length > 0 && words.uneasy(words.list(known.worries.map(nameOf))),
    known.safety.length > 0 &&
      words.safety(words.list([...new Set(known.safety.map((s) => words.at(nameInside(s.code), nameOf(s.cornerId))))])),
    ...known.focus.slice(0, MAX_FOCUS).map((f, i) =>
      words.focus({
        first: i === 0,
        corner: nameOf(f.cornerId),
        mistake: nameInside(f.code),
        times: f.tally.count,
        runs: f.tally.runs,
        correction: f.otherWords ? words.seldomSticks(words.rate(f.stuck)) : correctionFor(f.code, language),
      }),
    ),
    works && words.works(works.words, words.rate(works.rate)),
    fails && fails !== works && words.fails(fails.words, words.rate(fails.rate)),
    shown.length > 0 && words.shown(words.list(shown)),
    nearest?.corners[0] && words.nearest(skills[nearest.skill], nameOf(nearest.corners[0].cornerId), words.rate(nearest.corners[0].rate)),
    gap?.forgot && forgotten(words, gap, gap.forgot.low > 0),
    known.laps < 8 && words.fewLaps,
  ]
  return lines.filter(Boolean).join('\n')
}
