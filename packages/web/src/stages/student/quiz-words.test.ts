import { coneKinds, emergencies, languages, type QuizChoice, type QuizQuestion } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { wordsIn } from '../../shared/language/words.ts'
import { choiceInWords, questionInWords } from './quiz-words.ts'

const corners = [
  { id: 'T1', name: 'Boathouse' },
  { id: 'T2', name: 'Reedbank' },
]
const question = (topic: object): QuizQuestion =>
  ({ id: 'q', form: 'choose', choices: [], picture: null, ...topic }) as unknown as QuizQuestion

describe('questions in a student’s words', () => {
  const topics = [
    { topic: 'first-cone', cornerId: 'T1' },
    { topic: 'flag', meaning: 'Slow down.' },
    { topic: 'next-corner', cornerId: 'T1' },
    { topic: 'gear', cornerId: 'T1' },
    { topic: 'reference', cornerId: 'T1' },
    { topic: 'order', cornerIds: ['T1', 'T2'] },
    { topic: 'place', cornerId: 'T1', mark: 'turn-in' },
    { topic: 'cone-meaning', rule: { colour: 'blue', shape: 'tall', count: 1 } },
    ...emergencies.map((emergency) => ({ topic: 'emergency', emergency })),
  ]

  it.each(languages)('are all different and name the corner, in %s', (language) => {
    const texts = topics.map((t) => questionInWords(question(t), wordsIn(language), corners))
    expect(new Set(texts).size).toBe(topics.length)
    expect(texts.filter((t) => t.includes('Boathouse'))).toHaveLength(5)
    expect(texts.join()).not.toMatch(/undefined|T1/)
  })

  it('offer choices in words, cones by count, colour and shape', () => {
    const say = (choice: QuizChoice, language: 'en' | 'de' = 'en'): string => choiceInWords(choice, wordsIn(language), corners)
    expect(say({ kind: 'cone', rule: { colour: 'yellow', shape: 'tall', count: 2 } })).toBe('2 × yellow, tall cone')
    expect(say({ kind: 'cone', rule: { colour: 'yellow', shape: 'tall', count: 1 } }, 'de')).toBe('gelb, hohe Pylone')
    expect(say({ kind: 'corner', cornerId: 'T2' })).toBe('Reedbank')
    expect(say({ kind: 'gear', gear: 3 }, 'de')).toBe('3. Gang')
    expect(new Set(coneKinds.map((cone) => say({ kind: 'meaning', cone }, 'de'))).size).toBe(coneKinds.length)
  })

  it('fall back to English for a student who chose no language', () => {
    expect(wordsIn(null)).toBe(wordsIn('en'))
    expect(wordsIn(undefined).phone.keep).toBe('Save')
  })
})
