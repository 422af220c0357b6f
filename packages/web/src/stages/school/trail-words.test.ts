import { describe, expect, it } from 'vitest'
import { callInWords, trailCalls } from './trail-words.ts'

describe('lines of the trail', () => {
  it('have words for every call that writes one', () => {
    expect(trailCalls.length).toBeGreaterThan(40)
    expect(trailCalls.filter((call) => callInWords(call) === call)).toEqual([])
  })
})
