import { readFileSync } from 'node:fs'
import { CoreError, readLogText } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { parseCircuitFile, parseLog } from './index.ts'

const head = 'time_s,lat_deg,lon_deg,ele_m,speed_mps'
const fixture = (file: string): string => readFileSync(new URL(`../../core/fixtures/${file}`, import.meta.url), 'utf8')

describe('files held against their schemas', () => {
  it('bring a circuit through as the core reads it', () => {
    const survey = parseCircuitFile(fixture('lobes.csv'), 'lobes')
    expect(survey.x_m).toHaveLength(439)
    expect(survey.name).toBe('lobes')
    expect(parseCircuitFile(fixture('ostrel-mere.gpx'), 'x', { width_m: 7 }).widthLeft_m[0]).toBe(7)
  })

  it('refuse a circuit that is none', () => {
    expect(() => parseCircuitFile('nothing here', 'x')).toThrow(CoreError)
  })

  it('bring a log through, with channels that are there and without those that are not', () => {
    const log = parseLog(readLogText([head, '0,47.1,-21.4,1,30', '0.1,47.1001,-21.4,1,31'].join('\n')))
    expect(log.speed_mps).toEqual(Float64Array.from([30, 31]))
    expect(log.brake_bar).toBeUndefined()
  })

  it('refuse a log off the globe with its row, and circuits with endless numbers in words', () => {
    const endless = ['x_m,y_m,width_left_m,width_right_m', '0,0,5,5', '1e999,0,5,5'].join('\n')
    expect(() => parseCircuitFile(endless, 'x')).toThrow(CoreError)
    expect(() => parseLog(readLogText([head, '0,47.1,-21.4,1,30', '1,147.1,-21.4,1,30'].join('\n')))).toThrow(
      expect.objectContaining({ place: 'row 3' }),
    )
  })
})
