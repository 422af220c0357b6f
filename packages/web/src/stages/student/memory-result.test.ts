import { describe, expect, it } from 'vitest'
import { wordsIn } from '../../shared/language/words.ts'
import { tapInWords } from './memory-result.tsx'

describe('how a mark was met', () => {
  const late = { off_s: 0.34, off_m: 11.4 }

  it('is told in tenths and metres, early or late, in the student’s language and units', () => {
    expect(tapInWords(late, wordsIn('en'), 'metric')).toBe('0.3 s late, 11 m')
    expect(tapInWords({ off_s: -0.34, off_m: -11.4 }, wordsIn('en'), 'imperial')).toBe('0.3 s early, 37 ft')
    expect(tapInWords(late, wordsIn('de'), 'metric')).toBe('0,3 s zu spät, 11 m')
  })

  it('is on the moment within a twentieth of a second, and said where nothing was tapped', () => {
    expect(tapInWords({ off_s: 0.04, off_m: 1 }, wordsIn('en'), 'metric')).toBe('on the moment')
    expect(tapInWords({ off_s: null, off_m: null }, wordsIn('de'), 'metric')).toBe('nicht getippt')
  })
})
