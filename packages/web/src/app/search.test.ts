import { describe, expect, it } from 'vitest'
import { type Found, matching } from './search.tsx'

const found = (group: string, name: string, also = ''): Found => ({ id: `${group} ${name}`, group, name, also, to: '/' })
const all: readonly Found[] = [
  found('People', 'Zoë Halvorsen-Ashe'),
  found('People', 'Imke Valderan', 'put away'),
  found('Days', '15 May 2027, Sandpiper day', 'Ostrel Mere'),
  found('Corners', 'Boathouse', 'T1'),
  found('Pages and settings', 'Network and tablets', 'https certificate qr phone address'),
]
const names = (text: string): string[] => matching(all, text).map((f) => f.name)

describe('a search', () => {
  it('finds a name without its accents, hyphens and capitals', () => {
    expect(names('zoe')).toEqual(['Zoë Halvorsen-Ashe'])
    expect(names('HALVORSEN ashe')).toEqual(['Zoë Halvorsen-Ashe'])
  })

  it('needs every word, in any order, of the name or of what stands beside it', () => {
    expect(names('mere sandpiper')).toEqual(['15 May 2027, Sandpiper day'])
    expect(names('mere heron')).toEqual([])
    expect(names('t1')).toEqual(['Boathouse'])
  })

  it('finds a page by what one would call it', () => {
    expect(names('certificate')).toEqual(['Network and tablets'])
    expect(names('phone qr')).toEqual(['Network and tablets'])
  })

  it('shows everything for nothing, but no more than eight of one kind, so that none hides the others', () => {
    expect(matching(all, '  ')).toHaveLength(all.length)
    const many = [...Array.from({ length: 60 }, (_, k) => found('Runs', `Imke Valderan, run ${k + 1}`)), ...all]
    const shown = matching(many, 'imke')
    expect(shown.filter((f) => f.group === 'Runs')).toHaveLength(8)
    expect(shown.filter((f) => f.group === 'People')).toHaveLength(1)
  })
})
