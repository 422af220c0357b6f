import { type BrakingSchool, brakingSchools } from '../marks/braking-school.ts'
import type { MarkKind } from '../marks/mark.ts'
import type { Language } from '../units/language.ts'

/** Kinds of mark that can be called, in the order of a corner. */
export const callKinds = ['lift', 'brake', 'release', 'turn-in', 'apex', 'throttle', 'exit'] as const satisfies readonly MarkKind[]
export type CallKind = (typeof callKinds)[number]

/** One call in three lengths: long, short, and one word. Placeholders: {gear}, {side}, {reference}. */
export type Phrase = readonly [string, string, string]

/** Phrases by kind of mark; a kind without a phrase is not called. */
export type Phrases = Partial<Record<CallKind, Phrase>>

/**
 * Cases in which other words are true: not dry; a motorcycle or a kart; in their order, the first that has words for a mark is used.
 */
export const phraseCases = ['rider', 'kart', 'wet'] as const
export type PhraseCase = (typeof phraseCases)[number]

/**
 * Phrases by mark. `gears`: the names of gears 1, 2, 3 …; `schools`: other words where a braking style needs another movement, for marks
 * at which the brake is still on; `cases`: other words in the wet and for other vehicles.
 */
export type PhraseBook = {
  id: string
  name: string
  language: Language
  words: { left: string; right: string; gears: readonly string[] }
  phrases: Phrases
  schools?: Partial<Record<BrakingSchool, Phrases>> | undefined
  cases?: Partial<Record<PhraseCase, Phrases>> | undefined
}

/** Phrase books that ship: two tones in English, one in German. */
export const phraseBooks: readonly PhraseBook[] = [
  {
    id: 'plain',
    name: 'Plain: calm whole sentences',
    language: 'en',
    words: { left: 'left', right: 'right', gears: ['first', 'second', 'third', 'fourth', 'fifth', 'sixth'] },
    phrases: {
      lift: ['ease off the throttle at the {reference}', 'lift here', 'lift'],
      brake: ['on the brake at the {reference}, firm, down to {gear}', 'brake firmly now', 'brake'],
      release: ['let the brake go, slowly', 'off the brake', 'release'],
      'turn-in': ['and turn {side}, one slow movement', 'and turn {side}', 'turn'],
      apex: ['eyes up to the exit', 'eyes up', 'eyes'],
      throttle: ['squeeze the throttle on', 'squeeze it on', 'squeeze'],
      exit: ['unwind, use all the road', 'let it run', 'unwind'],
    },
    schools: {
      straight: { 'turn-in': ['off the brake, and turn {side}', 'and turn {side}', 'turn'] },
      blend: { release: ['most of the brake off, keep a touch', 'almost off', 'ease'] },
      trail: {
        release: ['trail the brake to the apex', 'trail it in', 'trail'],
        'turn-in': ['turn {side}, trail the brake as you do', 'turn and trail', 'turn'],
      },
    },
    cases: {
      wet: {
        lift: ['ease off early at the {reference}, smoothly', 'ease off early', 'lift'],
        brake: ['squeeze the brake at the {reference}, early and long', 'squeeze the brake, long', 'brake'],
        throttle: ['a little throttle, wait for grip', 'a little throttle', 'squeeze'],
        exit: ['unwind, stay off the paint', 'let it run', 'unwind'],
      },
      rider: {
        throttle: ['and ease it open slowly', 'ease it open', 'open'],
        exit: ['let it stand up, use the road', 'let it stand up', 'upright'],
      },
      kart: { brake: ['brake straight at the {reference}, then let go', 'brake, still straight', 'brake'] },
    },
  },
  {
    id: 'brisk',
    name: 'Brisk: short beats for a rising tempo',
    language: 'en',
    words: { left: 'left', right: 'right', gears: ['one', 'two', 'three', 'four', 'five', 'six'] },
    phrases: {
      lift: ['{reference}, breathe off it', 'breathe off', 'lift'],
      brake: ['{reference}, brake hard, hold it, {gear}', 'brake hard, hold', 'brake'],
      release: ['bleed it off now', 'bleed off', 'bleed'],
      'turn-in': ['turn {side}, one bite', 'turn {side}', 'turn'],
      apex: ['eyes up, find the exit', 'eyes up', 'eyes'],
      throttle: ['feed it, feed it, more', 'feed it', 'feed'],
      exit: ['unwind, all the road', 'unwind it', 'unwind'],
    },
    schools: {
      blend: { release: ['down to a feather, hold it', 'feather it', 'feather'] },
      trail: {
        release: ['bleed it all the way in', 'bleed it in', 'bleed'],
        'turn-in': ['turn {side}, bleed as it bites', 'turn and bleed', 'turn'],
      },
    },
    cases: {
      wet: {
        lift: ['{reference}, breathe off it early', 'breathe off early', 'lift'],
        brake: ['{reference}, build the brake, long and soft', 'build the brake, soft', 'brake'],
        throttle: ['wait for it, feed a little', 'feed a little', 'feed'],
        exit: ['unwind, clear of the paint', 'unwind it', 'unwind'],
      },
      rider: {
        throttle: ['roll it open, smooth, more', 'roll it open', 'open'],
        exit: ['stand it up, run wide', 'stand it up', 'upright'],
      },
      kart: { brake: ['{reference}, one short straight brake', 'brake straight', 'brake'] },
    },
  },
  {
    id: 'ruhig',
    name: 'Ruhig: kurze Sätze auf Deutsch',
    language: 'de',
    words: { left: 'links', right: 'rechts', gears: ['erster', 'zweiter', 'dritter', 'vierter', 'fünfter', 'sechster'] },
    phrases: {
      lift: ['hier vom Gas, bei {reference}', 'jetzt vom Gas', 'lupfen'],
      brake: ['bei {reference} kräftig bremsen, {gear} Gang', 'jetzt fest bremsen', 'bremsen'],
      release: ['Bremse langsam lösen', 'Bremse lösen', 'lösen'],
      'turn-in': ['und {side} einlenken, in einem Zug', 'nach {side} einlenken', 'lenken'],
      apex: ['Blick zum Ausgang', 'Blick voraus', 'Blick'],
      throttle: ['langsam Gas aufbauen', 'Gas aufbauen', 'Gas'],
      exit: ['Lenkung auf, ganze Breite nutzen', 'laufen lassen', 'aufmachen'],
    },
    schools: {
      straight: { 'turn-in': ['Bremse lösen und {side} einlenken', 'nach {side} einlenken', 'lenken'] },
      blend: { release: ['Bremse fast ganz lösen', 'fast lösen', 'nachlassen'] },
      trail: {
        release: ['etwas Bremse bis zum Scheitel', 'langsam lösen', 'nachlassen'],
        'turn-in': ['{side} einlenken, Bremse dabei lösen', 'einlenken und lösen', 'lenken'],
      },
    },
    cases: {
      wet: {
        lift: ['früh und weich vom Gas, bei {reference}', 'früh vom Gas', 'lupfen'],
        brake: ['bei {reference} früh und weich bremsen, lang', 'weich bremsen, lang', 'bremsen'],
        throttle: ['wenig Gas, auf Grip warten', 'wenig Gas', 'Gas'],
        exit: ['Lenkung auf, von der Farbe wegbleiben', 'laufen lassen', 'aufmachen'],
      },
      rider: {
        throttle: ['langsam aufziehen, weich', 'langsam aufziehen', 'aufziehen'],
        exit: ['aufrichten, ganze Breite nutzen', 'aufrichten lassen', 'aufrichten'],
      },
      kart: { brake: ['bei {reference} kurz und gerade bremsen', 'gerade bremsen', 'bremsen'] },
    },
  },
]

/** Values of a phrase's placeholders at one mark; null where there is nothing to say. */
export type PhraseFill = { gear: string | null; side: string | null; reference: string | null }

const PLACEHOLDER = /\{([^{}]*)\}/g
const placeholderNames: ReadonlySet<string> = new Set(['gear', 'side', 'reference'])

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

/** Phrase for a kind of mark: that of the first case that holds and has one, else that of the braking style, else the book's own. */
export const phraseFor = (book: PhraseBook, kind: CallKind, { cases = [], school }: PhraseWhere = {}): Phrase | undefined => {
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
