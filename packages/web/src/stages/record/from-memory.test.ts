import { type RecallMark, type RecallRound, shareOf } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { lastRoundInWords, memoryGapsInWords, metInWords } from '../../shared/memory-words.ts'
import { homeInWords } from './from-memory.tsx'

const mark = (cornerId: string, off_s: number | null): RecallMark => ({
  cornerId,
  action: 'brake',
  off_s,
  off_m: off_s === null ? null : 40 * off_s,
})
const round = (marks: RecallMark[], mode: RecallRound['mode'] = 'fading'): RecallRound => ({ id: '', at: '', mode, marks, lap_s: null })

describe('a lap driven from memory, told to the instructor', () => {
  it('says what was missed, by how much, and what was not known', () => {
    expect(metInWords(mark('T1', 0.42))).toBe('brake 0.4 s late, 17 m')
    expect(metInWords(mark('T1', -0.6))).toBe('brake 0.6 s early, 24 m')
    expect(metInWords(mark('T1', null))).toBe('brake not known')
    const rounds = [round([mark('T1', 0.9), mark('T3', null)]), round([mark('T1', 0)])]
    expect(memoryGapsInWords(rounds, (id) => ({ T3: 'Long Heron' })[id] ?? id)).toBe('Long Heron: brake not known')
    expect(lastRoundInWords(rounds)).toBe('1 of 1 known')
    expect(lastRoundInWords([round([mark('T1', 0)], 'closed')])).toBe('not driven')
  })

  it('says that training goes with fewer mistakes only where the interval allows no other, and never that it is the cause', () => {
    const compared = (trained: [number, number], others: [number, number], low: number, high: number) =>
      homeInWords({ trained: shareOf(...trained), others: shareOf(...others), difference: { by: (low + high) / 2, low, high } })
    expect(compared([95, 100], [40, 100], 0.45, 0.64)).toMatch(/45 to 64 points apart\. Fewer mistakes .*cannot be told\.$/)
    expect(compared([3, 4], [2, 6], -0.1, 0.7)).toMatch(/That may be chance\.$/)
    expect(compared([10, 50], [40, 50], -0.7, -0.4)).toMatch(/often it is the hard corners that are\.$/)
    expect(homeInWords({ trained: shareOf(0, 0), others: shareOf(1, 2), difference: null })).toMatch(/^Too little driven/)
  })
})
