import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { CoreError } from '../errors/errors.ts'
import { languages } from '../units/language.ts'
import { vehicleRanges } from '../vehicle/vehicle.ts'
import { portalProblemCodes } from './reader-words.ts'
import { describeError, placeText, problemText, readerWords } from './words.ts'

describe('words for errors', () => {
  it('exist for exactly the codes that exist', () => {
    const source = readFileSync(new URL('../errors/errors.ts', import.meta.url), 'utf8')
    const union = source.slice(source.indexOf('ErrorCode ='), source.indexOf('/** Values that'))
    const codes = [...union.matchAll(/'([a-z-]+)'/g)].map((m) => m[1])
    for (const language of languages) expect(Object.keys(readerWords(language).errors).sort()).toEqual(codes.sort())
  })

  it('speak the reader’s language, network problems too', () => {
    const german = problemText('log-elsewhere', { distance_m: 900 }, 'de')
    expect(german?.message).toContain('mindestens 900 m von dieser Strecke entfernt')
    for (const language of languages)
      for (const code of portalProblemCodes) {
        const words = problemText(code, {}, language)
        expect(words?.message.length).toBeGreaterThan(10)
        expect(words?.remedy.length).toBeGreaterThan(10)
        if (language === 'de') expect(`${words?.message} ${words?.remedy}`).not.toMatch(/\b(the|you|server cannot)\b/)
      }
    expect(problemText('no-such-code', {}, 'de')).toBeNull()
    expect(placeText('row 12', 'en')).toBe('At row 12.')
    expect(placeText('row 12', 'de')).toBe('Stelle: Zeile 12.')
  })

  it('name a vehicle’s field in words, with its name in files, and a gear by its number', () => {
    const problem = { field: 'muY', gear: 0, value: '9', min: 0.2, max: 3 }
    expect(problemText('vehicle-range', problem, 'en')?.message).toBe('The vehicle’s lateral grip (muY) is 9; it must be 0.2 to 3.')
    expect(problemText('vehicle-range', problem, 'de')?.message).toContain('Haftung quer (muY)')
    const gear = { field: 'gears', gear: 2, value: '15', min: 20, max: 150 }
    expect(problemText('vehicle-range', gear, 'en')?.message).toContain('top speed in gear 2 (m/s) is 15')
    for (const field of Object.keys(vehicleRanges))
      for (const language of languages)
        expect(problemText('vehicle-range', { ...problem, field }, language)?.message).toContain(` (${field}) `)
  })

  it('name place, finding and remedy', () => {
    const words = describeError(new CoreError('circuit-width', 'point 7', { side: 'left', width_m: 0, min_m: 1, max_m: 60 }))
    expect(words.place).toBe('point 7')
    expect(words.message).toBe('The road is 0 m wide on its left side.')
    expect(words.remedy).toContain('from 1 to 60 m')
  })
})
