import { describe, expect, it } from 'vitest'
import { checkPhraseBook, fillPhrase, type Phrase, phraseBooks, phraseFor } from './phrases.ts'

describe('phrase books', () => {
  it('that ship are in order, in two languages and different tones', () => {
    for (const book of phraseBooks) expect(checkPhraseBook(book), book.id).toEqual([])
    expect(new Set(phraseBooks.map((b) => b.language)).size).toBe(2)
    const all = phraseBooks.flatMap((b) => Object.values(b.phrases).flat())
    expect(new Set(all).size).toBe(all.length)
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
      const said = (['straight', 'blend', 'trail'] as const).map((school) => phraseFor(book, 'release', school)?.[0])
      expect(new Set(said).size, book.id).toBe(3)
      expect(phraseFor(book, 'exit', 'trail')).toBe(book.phrases.exit)
    }
    const broken = { phrases: {}, schools: { trail: { brake: ['brake', 'brake', 'brake now'] as const } } }
    expect(checkPhraseBook(broken)).toMatchObject([{ school: 'trail', kind: 'brake', form: 2, problem: 'not-one-word' }])
  })

  it('fill placeholders, or give nothing where one has nothing to stand for', () => {
    const fill = { gear: 'third', side: 'left', reference: null }
    expect(fillPhrase('turn {side} in {gear}', fill)).toBe('turn left in third')
    expect(fillPhrase('brake at the {reference}', fill)).toBeNull()
  })
})
