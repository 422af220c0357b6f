import { describe, expect, it } from 'vitest'
import { checkScheme, colourDifference, colourVisions, MIN_DIFFERENCE, sameViews } from './check-scheme.ts'
import type { Cone } from './placement.ts'
import { type ConeRule, type ConeScheme, coneColours, coneSchemes } from './scheme.ts'

const rule = (change: Partial<ConeRule> = {}): ConeRule => ({
  colour: 'yellow',
  shape: 'tall',
  count: 1,
  side: 'outside',
  beyondEdge_m: 0.4,
  ...change,
})
const scheme = (rules: ConeScheme['rules']): ConeScheme => ({ id: 'x', name: 'x', rules })

describe('how different colours look', () => {
  it('is 100 from black to white, nothing to itself, and the same both ways, to everybody', () => {
    for (const vision of colourVisions) {
      expect(colourDifference('#000000', '#ffffff', vision)).toBeCloseTo(100, 0)
      expect(colourDifference('#d9578a', '#d9578a', vision)).toBe(0)
      expect(colourDifference('#e2641b', '#3f8f4f', vision)).toBeCloseTo(colourDifference('#3f8f4f', '#e2641b', vision), 9)
    }
  })

  it('knows the usual confusions: red and green to protan and deutan, not to tritan', () => {
    const [red, green] = ['#b84a3a', '#6f7a2e']
    const seen = (vision: (typeof colourVisions)[number]): number => colourDifference(red, green, vision)
    expect(seen('usual')).toBeGreaterThan(50)
    expect(seen('deutan')).toBeLessThan(MIN_DIFFERENCE)
    expect(seen('tritan')).toBeGreaterThan(50)
    // Blue against yellow stays plain to both red-green deficiencies.
    for (const vision of ['protan', 'deutan'] as const)
      expect(colourDifference(coneColours.blue, coneColours.yellow, vision)).toBeGreaterThan(80)
  })
})

describe('checks of a scheme', () => {
  it.each(coneSchemes.map((s) => s.id))('find nothing wrong with the ready one %s', (id) => {
    const ready = coneSchemes.find((s) => s.id === id)
    expect(ready && checkScheme(ready)).toEqual([])
  })

  it('miss the cone for braking', () => {
    expect(checkScheme(scheme({ apex: rule() }))).toEqual([{ kind: 'no-brake-cone' }])
  })

  it('see two kinds that are the same cone', () => {
    expect(checkScheme(scheme({ brake: rule(), exit: rule() }))).toEqual([{ kind: 'alike', marks: ['brake', 'exit'] }])
    expect(checkScheme(scheme({ brake: rule(), exit: rule({ count: 2 }) }))).toEqual([])
    expect(checkScheme(scheme({ brake: rule(), exit: rule({ shape: 'disc' }) }))).toEqual([])
  })

  it('say to whom two colours look alike, with how little they differ', () => {
    const [problem] = checkScheme(scheme({ brake: rule({ colour: 'orange' }), 'turn-in': rule({ colour: 'green' }) }))
    if (problem?.kind !== 'colours-alike') throw new Error('Orange and green pass')
    expect(problem.visions).not.toContain('usual')
    expect(problem.visions).not.toContain('tritan')
    for (const vision of problem.visions)
      expect(colourDifference(coneColours.orange, coneColours.green, vision)).toBeGreaterThanOrEqual(problem.difference)
    expect(problem.difference).toBeLessThan(MIN_DIFFERENCE)
  })

  it('keep colours of pits and hazards free', () => {
    expect(checkScheme(scheme({ brake: rule({ colour: 'orange' }) }), ['orange'])).toEqual([
      { kind: 'reserved-colour', mark: 'brake', colour: 'orange' },
    ])
  })
})

describe('one view', () => {
  const cone = (kind: Cone['kind'], station_m: number, change: Partial<Cone> = {}): Cone => ({
    id: `${kind}${station_m}`,
    groupId: kind,
    cornerId: 'T1',
    kind,
    colour: 'orange',
    shape: 'tall',
    roadSide: 'left',
    station_m,
    offset_m: 7,
    x_m: 0,
    y_m: 0,
    computed: { station_m, offset_m: 7 },
    moved: [],
    ...change,
  })

  it('holds two meanings of one colour, nearest first, same shapes before others', () => {
    const views = sameViews([cone('brake', 100), cone('turn-in', 150), cone('apex', 155, { shape: 'disc' }), cone('exit', 400)], 1000)
    expect(views.map((v) => [v.kinds.join(' '), v.sameShape])).toEqual([
      ['brake turn-in', true],
      ['apex brake', false],
      ['apex turn-in', false],
    ])
    expect(views[0].places).toEqual([{ cornerId: 'T1', separation_m: 50 }])
  })

  it('reaches over the line, and passes by other colours and equal meanings', () => {
    expect(sameViews([cone('brake', 990), cone('turn-in', 20)], 1000)).toHaveLength(1)
    expect(sameViews([cone('brake', 100), cone('turn-in', 110, { colour: 'blue' }), cone('brake', 105)], 1000)).toEqual([])
  })
})
