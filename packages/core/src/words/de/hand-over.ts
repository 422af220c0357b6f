import type { HandOverWords } from '../hand-over-words.ts'

const plural = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`
const percent = (share: number): string => `${Math.round(100 * share)}\u00a0%`
const talks = { quiet: 'still', guided: 'geführt', driven: 'alles angesagt' } as const

/** Deutsch. */
export const handOver: HandOverWords = {
  head: ({ name, level, talk, runs, days, laps, pace }) =>
    `${name}: ${level}, Ansage am liebsten ${talks[talk]}. ${plural(runs, 'Fahrt', 'Fahrten')} an ${plural(days, 'Tag', 'Tagen')}, ${plural(laps, 'Runde', 'Runden')} ausgewertet, bis Tempo ${percent(pace)}.`,
  wants: (goals) => `Möchte: ${goals}`,
  uneasy: (corners) => `Unwohl bei ${corners}.`,
  safety: (mistakes) => `Sicherheit in der letzten Fahrt: ${mistakes}. Eine Stufe darunter beginnen.`,
  at: (mistake, corner) => `${mistake} bei ${corner}`,
  focus: ({ first, corner, mistake, times, runs, correction }) =>
    `${first ? 'Als Nächstes' : 'Danach'}: ${corner}, ${mistake} (${times} Mal in ${plural(runs, 'Fahrt', 'Fahrten')}). ${correction}`,
  seldomSticks: (rate) => `Korrekturen sitzen dort selten (${rate}): zeigen oder anders sagen.`,
  rate: ({ hits, of }) => (of === 0 ? 'noch nicht versucht' : `${hits} von ${of}`),
  works: (words, rate) => `Was hilft: „${words}“ saß, wenn es gesagt wurde, ${rate}.`,
  fails: (words, rate) => `Was nicht half: „${words}“, ${rate}.`,
  shown: (skills) => `Von der Akte gezeigt: ${skills}.`,
  nearest: (skill, corner, rate) => `Am nächsten dran: ${skill}, bei ${corner} ${rate}.`,
  forgot: ({ days, from, to, clear, backAfter }) => {
    const change = `Kurven mit einem Fehler: vorher ${percent(from)}, danach ${percent(to)}`
    const without = `Nach ${plural(days, 'Tag', 'Tagen')} ohne Fahren`
    if (!clear) return `${without} war nichts sicher vergessen (${change}).`
    return `${without} war etwas vergessen (${change}${backAfter === null ? '' : `; wieder da nach ${plural(backAfter, 'Runde', 'Runden')}`}).`
  },
  fewLaps: 'All das ruht auf wenigen Runden: als erste Vermutung nehmen.',
  inside: (name) => name,
  list: (words) => (words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} und ${words.at(-1)}`),
}
