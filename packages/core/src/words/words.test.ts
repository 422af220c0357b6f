import { describe, expect, it } from 'vitest'
import { evidenceFor } from '../../fixtures/evidence.ts'
import { logCodes, type SuggestedCode } from '../mistakes/mistakes.ts'
import { languages } from '../units/language.ts'
import { correctionFor, evidenceText, mistakeName, readerWords } from './words.ts'

describe('evidence in words', () => {
  it.each([
    ['brake-early', { later_m: -18.4, allowed_m: -15.2 }, 'braked 18 m before the mark (up to 15 m is fine)'],
    ['brake-late', { later_m: 12.6, allowed_m: 11.8 }, 'braked 13 m after the mark (up to 12 m is fine)'],
    ['brake-over', { slowest_mps: 15, referenceSlowest_mps: 18.06 }, 'slowed to 54 km/h; 65 km/h would hold'],
    ['turn-in-early', { later_m: -9.2, allowed_m: -6 }, 'turned in 9 m early (up to 6 m is fine)'],
    ['apex-missed', { further_m: 1.94, allowed_m: 1.2 }, 'passed the apex 1.9 m further out than planned (up to 1.2 m is fine)'],
    ['exit-wide', { margin_m: 0.14 }, 'came within 0.1 m of the outer edge at the exit'],
    ['exit-wide', { margin_m: -0.62 }, 'ran 0.6 m over the outer edge at the exit'],
    ['brake-soft', { share: 0.62, allowedShare: 0.75 }, 'braked at 62% of what the corner needs (75% or more is fine)'],
    ['throttle-early', { later_s: -0.52, dipShare: 0.4 }, 'was on the throttle 0.5 s early, then gave 40% back'],
    ['wrong-gear', { gear: 3, referenceGear: 2 }, 'took the corner in gear 3; 2 is planned'],
  ] as const)('%s names the act and its size', (code, about, words) => {
    expect(evidenceText(evidenceFor(code as SuggestedCode, about as Record<string, number>))).toBe(words)
  })

  it('leaves out what is fine where the short form is asked for, and nothing else', () => {
    for (const language of languages)
      for (const code of logCodes) {
        const found = evidenceFor(code)
        const words = readerWords(language)
        const short = evidenceText(found, 'short', words)
        const full = evidenceText(found, 'full', words)
        expect(full.startsWith(short)).toBe(true)
        // A size in brackets belongs to the act and stays.
        if (code === 'brake-dump' && language === 'de') expect(short).toContain('(1,00 s)')
      }
  })

  it('never names the person', () => {
    for (const code of logCodes) expect(evidenceText(evidenceFor(code))).not.toMatch(/\b(you|he|she|they|student)\b/i)
  })
})

describe('names and corrections', () => {
  it.each(languages)('exist for every mistake in %s, each correction a whole sentence', (language) => {
    const { mistakes } = readerWords(language)
    for (const { name, correction } of Object.values(mistakes)) {
      expect(name.length).toBeGreaterThan(3)
      expect(correction).toMatch(/\.$/)
    }
  })

  it('are those of the language', () => {
    expect(mistakeName('brake-split')).toBe('Stabbed the brake twice')
    expect(mistakeName('spin', 'de')).toBe('Dreher')
    expect(correctionFor('spin', 'de')).toContain('Kupplung und Bremse treten')
  })

  it('write a percentage as each language does', () => {
    expect(evidenceText(evidenceFor('brake-split', { leastShare: 0.2 }))).toContain('20%')
    expect(evidenceText(evidenceFor('brake-split', { leastShare: 0.2 }), 'full', readerWords('de'))).toContain('20\u00a0%')
  })
})
