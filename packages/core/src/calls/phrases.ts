import type { GroundKind } from '../circuit/ground.ts'
import { type BrakingSchool, brakingSchools } from '../marks/braking-school.ts'
import type { MarkKind } from '../marks/mark.ts'
import type { Language } from '../units/language.ts'

/** Kinds of mark that can be called, in the order of a corner. */
export const markCallKinds = ['lift', 'brake', 'release', 'turn-in', 'apex', 'throttle', 'exit'] as const satisfies readonly MarkKind[]

/** Things on the road that are named before they come; `paint` is a painted line, `standing-water` a puddle. */
export const hazardCallKinds = [
  'crest',
  'dip',
  'bump',
  'off-camber',
  'kerb',
  'paint',
  'soft-edge',
  'standing-water',
] as const satisfies readonly GroundKind[]

/** Everything that can be called: marks, gears, places on the road, things on it, and what belongs to one lap of a run. */
export const callKinds = [
  ...markCallKinds,
  'downshift',
  'upshift',
  'look',
  'side',
  'stay',
  'lane',
  'diagonal',
  ...hazardCallKinds,
  'pass',
  'go-by',
  'roll',
  'last-lap',
  'pit-in',
  'parking',
] as const
export type CallKind = (typeof callKinds)[number]

/** One call in three lengths: long, short, and one word. Placeholders: {gear}, {side}, {reference}. */
export type Phrase = readonly [string, string, string]

/** Phrases by kind of mark; a kind without a phrase is not called. */
export type Phrases = Partial<Record<CallKind, Phrase>>

/**
 * Cases in which other words are true: laps on which nobody drives at the limit, a motorcycle or a kart, not dry, gears told by steps
 * instead of names. In their order, the first that has words for a mark is used.
 */
export const phraseCases = ['sighting', 'warm-up', 'rider', 'kart', 'wet', 'gear-steps'] as const
export type PhraseCase = (typeof phraseCases)[number]

/**
 * Phrases by mark. `gears`: the names of gears 1, 2, 3 …; `schools`: other words where a braking style needs another movement, for marks
 * at which the brake is still on; `cases`: other words on slow laps, in the wet and for other vehicles; `seat`: the side on which the
 * instructor sits, where sides are called from there (“my side”); `lengths`: distances in car lengths instead of metres.
 */
export type PhraseBook = {
  id: string
  name: string
  language: Language
  words: { left: string; right: string; gears: readonly string[] }
  phrases: Phrases
  schools?: Partial<Record<BrakingSchool, Phrases>> | undefined
  cases?: Partial<Record<PhraseCase, Phrases>> | undefined
  seat?: 'left' | 'right' | undefined
  lengths?: boolean | undefined
}

/**
 * Names that stand for something in a phrase: the gear to be in and the gears to change by, the side to turn to, a landmark near by and
 * how far from it the mark lies, the way to the outside and the outside and inside themselves, the corner before and the next one.
 */
export const placeholders = ['gear', 'shifts', 'side', 'reference', 'where', 'over', 'outside', 'inside', 'after', 'next'] as const

/** Values of a phrase's placeholders at one mark; null where there is nothing to say. */
export type PhraseFill = Record<(typeof placeholders)[number], string | null>

const PLACEHOLDER = /\{([^{}]*)\}/g
const placeholderNames: ReadonlySet<string> = new Set(placeholders)

/** A form with its placeholders filled, or null where one has no value. */
export const fillPhrase = (form: string, fill: PhraseFill): string | null => {
  if (!form.includes('{')) return form
  let whole = true
  const text = form.replace(PLACEHOLDER, (_, name: keyof PhraseFill) => {
    const word = fill[name]
    if (word === null || word === undefined) whole = false
    return word ?? ''
  })
  return whole ? text : null
}

/** Words of a phrase, as they are spoken. */
export const countWords = (phrase: string): number => phrase.trim().split(/\s+/).filter(Boolean).length

/** A form with its placeholders filled: which form (0 long, 1 short, 2 one word), and how many words. */
export type SpokenForm = { phrase: string; words: number; form: 0 | 1 | 2 }

/** Where a phrase is said: cases that hold, and the braking style where the brake is still on. */
export type PhraseWhere = { cases?: readonly PhraseCase[]; school?: BrakingSchool | undefined }

const isMarkCall = (kind: CallKind): boolean => (markCallKinds as readonly string[]).includes(kind)

/** Phrase for a kind of mark: that of the first case that holds and has one, else that of the braking style, else the book's own. */
export const phraseFor = (book: PhraseBook, kind: CallKind, { cases = [], school }: PhraseWhere = {}): Phrase | undefined => {
  // What the brake is for on a slow lap no other words tell: without its own nothing is said.
  if (cases.includes('sighting') && isMarkCall(kind)) return book.cases?.sighting?.[kind]
  const special = phraseCases.find((one) => cases.includes(one) && book.cases?.[one]?.[kind])
  return (special && book.cases?.[special]?.[kind]) ?? (school && book.schools?.[school]?.[kind]) ?? book.phrases[kind]
}

/** The forms of a kind that can be said, longest first; those with a placeholder that has no value are left out. */
export const spokenForms = (book: PhraseBook, kind: CallKind, fill: PhraseFill, where: PhraseWhere = {}): SpokenForm[] =>
  (phraseFor(book, kind, where) ?? []).flatMap((text, form): SpokenForm[] => {
    const phrase = fillPhrase(text, fill)
    return phrase === null ? [] : [{ phrase, words: countWords(phrase), form: form as 0 | 1 | 2 }]
  })

/** A problem of a phrase book: what is wrong with which form (0 long, 1 short, 2 one word) of a kind; in one style or case only, or for all (null). */
export type PhraseProblem = {
  kind: CallKind
  form: 0 | 1 | 2
  only: BrakingSchool | PhraseCase | null
  problem: 'empty' | 'unknown-placeholder' | 'not-one-word' | 'placeholder-in-word' | 'longer-than-longer-form'
  found: string
}

/** Checks a phrase book against the rules of its forms: the last is one word without placeholders, none is longer than the one before. */
export const checkPhraseBook = (book: Pick<PhraseBook, 'phrases' | 'schools' | 'cases'>): PhraseProblem[] => [
  ...checkPhrases(book.phrases, null),
  ...brakingSchools.flatMap((school) => checkPhrases(book.schools?.[school] ?? {}, school)),
  ...phraseCases.flatMap((one) => checkPhrases(book.cases?.[one] ?? {}, one)),
]

const checkPhrases = (phrases: Phrases, only: PhraseProblem['only']): PhraseProblem[] =>
  callKinds.flatMap((kind) => {
    const phrase = phrases[kind]
    if (!phrase) return []
    return phrase.flatMap((text, i): PhraseProblem[] => {
      const form = i as 0 | 1 | 2
      const problemOf = (problem: PhraseProblem['problem'], found: string): PhraseProblem[] => [{ kind, form, only, problem, found }]
      if (text.trim() === '') return problemOf('empty', '')
      const placeholders = [...text.matchAll(PLACEHOLDER)].map((m) => m[1])
      const unknownPlaceholder = placeholders.find((p) => !placeholderNames.has(p))
      if (unknownPlaceholder !== undefined) return problemOf('unknown-placeholder', unknownPlaceholder)
      if (form === 2 && placeholders.length > 0) return problemOf('placeholder-in-word', text)
      if (form === 2 && countWords(text) !== 1) return problemOf('not-one-word', text)
      if (form > 0 && countWords(text) > countWords(phrase[form - 1])) return problemOf('longer-than-longer-form', text)
      return []
    })
  })
