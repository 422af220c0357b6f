import { describe, expect, it } from 'vitest'
import { evidenceFor } from '../../fixtures/evidence.ts'
import { evidenceText, readerWords } from '../words/words.ts'
import { type Evidenced, evidenceKeys, isEvidenceOf } from './evidence.ts'
import type { SuggestedCode } from './mistakes.ts'

const codes = Object.keys(evidenceKeys) as SuggestedCode[]
const filled = (code: SuggestedCode): Record<string, number> => ({ ...evidenceFor(code).evidence })

describe('evidence', () => {
  it('is refused where any of its numbers is missing or no number', () => {
    for (const code of codes) {
      expect(isEvidenceOf(code, filled(code)), code).toBe(true)
      for (const key of evidenceKeys[code]) {
        const { [key]: _, ...rest } = filled(code)
        expect(isEvidenceOf(code, rest), `${code} ${key}`).toBe(false)
        expect(isEvidenceOf(code, { ...rest, [key]: Number.NaN }), `${code} ${key}`).toBe(false)
      }
    }
  })

  it('can be said of every code in every language and system of units, without holes', () => {
    for (const language of ['en', 'de'] as const)
      for (const units of ['metric', 'imperial'] as const)
        for (const code of codes) {
          const found = { code, evidence: filled(code) } as Evidenced
          const [full, short] = (['full', 'short'] as const).map((form) => evidenceText(found, form, readerWords(language, units)))
          expect(full, `${code} ${language}`).not.toMatch(/NaN|undefined|null/)
          expect(full.startsWith(short)).toBe(true)
          expect(short.length).toBeGreaterThan(10)
        }
  })
})
