import { describe, expect, it } from 'vitest'
import { likelyDay } from './likely-day.ts'

const day = (id: string, date: string, change: Partial<{ template: boolean; runs: number; driven: number }> = {}) => ({
  id,
  date,
  template: false,
  runs: 4,
  driven: 0,
  ...change,
})
const likely = (days: ReturnType<typeof day>[], today: string): string | undefined => likelyDay(days, today)?.id

describe('the day one most likely works on', () => {
  const days = [
    day('next year', '2028-01-01'),
    day('today', '2027-05-15'),
    day('past', '2027-05-01', { driven: 4 }),
    day('old', '2026-05-01'),
  ]
  it('is today’s, else the next, else the last; never a template', () => {
    expect(likely(days, '2027-05-15')).toBe('today')
    expect(likely(days, '2027-05-16')).toBe('next year')
    expect(likely(days, '2029-01-01')).toBe('next year')
    expect(likely([day('t', '2027-05-15', { template: true }), days[3]], '2027-05-15')).toBe('old')
    expect(likely([], '2027-05-15')).toBeUndefined()
  })

  it('is one with something left to drive, where there is a choice', () => {
    expect(likely([day('done', '2027-04-01', { runs: 0, driven: 9 }), days[1]], '2027-01-01')).toBe('today')
    const two = [day('morning', '2027-05-15', { driven: 4 }), day('other venue', '2027-05-15', { driven: 1 })]
    expect(likely(two, '2027-05-15')).toBe('other venue')
  })
})
