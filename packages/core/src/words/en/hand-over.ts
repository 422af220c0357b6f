import { formatPercent } from '../../units/format.ts'
import type { HandOverWords } from '../hand-over-words.ts'

const plural = (n: number, one: string): string => `${n} ${n === 1 ? one : `${one}s`}`

/** English. */
export const handOver: HandOverWords = {
  head: ({ name, level, talk, runs, days, laps, pace }) =>
    `${name}: ${level}, prefers ${talk} coaching. ${plural(runs, 'run')} on ${plural(days, 'day')}, ${plural(laps, 'lap')} looked at, up to pace ${formatPercent(pace)}.`,
  wants: (goals) => `Wants: ${goals.charAt(0).toLowerCase()}${goals.slice(1)}`,
  uneasy: (corners) => `Uneasy at ${corners}.`,
  safety: (mistakes) => `Safety in the last run: ${mistakes}. Begin a step below.`,
  at: (mistake, corner) => `${mistake} at ${corner}`,
  focus: ({ first, corner, mistake, times, runs, correction }) =>
    `${first ? 'Next' : 'Then'}: ${corner}, ${mistake} (${plural(times, 'time')} in ${plural(runs, 'run')}). ${correction}`,
  seldomSticks: (rate) => `Corrections seldom stick there (${rate}): show it, or say it another way.`,
  rate: ({ hits, of }) => (of === 0 ? 'not tried yet' : `${hits} of ${of}`),
  works: (words, rate) => `What works: “${words}” stuck when it was said, ${rate}.`,
  fails: (words, rate) => `What did not: “${words}”, ${rate}.`,
  shown: (skills) => `Shown by the record: ${skills}.`,
  nearest: (skill, corner, rate) => `Nearest to come: ${skill}, at ${corner} ${rate}.`,
  forgot: ({ days, from, to, clear, backAfter }) => {
    const change = `corners with a mistake went from ${formatPercent(from)} to ${formatPercent(to)}`
    if (!clear) return `After ${plural(days, 'day')} without driving nothing was clearly forgotten (${change}).`
    return `After ${plural(days, 'day')} without driving ${change}${backAfter === null ? '' : `; recovered after ${plural(backAfter, 'lap')}`}.`
  },
  fewLaps: 'All this rests on few laps: take it as a first guess.',
  inside: (name) => name.charAt(0).toLowerCase() + name.slice(1),
  list: (words) => (words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`),
}
