import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import type { Intensity } from '../day/intensity.ts'
import type { Language } from '../units/language.ts'
import { phraseBooks } from './books/index.ts'
import { radioTiming } from './call-sheet.ts'
import { bookFor, type CallWork, callsFor, callWishesOf, callWishOf } from './day-calls.ts'

const student = (talk: Intensity, language: Language | null) => ({
  talk,
  profile: { experience: '', car: '', goals: '', worries: [], language },
})
const work: CallWork = { bookId: 'plain', ...radioTiming, gears: 'named' as const, silentCorners: [], calls: {} }

describe('what students want of the calls', () => {
  it('is each wish once, and one reminder a corner in the day’s language for somebody unknown', () => {
    const wishes = callWishesOf([student('quiet', null), student('guided', 'de'), student('quiet', null), student('quiet', 'de')])
    expect(wishes).toEqual([
      { intensity: 'quiet', language: null },
      { intensity: 'guided', language: 'de' },
      { intensity: 'quiet', language: 'de' },
    ])
    expect(callWishesOf([])).toEqual([{ intensity: 'guided', language: null }])
    expect(callWishOf(undefined)).toEqual({ intensity: 'guided', language: null })
  })
})

describe('the calls of a day', () => {
  const plan = demoPlan()
  const day = { plan, books: phraseBooks, work, numbers: undefined }

  it('speak the student’s language where a book does, with the day’s own timing', () => {
    const german = callsFor(day, { intensity: 'guided', language: 'de' })
    expect(german.book.language).toBe('de')
    expect(german.timing).toMatchObject({ reaction_s: radioTiming.reaction_s, rate_wps: radioTiming.rate_wps, link_s: radioTiming.link_s })
    expect(callsFor(day, { intensity: 'guided', language: null }).book.id).toBe('plain')
    const english = phraseBooks.filter((b) => b.language === 'en')
    expect(bookFor(english, 'plain', 'de').id).toBe('plain')
  })

  it('give nobody a call at a silenced corner, and nobody who wants quiet any call', () => {
    const silent = { ...day, work: { ...work, silentCorners: ['T1'] } }
    const { sheet } = callsFor(silent, { intensity: 'driven', language: null })
    expect(sheet.calls.length).toBeGreaterThan(10)
    expect(sheet.calls.filter((c) => c.cornerId === 'T1')).toEqual([])
    expect(callsFor(day, { intensity: 'driven', language: null }).sheet.calls.some((c) => c.cornerId === 'T1')).toBe(true)
    expect(callsFor(day, { intensity: 'quiet', language: null }).sheet.calls).toEqual([])
  })
})
