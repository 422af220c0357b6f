import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { CoreError } from '../errors/errors.ts'
import { describedCodes, describeError } from './error-words.ts'

describe('words for errors', () => {
  it('exist for exactly the codes that exist', () => {
    const source = readFileSync(new URL('../errors/errors.ts', import.meta.url), 'utf8')
    const union = source.slice(source.indexOf('ErrorCode ='), source.indexOf('/** What a code'))
    const codes = [...union.matchAll(/'([a-z-]+)'/g)].map((m) => m[1])
    expect([...describedCodes].sort()).toEqual(codes.sort())
  })

  it('name place, finding and remedy', () => {
    const words = describeError(new CoreError('circuit-width', 'point 7', { side: 'left', width_m: 0, min_m: 1, max_m: 60 }))
    expect(words.place).toBe('point 7')
    expect(words.message).toBe('The road is 0 m wide on its left side.')
    expect(words.remedy).toContain('from 1 to 60 m')
  })
})
