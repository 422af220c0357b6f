import { describe, expect, it } from 'vitest'
import { type LogCode, logCodes, mistakes } from '../mistakes/mistakes.ts'
import { evidenceInWords } from './finding-words.ts'

const evidence: Partial<Record<LogCode, Record<string, number>>> = {
  'brake-early': { later_m: -18.4, allowed_m: -15.2 },
  'brake-late': { later_m: 12.6, allowed_m: 11.8 },
  'brake-over': { slowest_mps: 15, referenceSlowest_mps: 18.06 },
  'turn-in-early': { later_m: -9.2, allowed_m: -6 },
  'apex-missed': { farther_m: 1.94, allowed_m: 1.2 },
  'exit-wide': { margin_m: 0.14 },
  'brake-soft': { share: 0.62, allowedShare: 0.75 },
  'throttle-early': { later_s: -0.52, dipShare: 0.4 },
  'wrong-gear': { gear: 3, referenceGear: 2 },
}

describe('evidence in words', () => {
  it.each([
    ['brake-early', 'braked 18 m before the mark (up to 15 m is fine)'],
    ['brake-late', 'braked 13 m after the mark (up to 12 m is fine)'],
    ['brake-over', 'slowed to 54 km/h where 65 km/h holds'],
    ['turn-in-early', 'turned in 9 m early (up to 6 m is fine)'],
    ['apex-missed', 'passed the apex 1.9 m farther out than planned (up to 1.2 m is fine)'],
    ['exit-wide', 'came within 0.1 m of the outer edge at the exit'],
    ['brake-soft', 'pressed the brake to 62 % of what the corner asks (from 75 % on is fine)'],
    ['throttle-early', 'touched the throttle 0.5 s early and took 40 % back'],
    ['wrong-gear', 'took the corner in gear 3 where 2 is planned'],
  ] as const)('%s names the act and its size', (code, words) => {
    expect(evidenceInWords(code, evidence[code] ?? {})).toBe(words)
  })

  it('tells over the edge from near it', () => {
    expect(evidenceInWords('exit-wide', { margin_m: -0.62 })).toBe('ran 0.6 m over the outer edge at the exit')
  })

  it('never names the person, and every code has a name and a correction', () => {
    for (const code of logCodes) expect(evidenceInWords(code, evidence[code] ?? {})).not.toMatch(/\b(you|he|she|they|student)\b/i)
    for (const { name, correction } of Object.values(mistakes)) {
      expect(name.length).toBeGreaterThan(3)
      expect(correction).toMatch(/\.$/)
    }
  })
})
