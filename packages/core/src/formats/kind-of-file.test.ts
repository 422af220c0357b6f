import { describe, expect, it } from 'vitest'
import { CoreError } from '../errors/errors.ts'
import { describeError } from '../words/index.ts'
import { kindOfFile, misplaced } from './kind-of-file.ts'

describe('the kind of a file', () => {
  it.each([
    ['[{"id":"a","name":"A","mass_kg":1200}]', 'vehicle'],
    ['{"form":"ochote-day-1","day":{}}', 'day'],
    ['{"form":"ochote-school-1"}', 'school'],
    ['{"record":{"student":{"id":"x"}}}', 'student'],
    ['\ufeff{"type": "FeatureCollection"', 'circuit'],
    ['<?xml version="1.0"?><gpx version="1.1">', 'circuit'],
    ['time_s,speed_mps,lat_deg,lon_deg\n0,1,2,3', 'log'],
    ['$GPRMC,101112,A,4706.0,N', 'log'],
    ['x_m,y_m,width_left_m\n', 'circuit'],
    ['Name;Level;Language\nImke Valderan;first day;de', 'people'],
    ['\u0089PNG\r\n\u001a', 'picture'],
    ['\u00ff\u00d8\u00ff\u00e0\u0000\u0010JFIF', 'picture'],
    ['%PDF-1.7', 'document'],
    ['PK\u0003\u0004\u0014', 'archive'],
    ['\u0000\u0000\u0000 ftypisom', 'video'],
    ['Dear Sir,\nhere is the circuit.', null],
    ['', null],
  ])('shows at its beginning: %j', (head, kind) => {
    expect(kindOfFile(head)).toBe(kind)
  })
})

describe('a file in the wrong place', () => {
  it('is named, with the place where it belongs', () => {
    const error = misplaced(new CoreError('columns-missing', 'row 1'), '[{"mass_kg":1200}]', 'circuit')
    expect(error).toMatchObject({ code: 'file-of-other-kind', data: { is: 'vehicle', wanted: 'circuit' } })
    const words = describeError(error as CoreError)
    expect(words.message).toBe('This is not a circuit file, but a vehicle file.')
    expect(words.remedy).toContain('under Circuit, Vehicles')
  })

  it('keeps its own error where the kind is right, unknown, or the error another one', () => {
    const missing = new CoreError('columns-missing', 'row 1')
    expect(misplaced(missing, 'x_m,y_m\n', 'circuit')).toBe(missing)
    expect(misplaced(missing, 'Dear Sir,', 'circuit')).toBe(missing)
    const open = new CoreError('circuit-open', 'point 9')
    expect(misplaced(open, '[{"mass_kg":1200}]', 'circuit')).toBe(open)
    const range = new RangeError('no')
    expect(misplaced(range, '', 'log')).toBe(range)
  })
})
