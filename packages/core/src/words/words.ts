import type { Level } from '../day/level.ts'
import type { CoreError, ErrorData } from '../errors/errors.ts'
import type { Advice, Praise } from '../findings/advice.ts'
import type { ReferenceReason, ReferenceTold } from '../findings/reference-told.ts'
import type { Evidenced, EvidenceOf } from '../mistakes/evidence.ts'
import type { LogCode, MistakeCode, Skill, SuggestedCode } from '../mistakes/mistakes.ts'
import { type Measures, measuresFor, type NumberStyle, type UnitSystem } from '../units/format.ts'
import type { Language } from '../units/language.ts'
import { german } from './de/index.ts'
import { english } from './en/index.ts'
import type { AdviceTable, EvidenceTable, ProblemWords, ReaderWords } from './reader-words.ts'

/** One table per language. A language without a table, or a table without a word, does not compile. */
const tables: Record<Language, { words: (measures: Measures) => Omit<ReaderWords, 'numbers'>; numbers: NumberStyle }> = {
  en: { words: english, numbers: { decimal: '.', percent: '%' } },
  de: { words: german, numbers: { decimal: ',', percent: '\u00a0%' } },
}

const made = new Map<string, ReaderWords>()

/** The words for one reader: their language and units. The same object comes back for the same reader. */
export const readerWords = (language: Language = 'en', units: UnitSystem = 'metric'): ReaderWords => {
  const key = `${language} ${units}`
  const cached = made.get(key)
  if (cached) return cached
  const { words, numbers } = tables[language]
  const all = { ...words(measuresFor(units, numbers)), numbers }
  made.set(key, all)
  return all
}

/** What a log is held against and why, in one sentence. */
export const referenceText = (reference: ReferenceTold, why: ReferenceReason, { reference: words }: ReaderWords = readerWords()): string =>
  words.why[why](referenceName(reference, words))

/** Says that a drive differs from its reference at most corners of every lap, and which one explains it better. */
export const differsText = (better: ReferenceTold, { reference: words }: ReaderWords = readerWords()): string =>
  words.differs(referenceName(better, words))

const referenceName = (reference: ReferenceTold, words: ReaderWords['reference']): string => {
  if (reference.kind === 'plan') return words.plan(reference)
  return reference.kind === 'lap' ? words.lap(reference.lap) : words.drive(reference.lap)
}

/** The name of a mistake. */
export const mistakeName = (code: MistakeCode, language: Language = 'en'): string => readerWords(language).mistakes[code].name

/** The correction an instructor gives for a mistake. */
export const correctionFor = (code: MistakeCode, language: Language = 'en'): string => readerWords(language).mistakes[code].correction

const actOf = <C extends SuggestedCode>(
  table: EvidenceTable,
  code: C,
  evidence: EvidenceOf<C>,
): { act: string; allowed: string | null } => ({
  act: table[code].act(evidence),
  allowed: table[code].allowed?.(evidence) ?? null,
})

/**
 * The act in plain words with its size; never about the person. `full` says what is fine as well, as instructors read it;
 * `short` leaves that out, for two seconds on a tablet and for students.
 */
export const evidenceText = (found: Evidenced, form: 'full' | 'short' = 'full', words: ReaderWords = readerWords()): string => {
  const { act, allowed } = actOf(words.evidence, found.code, found.evidence as EvidenceOf<SuggestedCode>)
  return form === 'full' && allowed ? `${act} ${allowed}` : act
}

const adviceOf = <C extends LogCode>(table: AdviceTable, code: C, goal: EvidenceOf<C>): { say: string; cue: string; next: string } => {
  const { say, cue, next } = table[code]
  return { say: say(goal), cue, next }
}

/** One advice in words: what to say with its size, how it feels when right, and something for the next run. */
export const adviceText = (advice: Pick<Advice, 'code' | 'goal'>, words: ReaderWords = readerWords()) =>
  adviceOf(words.advice, advice.code, advice.goal as EvidenceOf<LogCode>)

/** Praise in a sentence. */
export const praiseText = (praise: Praise, words: ReaderWords = readerWords()): string => {
  switch (praise.kind) {
    case 'gone':
      return words.praise.gone(words.mistakes[praise.code].name, praise.lap)
    case 'brake':
      return words.praise.brake(praise.within_m, praise.laps)
    case 'turn-in':
      return words.praise.turnIn(praise.within_m, praise.laps)
    case 'within':
      return words.praise.within(praise.laps)
  }
}

/** An error of the core in words, with place and remedy. */
export const describeError = (
  error: Pick<CoreError, 'code' | 'place' | 'data'>,
  language: Language = 'en',
): { code: CoreError['code']; place: string; message: string; remedy: string } => {
  const { code, place, data } = error
  const { message, remedy } = readerWords(language).errors[code]
  return { code, place, message: message(data), remedy: remedy(data) }
}

/**
 * A problem that came over the network, in a reader's language; null for a code without words, so that the caller can show
 * what the server said. `data` fills the words of input errors.
 */
export const problemText = (code: string, data: ErrorData, language: Language): ProblemWords | null => {
  const { errors, portal } = readerWords(language)
  if (code in portal) return portal[code as keyof typeof portal]
  if (!(code in errors)) return null
  const { message, remedy } = errors[code as CoreError['code']]
  return { message: message(data), remedy: remedy(data) }
}

/** The place of a problem in a file or on the circuit, in a reader's language. */
export const placeText = (place: string, language: Language): string => readerWords(language).place(place)

/** The name of a level. */
export const levelName = (level: Level, language: Language = 'en'): string => readerWords(language).levels[level]

/** The name of a skill. */
export const skillName = (skill: Skill, language: Language = 'en'): string => readerWords(language).skills[skill]
