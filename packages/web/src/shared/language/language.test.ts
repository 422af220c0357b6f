import { degrees } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { cornerIn, fromApexIn, referenceIn } from './corner-in-words.ts'
import { english } from './english.ts'
import { german } from './german.ts'
import { wordsIn } from './words.ts'

type Leaf = { path: string; text: string }

/** All fixed texts of a table of words, with where they stand. */
const leaves = (node: unknown, path = ''): Leaf[] => {
  if (typeof node === 'string') return [{ path, text: node }]
  if (typeof node !== 'object' || node === null) return []
  return Object.entries(node).flatMap(([key, child]) => leaves(child, `${path}.${key}`))
}

/** Texts that are the same word in both languages. */
const sameInBoth = /\.(colours\.orange|drills\.slalom|corners\.|titles\.radio)/

describe('the words for students', () => {
  it('are complete and different in both languages', () => {
    const [en, de] = [leaves(english), leaves(german)]
    expect(de.map((l) => l.path)).toEqual(en.map((l) => l.path))
    for (const [i, { path, text }] of en.entries()) {
      expect(text.trim(), path).not.toBe('')
      if (!sameInBoth.test(path)) expect(de[i].text, path).not.toBe(text)
    }
  })

  it('neither cheer nor blame', () => {
    for (const { text } of [...leaves(english), ...leaves(german)]) expect(text).not.toMatch(/!|well done|great job|super|toll/i)
  })

  it('name the cautions: what is estimated, who decides, where never', () => {
    expect(english.caution).toMatch(/Estimates.*instructor in the car decides.*Never for public roads/s)
    expect(german.caution).toMatch(/Schätzwerte.*Instruktor im Auto entscheidet.*Nie für öffentliche Straßen/s)
    expect(wordsIn('de').safety[0]).toContain('töten')
  })

  it('put numbers where they belong', () => {
    expect(english.pace('Building', 60, '2:12')).toBe('Building: 60% of the grip, about 2:12 a lap')
    expect(german.pace('Aufbauen', 60, '2:12')).toBe('Aufbauen: 60 % der Haftung, etwa 2:12 je Runde')
    expect(english.phone.done(4, 6)).toBe('4 of 6 right so far')
    expect(german.phone.offBy('12 m', true)).toBe('Du lagst 12 m zu früh.')
    expect(english.wetBrake('38 m', 'Boathouse')).toContain('up to 38 m earlier, most at Boathouse')
  })
})

describe('places in a student’s words and units', () => {
  const corner = { id: 'T6', name: 'T6', side: 'right', shape: 'hairpin', radius_m: 21, turn_rad: (159 * Math.PI) / 180 } as Parameters<
    typeof cornerIn
  >[2]

  it('are a corner in one line', () => {
    expect(Math.round(degrees(corner.turn_rad))).toBe(159)
    expect(cornerIn(english, 'metric', corner)).toBe('Right hairpin, radius 21 m, turns 159°')
    expect(cornerIn(german, 'metric', corner)).toBe('Spitzkehre nach rechts, Radius 21 m, 159° Richtungsänderung')
    expect(cornerIn(english, 'imperial', corner)).toContain('radius 69 ft')
  })

  it('are so far from an apex or a lasting reference, before or past it', () => {
    expect(fromApexIn(english, 'metric', -60.2)).toBe('60 m before')
    expect(fromApexIn(german, 'metric', 56)).toBe('56 m danach')
    expect(fromApexIn(english, 'imperial', 10)).toBe('33 ft after')
    expect(fromApexIn(english, 'metric', 0.2)).toBeNull()
    expect(referenceIn(english, 'metric', { name: 'Seam', past_m: 5 })).toBe('5 m past: Seam')
    expect(referenceIn(german, 'metric', { name: 'Naht', past_m: -5 })).toBe('5 m vor: Naht')
    expect(referenceIn(english, 'metric', { name: 'Seam', past_m: 0.1 })).toBe('at: Seam')
  })
})
