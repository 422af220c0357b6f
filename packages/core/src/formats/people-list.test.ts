import { describe, expect, it } from 'vitest'
import { nameKey, peopleOf, readPeopleList } from './people-list.ts'

const read = (text: string) => {
  const list = readPeopleList(text)
  return peopleOf(list, list.guess)
}

describe('a pasted list of people', () => {
  it('may be names alone, one a line', () => {
    expect(read('Imke Valderan\nRashid Okonjo\n\n  Tove  Lindqvast \n').map((p) => p.name)).toEqual([
      'Imke Valderan',
      'Rashid Okonjo',
      'Tove Lindqvast',
    ])
  })

  it('comes from a spreadsheet by tabs, with a header in either language', () => {
    const [imke, rashid] = read(
      'Vorname\tNachname\tStufe\tSprache\tAuto\nImke\tValderan\tAnfänger\tDeutsch\tRoadster\nRashid\tOkonjo\tsteady\tEnglish\t',
    )
    expect(imke).toMatchObject({ name: 'Imke Valderan', level: 'first-day', language: 'de', car: 'Roadster', unknown: [] })
    expect(rashid).toMatchObject({ name: 'Rashid Okonjo', level: 'steady', language: 'en', car: '' })
  })

  it('comes as CSV with semicolons, quotes and a byte order mark', () => {
    const [one] = read('\ufeffName;Level;Units;Talk\n"Valderan, Imke";2;mph;little talk\n')
    expect(one).toMatchObject({ name: 'Valderan, Imke', level: 'building', units: 'imperial', talk: 'quiet' })
  })

  it('tells what it did not understand, and leaves out rows without a name', () => {
    const people = read('Name,Level\nImke Valderan,purple\n,steady\n')
    expect(people).toHaveLength(1)
    expect(people[0].level).toBeUndefined()
    expect(people[0].unknown).toEqual([{ field: 'level', text: 'purple' }])
  })

  it('can be mapped by hand', () => {
    const list = readPeopleList('17,Imke Valderan,x\n18,Rashid Okonjo,y')
    expect(list).toMatchObject({ columns: ['Column 1', 'Column 2', 'Column 3'], guess: ['name', null, null] })
    expect(peopleOf(list, [null, 'name', null]).map((p) => p.name)).toEqual(['Imke Valderan', 'Rashid Okonjo'])
  })

  it('is refused when it is empty', () => {
    expect(() => readPeopleList('  \n ')).toThrow('file-empty')
  })
})

describe('names that may be one person', () => {
  it('differ in capitals, accents, order or blanks only', () => {
    const key = nameKey('Imke Valderan')
    for (const name of ['imke  VALDERAN', 'Valderan, Imke', 'Ímke Válderan']) expect(nameKey(name)).toBe(key)
    expect(nameKey('Imke Valderman')).not.toBe(key)
  })
})
