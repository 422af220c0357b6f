import { readFileSync } from 'node:fs'

import { describe, expect, it } from 'vitest'
import { CoreError } from '../errors/errors.ts'
import { logOf } from './log-file.ts'
import { readLogText } from './log-reader.ts'
import { readCircuit } from './read-circuit.ts'

const head = 'time_s,lat_deg,lon_deg,ele_m,speed_mps'
const fixture = (file: string): string => readFileSync(new URL(`../../fixtures/${file}`, import.meta.url), 'utf8')

describe('files that are read', () => {
  it('bring a circuit through as the core reads it', () => {
    const survey = readCircuit(fixture('lobes.csv'), 'lobes')
    expect(survey.x_m).toHaveLength(439)
    expect(survey.name).toBe('lobes')
    expect(readCircuit(fixture('ostrel-mere.gpx'), 'x', { width_m: 7 }).widthLeft_m[0]).toBe(7)
  })

  it('refuse a circuit that is none', () => {
    expect(() => readCircuit('nothing here', 'x')).toThrow(CoreError)
  })

  it('bring a log through, with channels that are there and without those that are not', () => {
    const log = logOf(readLogText([head, '0,47.1,-21.4,1,30', '0.1,47.1001,-21.4,1,31'].join('\n')))
    expect(log.speed_mps).toEqual(Float64Array.from([30, 31]))
    expect(log.brake_bar).toBeUndefined()
  })

  it('refuse a log off the globe with its row, and circuits with endless numbers in words', () => {
    const endless = ['x_m,y_m,width_left_m,width_right_m', '0,0,5,5', '1e999,0,5,5'].join('\n')
    expect(() => readCircuit(endless, 'x')).toThrow(CoreError)
    expect(() => logOf(readLogText([head, '0,47.1,-21.4,1,30', '1,147.1,-21.4,1,30'].join('\n')))).toThrow(
      expect.objectContaining({ place: 'row 3' }),
    )
  })
})
