import { describe, expect, it } from 'vitest'
import { night, onPicture, type Palette, paper } from './palette.ts'

const channel = (value: number): number => (value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4)
const luminance = (hex: string): number => {
  const [r, g, b] = [1, 3, 5].map((at) => channel(Number.parseInt(hex.slice(at, at + 2), 16) / 255))
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}
/** Contrast ratio of two colours (WCAG 2.2, definition of contrast ratio). */
const contrast = (a: string, b: string): number => {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x)
  return (light + 0.05) / (dark + 0.05)
}

const palettes: [string, Palette][] = [
  ['day', paper],
  ['night', night],
]

describe.each(palettes)('%s colours', (_name, c) => {
  it('are read in the sun: seven to one for text and for the touch targets of the knee tablet', () => {
    expect(contrast(c.ink, c.ground)).toBeGreaterThan(7)
    expect(contrast(c.ink, c.sheet)).toBeGreaterThan(7)
    expect(contrast(c.onAccent, c.accent)).toBeGreaterThan(7)
    expect(contrast(c.accent, c.ground)).toBeGreaterThan(7)
  })

  it('keep lesser text and warnings legible', () => {
    for (const colour of [c.quiet, c.warn, c.danger]) expect(contrast(colour, c.ground)).toBeGreaterThan(4.5)
    expect(contrast(c.quiet, c.verge)).toBeGreaterThan(4.5)
    expect(contrast(c.ink, c.accentWash)).toBeGreaterThan(7)
  })

  it('show the line on the road and the road on the ground', () => {
    expect(contrast(c.roadEdge, c.road)).toBeGreaterThan(4.5)
    for (const colour of [c.plannedOnRoad, c.drivenOnRoad]) expect(contrast(colour, c.road)).toBeGreaterThan(3)
    expect(contrast(c.road, c.ground)).toBeGreaterThan(1.8)
  })
})

describe('what is drawn on a photograph', () => {
  it('stands out by its rim where it does not by itself', () => {
    expect(contrast(onPicture.stroke, onPicture.rim)).toBeGreaterThan(7)
  })
})
