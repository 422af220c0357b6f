import { describe, expect, it } from 'vitest'
import { degrees, feet, kmh, mph, radians } from './convert.ts'
import { formatDate, formatDifference, formatDistance, formatLapTime, formatSpeed } from './format.ts'

describe('numbers in words', () => {
  it('writes lap times as m:ss.mmm and carries over at the minute', () => {
    expect(formatLapTime(91.2345)).toBe('1:31.235')
    expect(formatLapTime(59.9996)).toBe('1:00.000')
    expect(formatLapTime(7.5)).toBe('0:07.500')
    expect(formatLapTime(119.96, 1)).toBe('2:00.0')
    expect(formatLapTime(123.2, 0)).toBe('2:03')
    expect(formatLapTime(Number.NaN)).toBe('–')
  })

  it('gives differences a sign, and none to zero', () => {
    expect(formatDifference(0.123)).toBe('+0.12 s')
    expect(formatDifference(-0.3)).toBe('−0.30 s')
    expect(formatDifference(-0.001)).toBe('±0.00 s')
  })

  it('writes speeds and distances whole, in either system', () => {
    expect(formatSpeed(27.8, 'metric')).toBe('100 km/h')
    expect(formatSpeed(44.704, 'imperial')).toBe('100 mph')
    expect(formatDistance(12.6, 'metric')).toBe('13 m')
    expect(formatDistance(30.48, 'imperial')).toBe('100 ft')
  })

  it('converts by the definitions of the units', () => {
    expect(kmh(10)).toBe(36)
    expect(mph(0.44704)).toBeCloseTo(1, 12)
    expect(feet(0.3048)).toBeCloseTo(1, 12)
    expect(degrees(radians(73))).toBeCloseTo(73, 12)
  })
})

describe('a date', () => {
  it('is written as the reader’s language has it, whatever the time zone of the machine', () => {
    expect(formatDate('2027-05-15')).toBe('15 May 2027')
    expect(formatDate('2027-05-01', 'de')).toBe('1. Mai 2027')
    expect(formatDate('2028-02-29', 'en')).toBe('29 Feb 2028')
  })

  it('comes back as it is where it is none', () => {
    expect(formatDate('')).toBe('')
    expect(formatDate('tomorrow', 'de')).toBe('tomorrow')
  })
})
