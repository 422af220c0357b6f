import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { edges, sizeOf, spaces, steps, targets, type } from './scale.ts'

const SOURCE = join(import.meta.dirname, '..')
/** Screens and parts of them; the look itself holds the numbers. */
const screens = readdirSync(SOURCE, { recursive: true, encoding: 'utf8' }).filter(
  (file) => /\.tsx?$/.test(file) && !file.startsWith('look/') && !file.includes('.test.'),
)
const SPACE = '(?:gap|rowGap|columnGap|m|mt|mb|ml|mr|mx|my|p|pt|pb|pl|pr|px|py)'

/** Numbers where a step has a name: what they look like, and what they are. */
const literals: readonly (readonly [string, RegExp])[] = [
  ['a size of type', /fontSize: ?['"]?[0-9.]/g],
  ['a size of type in a drawing', /fontSize=["{]\d/g],
  ['a colour', /#[0-9a-fA-F]{6}\b/g],
  ['an edge', /\d+px (?:solid|dashed|dotted)/g],
  ['a space between steps', new RegExp(`(?<![\\w_'.])${SPACE}: -?\\d+\\.\\d`, 'g')],
  ['a space beyond the steps', new RegExp(`(?<![\\w_'.])${SPACE}: -?(?:[89]|\\d{2,})[,\\s}]`, 'g')],
  ['a space in pixels', new RegExp(`(?<![\\w_'.])${SPACE}: '-?[0-9.]+(?:px|rem|em)'`, 'g')],
]

describe('screens', () => {
  it('are many', () => expect(screens.length).toBeGreaterThan(150))

  it.each(literals)('name a step where there is one: never %s', (_what, pattern) => {
    const found = screens.flatMap((file) =>
      readFileSync(join(SOURCE, file), 'utf8')
        .split('\n')
        .flatMap((line, i) => (line.match(pattern) ? [`${file}:${i + 1} ${line.trim()}`] : [])),
    )
    expect(found).toEqual([])
  })
})

describe('the scales', () => {
  it('rise from step to step, and never fall under what their distance can read', () => {
    const least = { desk: 12, knee: 20, projector: 28, phone: 14, paper: 7 } as const
    for (const [distance, scale] of Object.entries(type)) {
      const sizes = steps.map((step) => scale[step][0])
      expect([...sizes].sort((a, b) => a - b)).toEqual(sizes)
      expect(sizes[0]).toBeGreaterThanOrEqual(least[distance as keyof typeof least])
      for (const step of steps) expect(scale[step][1]).toBeGreaterThan(scale[step][0])
    }
  })

  it('are told in the reader’s own size of text, on paper in points', () => {
    expect(sizeOf('desk', 'lead')).toBe('1rem')
    expect(sizeOf('knee', 'note')).toBe('1.25rem')
    expect(sizeOf('paper', 'text')).toBe('9pt')
  })

  it('have seven spaces, and targets for a finger and for a glove', () => {
    expect(spaces.slice(1)).toEqual([4, 8, 12, 16, 24, 32, 48])
    expect(targets.desk.row).toBeGreaterThanOrEqual(24)
    expect(targets.phone.usual).toBeGreaterThanOrEqual(48)
    expect(targets.knee.usual).toBeGreaterThanOrEqual(72)
    expect(edges.chosen).toBeGreaterThan(edges.focus)
  })
})
