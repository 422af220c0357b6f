import { type MistakeCode, mistakes, shareOf, vehicleSummary, vehicleTemplates } from '@ochote/core'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { filled } from './say.ts'
import german from './staff-german.json' with { type: 'json' }

/** The modules of the staff's language, read anew on a device that keeps this choice. */
const readFor = async (language: string | null) => {
  vi.resetModules()
  vi.stubGlobal('localStorage', { getItem: (key: string) => (key === 'ochote.language' ? language : null), setItem: vi.fn() })
  const said = await import('./say.ts')
  await said.readStaffTexts()
  return { ...said, ...(await import('../shared/language/staff-words.ts')) }
}

beforeEach(() => vi.unstubAllGlobals())
afterEach(() => {
  vi.unstubAllGlobals()
  vi.resetModules()
})

describe('the table of German texts', () => {
  const entries = Object.entries(german)
  const places = (text: string): number => (text.match(/\{\d*\}/g) ?? []).length

  it('has the places of the English in each text, and numbered ones within them', () => {
    for (const [english, text] of entries) {
      expect(places(text), english).toBe(places(english))
      for (const [, at] of text.matchAll(/\{(\d+)\}/g)) expect(Number(at), english).toBeLessThan(places(english))
    }
  })

  it('keeps the spaces at both ends, where texts are joined', () => {
    for (const [english, text] of entries) {
      expect(/^\s/.test(text), english).toBe(/^\s/.test(english))
      expect(/\s$/.test(text), english).toBe(/\s$/.test(english))
    }
  })

  it('writes percentages and decimals the German way', () => {
    for (const [english, text] of entries) {
      expect(text, english).not.toMatch(/\d%/)
      expect(text, english).not.toMatch(/(^|\s)\d+\.\d+(\s|$)/)
    }
  })

  it('calls cones and grace by one word each', () => {
    for (const text of Object.values(german)) expect(text).not.toMatch(/Kegel|Hütchen|Gnade/)
  })
})

describe('a text of the staff’s pages', () => {
  it('of the server is told with its parts, and one that has no words stays as it is', async () => {
    const { sayWhole } = await readFor('de')
    expect(sayWhole('This car does not exist.')).toBe('Das gibt es hier nicht: Auto.')
    expect(sayWhole('Imke Valderan’s run was already started.')).toBe('Die Fahrt wurde schon begonnen: Imke Valderan.')
    expect(sayWhole('Only the lead may do this.')).toBe('Das darf nur die Leitung.')
    expect(sayWhole('Nobody has written this.')).toBe('Nobody has written this.')
  })

  it('is English where nothing was chosen, or nothing that is known', async () => {
    for (const chosen of [null, 'xx', 'en']) {
      const { say, staffLanguage } = await readFor(chosen)
      expect(staffLanguage).toBe('en')
      expect(say`Run list`).toBe('Run list')
      expect(say`${3} of ${9}`).toBe('3 of 9')
    }
  })

  it('is German once the school has chosen it, with a decimal comma for what is put in', async () => {
    const { say, sayWhole } = await readFor('de')
    expect(say`Run list`).toBe('Fahrplan')
    expect(say`${'0.25'} s after the cone`).toBe('0,25 s nach der Pylone')
    expect(say`Version ${'1.2.3'}`).toBe('Version 1.2.3')
    expect(sayWhole('The server cannot be reached.')).toBe('Der Server ist nicht erreichbar.')
  })

  it('stays English where the table has no words, and keeps what is put in', async () => {
    const { say, sayWhole } = await readFor('de')
    expect(say`Nobody wrote this: ${'0.5'}`).toBe('Nobody wrote this: 0.5')
    expect(sayWhole('Nobody wrote this.')).toBe('Nobody wrote this.')
  })

  it('fills its places in order, or by number where German turns them round', () => {
    expect(filled('{} von {}', ['1', '2'])).toBe('1 von 2')
    expect(filled('{1} vor {0}', ['a', 'b'])).toBe('b vor a')
    expect(filled('{}{}', ['{}', 'x'])).toBe('{}x')
    expect(filled('{}', [])).toBe('')
  })

  it('is kept on the device, and tells whether the page is to be read anew', async () => {
    const { keepStaffLanguage } = await readFor('de')
    expect(keepStaffLanguage('de')).toBe(false)
    expect(localStorage.setItem).not.toHaveBeenCalled()
    expect(keepStaffLanguage('en')).toBe(true)
    expect(localStorage.setItem).toHaveBeenCalledWith('ochote.language', 'en')
  })
})

describe('words of the core on the staff’s pages', () => {
  it('come in the staff’s language, nouns as German writes them', async () => {
    const en = await readFor(null)
    const de = await readFor('de')
    for (const code of Object.keys(mistakes) as MistakeCode[]) {
      expect(de.mistakeName(code)).not.toBe(en.mistakeName(code))
      expect(de.inside(de.mistakeName(code))).toBe(de.mistakeName(code))
      expect(en.inside(en.mistakeName(code))[0]).toBe(en.mistakeName(code)[0].toLowerCase())
    }
  })

  it('tell shares with their interval', async () => {
    const en = await readFor(null)
    expect(en.shareInWords(shareOf(8, 10))).toBe('8 of 10 (54 to 93%)')
    expect(en.countInWords(shareOf(0, 0))).toBe('not tried yet')
    const de = await readFor('de')
    expect(de.shareInWords(shareOf(8, 10))).toBe('8 von 10 (54 bis 93 %)')
  })

  it('tell what a vehicle can do, and that some never reach 100', async () => {
    const { vehicleInWords } = await readFor(null)
    const words = vehicleInWords(vehicleSummary({ ...vehicleTemplates.car, id: 'x' }))
    expect(words).toMatch(/^0–100 km\/h in \d+\.\d s, \d+ km\/h at most, 1\.00 g in corners, stops from 100 km\/h in \d+ m$/)
    const slow = { zeroTo100_s: null, topSpeed_mps: 25, stopFrom100_m: 0, corner_g: 1, brake_g: 1, lean_deg: 41.2 }
    expect(vehicleInWords(slow)).toBe('never reaches 100 km/h, 90 km/h at most, 1.00 g in corners, 41° of lean')
    const de = await readFor('de')
    expect(de.vehicleInWords(slow)).toBe('erreicht 100 km/h nie, höchstens 90 km/h, 1,00 g in Kurven, 41° Schräglage')
  })
})
