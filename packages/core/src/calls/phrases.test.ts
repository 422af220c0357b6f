import { describe, expect, it } from 'vitest'
import { phraseBooks } from './books/index.ts'
import { callKinds, checkPhraseBook, fillPhrase, type Phrase, type Phrases, phraseCases, phraseFor } from './phrases.ts'

describe('phrase books', () => {
  it('that ship are in order, in two languages and different tones', () => {
    for (const book of phraseBooks) expect(checkPhraseBook(book), book.id).toEqual([])
    expect(new Set(phraseBooks.map((b) => b.language)).size).toBe(2)
    // The one word has to be the plain one, whatever the book's tone; the sentences differ.
    const sentences = phraseBooks.flatMap((b) => Object.values(b.phrases).map((phrase) => phrase[0]))
    expect(new Set(sentences).size).toBe(sentences.length)
  })

  it('that ship have words for everything that is called, and for every case', () => {
    for (const book of phraseBooks) {
      for (const kind of callKinds) expect(book.phrases[kind], `${book.id} ${kind}`).toBeDefined()
      for (const one of phraseCases) expect(Object.keys(book.cases?.[one] ?? {}).length, `${book.id} ${one}`).toBeGreaterThan(0)
    }
  })

  it('name on a sighting lap what there is, and nothing that nobody wrote words for', () => {
    for (const book of phraseBooks) {
      const sighting = { cases: ['sighting', 'wet'] as const }
      expect(phraseFor(book, 'brake', sighting)).toBe(book.cases?.sighting?.brake)
      expect(phraseFor(book, 'throttle', sighting)).toBeUndefined()
      expect(phraseFor(book, 'crest', sighting)).toBe(book.phrases.crest)
    }
  })

  it('use no word that means something else at speed', () => {
    for (const book of phraseBooks) {
      const forms = [book.phrases, ...Object.values(book.schools ?? {}), ...Object.values(book.cases ?? {})].flatMap((phrases) =>
        Object.values(phrases).flat(),
      )
      for (const form of forms) expect(form, book.id).not.toMatch(/\b(look out|hit it|chin|halten|press)\b/)
      // One word, one pedal: a lone word for the brake is none for the throttle.
      const lone = (kind: 'lift' | 'throttle' | 'brake' | 'release') =>
        // On a sighting lap cones are named, no pedals.
        [book.phrases, ...Object.values(book.schools ?? {}), ...Object.values({ ...book.cases, sighting: {} })].flatMap(
          (phrases: Phrases) => phrases[kind]?.[2] ?? [],
        )
      const throttle = new Set([...lone('lift'), ...lone('throttle')])
      for (const word of [...lone('brake'), ...lone('release')]) expect(throttle.has(word), word).toBe(false)
    }
  })

  it.each<[string, Phrase, string]>([
    ['an empty form', ['brake now', '', 'brake'], 'empty'],
    ['a placeholder that nobody knows', ['brake at {cone}', 'brake', 'brake'], 'unknown-placeholder'],
    ['two words where one is promised', ['brake now', 'brake now', 'brake now'], 'not-one-word'],
    ['a placeholder in the one word', ['brake', 'brake', '{gear}'], 'placeholder-in-word'],
    ['a short form longer than the long one', ['brake', 'brake very firmly', 'brake'], 'longer-than-longer-form'],
  ])('with %s are told', (_, phrase, problem) => {
    expect(checkPhraseBook({ phrases: { brake: phrase } }).map((p) => p.problem)).toContain(problem)
  })

  it('tell schools of braking apart where the movement differs, and are checked for each', () => {
    for (const book of phraseBooks) {
      const said = (['straight', 'blend', 'trail'] as const).map((school) => phraseFor(book, 'release', { school })?.[0])
      expect(new Set(said).size, book.id).toBe(3)
      expect(phraseFor(book, 'exit', { school: 'trail' })).toBe(book.phrases.exit)
    }
    const broken = { phrases: {}, schools: { trail: { brake: ['brake', 'brake', 'brake now'] as const } } }
    expect(checkPhraseBook(broken)).toMatchObject([{ only: 'trail', kind: 'brake', form: 2, problem: 'not-one-word' }])
  })

  it('have words of their own for the wet and for riders and karts, and the style’s or the plain ones elsewhere', () => {
    for (const book of phraseBooks) {
      const wet = { cases: ['wet'] as const }
      expect(phraseFor(book, 'brake', wet)).toBe(book.cases?.wet?.brake)
      expect(phraseFor(book, 'brake', { cases: ['rider', 'wet'] })).toBe(book.cases?.wet?.brake)
      expect(phraseFor(book, 'throttle', { cases: ['wet', 'rider'] })).toBe(book.cases?.rider?.throttle)
      expect(phraseFor(book, 'turn-in', { ...wet, school: 'trail' })).toBe(book.schools?.trail?.['turn-in'])
      expect(phraseFor(book, 'turn-in', wet)).toBe(book.phrases['turn-in'])
    }
    const broken = { phrases: {}, cases: { wet: { brake: ['', 'b', 'b'] as const } } }
    expect(checkPhraseBook(broken)[0]).toMatchObject({ only: 'wet', problem: 'empty' })
  })

  it('fill placeholders, or give nothing where one has nothing to stand for', () => {
    const nothing = { shifts: null, where: null, over: null, outside: null, inside: null, after: null, next: null }
    const fill = { ...nothing, gear: 'third', side: 'left', reference: null }
    expect(fillPhrase('turn {side} in {gear}', fill)).toBe('turn left in third')
    expect(fillPhrase('brake at the {reference}', fill)).toBeNull()
  })
})
