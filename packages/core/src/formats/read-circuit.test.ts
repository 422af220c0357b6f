import { describe, expect, it } from 'vitest'
import { circleCsv, fixtureText } from '../../fixtures/load.ts'
import { buildCircuit } from '../circuit/build-circuit.ts'
import { CoreError, type ErrorCode } from '../errors/errors.ts'
import { readCircuit } from './read-circuit.ts'

const refusal = (text: string): CoreError => {
  try {
    readCircuit(text, 'x')
  } catch (error) {
    if (error instanceof CoreError) return error
    throw error
  }
  throw new Error('The file was accepted')
}

describe('a road that a file gives no width of', () => {
  it('is assumed ten metres wide, and known to be assumed until somebody says', () => {
    const file = fixtureText('ostrel-mere.gpx')
    const assumed = readCircuit(file, 'x')
    expect([assumed.widthLeft_m[3], assumed.widthRight_m[3], assumed.widthAssumed]).toEqual([5, 5, true])
    expect(buildCircuit(assumed).widthAssumed).toBe(true)
    expect(readCircuit(file, 'x', { reverse: true }).widthAssumed).toBe(true)
    const said = readCircuit(file, 'x', { width_m: 6 })
    expect([said.widthLeft_m[3], said.widthAssumed]).toEqual([6, undefined])
    expect(buildCircuit(readCircuit(fixtureText('ostrel-mere.geojson'), 'x')).widthAssumed).toBeUndefined()
  })
})

describe('circuit files', () => {
  it('bring widths and banks along where the form knows them', () => {
    const csv = readCircuit(fixtureText('ostrel-mere.csv'), 'csv')
    const geojson = readCircuit(fixtureText('ostrel-mere.geojson'), 'geojson')
    expect(geojson.widthLeft_m).toEqual(csv.widthLeft_m)
    for (let i = 0; i < csv.bank_rad.length; i++) expect(geojson.bank_rad[i]).toBeCloseTo(csv.bank_rad[i], 9)
    expect(geojson.origin).toEqual({ lat_deg: 47.1, lon_deg: -21.4 })
    expect(csv.origin).toBeUndefined()
  })

  it('take the given half width where the form knows none', () => {
    const survey = readCircuit(fixtureText('ostrel-mere.gpx'), 'gpx', { width_m: 6 })
    expect(new Set(survey.widthLeft_m)).toEqual(new Set([6]))
    expect(survey.bank_rad.every((b) => b === 0)).toBe(true)
  })

  it('may come with semicolons, a byte order mark and columns in any order', () => {
    const text = `\ufeff${circleCsv(60)
      .split('\n')
      .map((line) => line.split(',').reverse().join(';'))
      .join('\r\n')}`
    expect(readCircuit(text, 'x').x_m).toEqual(readCircuit(circleCsv(60), 'x').x_m)
  })

  it('ask which track, and take it by name or number', () => {
    const track = fixtureText('ostrel-mere.gpx').match(/<trk>[\s\S]*<\/trk>/)?.[0] ?? ''
    const two = fixtureText('ostrel-mere.gpx').replace(track, `<trk><name>Car park</name><trkseg/></trk>${track}`)
    expect(refusal(two).code).toBe('circuit-several-tracks')
    expect(readCircuit(two, 'x', { track: 'Ostrel Mere' }).x_m.length).toBeGreaterThan(600)
    expect(readCircuit(two, 'x', { track: '2' }).x_m.length).toBeGreaterThan(600)
  })

  const bad: [string, string, ErrorCode, string][] = [
    ['nothing', '', 'file-empty', 'file'],
    ['a header alone', 'x_m,y_m,width_left_m,width_right_m\n', 'file-empty', 'file'],
    ['a letter', 'Dear Sir,\nenclosed is the circuit.\n', 'columns-missing', 'row 1'],
    ['binary data', 'PK\u0003\u0004\u0000\u0000', 'file-unreadable', 'file'],
    ['a word in a number column', circleCsv(60).replace(/\n0,0,/, '\nzero,0,'), 'number-invalid', 'row 2'],
    ['broken JSON', '{"type":', 'file-unreadable', 'file'],
    ['other JSON', '{"name":"ochote"}', 'file-unreadable', 'file'],
    ['GeoJSON of a point', '{"type":"Feature","properties":{},"geometry":{"type":"Point","coordinates":[1,2]}}', 'file-unreadable', 'file'],
    ['broken XML', '<gpx><trk></gpx>', 'file-unreadable', 'file'],
    ['XML that is no GPX', '<html><body>no</body></html>', 'file-unreadable', 'file'],
    ['a latitude of 95°', fixtureText('ostrel-mere.gpx').replace('lat="47.099976830"', 'lat="95"'), 'number-invalid', 'point 2'],
  ]
  it.each(bad)('are refused when they hold %s', (_name, text, code, place) => {
    const error = refusal(text)
    expect(error.code).toBe(code)
    expect(error.place).toBe(place)
  })
})
