import { describe, expect, it } from 'vitest'
import { likelyDay } from './day-context.tsx'

const day = (id: string, date: string, template = false) => ({
  id,
  date,
  template,
  title: id,
  venue: '',
  weather: '',
  circuitId: 'c',
  students: 0,
  cars: 0,
  runs: 0,
  driven: 0,
})

describe('the day one most likely works on', () => {
  const days = [day('next year', '2028-01-01'), day('today', '2027-05-15'), day('past', '2027-05-01'), day('old', '2026-05-01')]
  it('is today’s, else the next, else the last; never a template', () => {
    expect(likelyDay(days, '2027-05-15')?.id).toBe('today')
    expect(likelyDay(days, '2027-05-16')?.id).toBe('next year')
    expect(likelyDay(days, '2029-01-01')?.id).toBe('next year')
    expect(likelyDay([day('t', '2027-05-15', true), days[3]], '2027-05-15')?.id).toBe('old')
    expect(likelyDay([], '2027-05-15')).toBeUndefined()
  })
})
