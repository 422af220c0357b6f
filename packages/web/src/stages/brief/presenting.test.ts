import { describe, expect, it } from 'vitest'
import { turned } from './presenting.ts'
import { latenessInWords } from './rehearse-page.tsx'

describe('turning pages', () => {
  it('goes on and back with any of the usual keys, and stops at both ends', () => {
    for (const key of ['ArrowRight', 'ArrowDown', 'PageDown', ' ']) expect(turned(key, 3, 9)).toBe(4)
    for (const key of ['ArrowLeft', 'ArrowUp', 'PageUp']) expect(turned(key, 3, 9)).toBe(2)
    expect(turned('ArrowRight', 9, 9)).toBe(9)
    expect(turned('ArrowLeft', 1, 9)).toBe(1)
    expect([turned('Home', 5, 9), turned('End', 5, 9)]).toEqual([1, 9])
    expect(turned('x', 5, 9)).toBeNull()
  })
})

describe('how a call was timed', () => {
  it('is told in tenths, early or late', () => {
    expect(latenessInWords(0.31)).toBe('0.3 s late')
    expect(latenessInWords(-1.04)).toBe('1.0 s early')
    expect(latenessInWords(0.04)).toBe('on time')
    expect(latenessInWords(null)).toBe('not called')
  })
})
