import { describe, expect, it } from 'vitest'
import { channelNames, channels, logColumns, optionalColumns, unitsOf } from './channels.ts'

describe('channels of a log', () => {
  it('have one column each, and the first unit is the column’s own', () => {
    expect(new Set(logColumns).size).toBe(channelNames.length)
    for (const channel of channelNames) {
      const [own] = Object.entries(unitsOf(channel))
      expect(own[1], channel).toBe(1)
      const [min, max] = channels[channel].range
      expect(min).toBeLessThan(max)
    }
    expect(logColumns.filter((c) => !(optionalColumns as readonly string[]).includes(c))).toEqual(['time_s', 'lat_deg', 'lon_deg', 'ele_m'])
  })

  it('turn what files hold into their own units', () => {
    expect(60 * unitsOf('speed').mph).toBeCloseTo(26.8224, 6)
    expect(100 * unitsOf('brake').psi).toBeCloseTo(6.89476, 5)
    expect(Math.PI * unitsOf('steer').rad).toBeCloseTo(180, 9)
    expect(60 * unitsOf('lat')['arc min']).toBeCloseTo(1, 12)
  })
})
