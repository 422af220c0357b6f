import { describe, expect, it } from 'vitest'
import { circleCsv, fixtureText } from '../../fixtures/load.ts'
import { buildCircuit } from '../circuit/build-circuit.ts'
import { CoreError, type ErrorCode } from '../errors/errors.ts'
import { readCircuit } from './read-circuit.ts'
import { decodeText } from './text-encoding.ts'

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

/** Points of the same road far in the east, where a longitude is no latitude. */
const eastern: number[][] = (
  JSON.parse(fixtureText('ostrel-mere.geojson')) as { features: { geometry: { coordinates: number[][] } }[] }
).features[0].geometry.coordinates.map(([lon, lat, z]) => [lon + 160, lat, z])

describe('forms in which people have circuits', () => {
  const csv = fixtureText('ostrel-mere.csv')
  const [header, ...rows] = csv.trim().split('\n')
  const lines = (...list: string[]): string => `${list.join('\n')}\n`
  const known = readCircuit(csv, 'x')
  const collection = JSON.parse(fixtureText('ostrel-mere.geojson')) as { features: { geometry: { coordinates: number[][] } }[] }
  const [road] = collection.features
  const { coordinates } = road.geometry
  const middle = coordinates.length >> 1
  const site = {
    type: 'Feature',
    properties: { name: 'site' },
    geometry: {
      type: 'Polygon',
      coordinates: [
        [
          [-21.5, 47],
          [-21.3, 47],
          [-21.3, 47.2],
          [-21.5, 47],
        ],
      ],
    },
  }
  const gpx = fixtureText('ostrel-mere.gpx')

  const alike: [string, string][] = [
    ['a table whose last row repeats the first', lines(header, ...rows, rows[0])],
    ['semicolons and decimal commas', csv.replaceAll(',', ';').replaceAll('.', ',')],
    ['a header in capitals below comments', lines('# surveyed on foot', '// by hand', header.toUpperCase(), ...rows)],
    ['a header that is a comment', lines('# surveyed on foot', `# ${header}`, ...rows)],
    ['blanks and brackets in the header', lines('X (m), Y (m), Z (m), Width left [m], Width right [m], Bank (deg)', ...rows)],
  ]
  it.each(alike)('%s: the same survey', (_, text) => {
    const read = readCircuit(text, 'x')
    expect(read.x_m).toEqual(known.x_m)
    expect(read.widthLeft_m).toEqual(known.widthLeft_m)
    expect(read.bank_rad).toEqual(known.bank_rad)
  })

  const placed: [string, string][] = [
    ['an area before the line', JSON.stringify({ type: 'FeatureCollection', features: [site, road] })],
    ['a bare geometry', JSON.stringify({ type: 'LineString', coordinates })],
    [
      'a collection of geometries',
      JSON.stringify({ type: 'GeometryCollection', geometries: [site.geometry, { type: 'LineString', coordinates }] }),
    ],
    [
      'a line in parts',
      JSON.stringify({
        type: 'Feature',
        properties: null,
        geometry: { type: 'MultiLineString', coordinates: [coordinates.slice(0, middle + 1), coordinates.slice(middle)] },
      }),
    ],
    [
      'points one by one',
      JSON.stringify({
        type: 'FeatureCollection',
        features: coordinates.map((c) => ({ type: 'Feature', properties: {}, geometry: { type: 'Point', coordinates: c } })),
      }),
    ],
    [
      'a route',
      gpx
        .replaceAll('trkpt', 'rtept')
        .replaceAll(/<\/?trkseg>/g, '')
        .replaceAll('trk>', 'rte>'),
    ],
    ['latitudes and longitudes in a table', lines('Latitude;Longitude', ...coordinates.map(([lon, lat]) => `${lat};${lon}`))],
  ]
  it.each(placed)('%s: the same road', (_, text) => {
    const read = readCircuit(text, 'x')
    expect(read.x_m.length).toBe(known.x_m.length)
    for (let i = 0; i < known.x_m.length; i += 7)
      expect(Math.hypot(read.x_m[i] - known.x_m[i], read.y_m[i] - known.y_m[i])).toBeLessThan(0.02)
    expect(read.origin?.lat_deg).toBeCloseTo(47.1, 6)
  })

  it('widths and bank out of the data of a KML file, numbers or lists', () => {
    const list = (values: Float64Array): string => `(${values.length}:${Array.from(values).join(',')})`
    const kml = (left: string) =>
      `<kml><Document><Placemark><name>Ostrel Mere</name><ExtendedData><SchemaData><SimpleData name="width_left_m">${left}</SimpleData><SimpleData name="width_right_m">6</SimpleData></SchemaData></ExtendedData><LineString><coordinates>${coordinates.map((c) => c.join(',')).join(' ')}</coordinates></LineString></Placemark></Document></kml>`
    const read = readCircuit(kml(list(known.widthLeft_m)), 'x')
    expect(read.widthLeft_m).toEqual(known.widthLeft_m)
    expect([read.widthRight_m[9], read.widthAssumed]).toEqual([6, undefined])
    expect(readCircuit(kml('no idea'), 'x').widthAssumed).toBe(true)
  })

  it('swapped coordinates, once somebody says so', () => {
    const swapped = JSON.stringify({ type: 'LineString', coordinates: eastern.map(([lon, lat]) => [lat, lon]) })
    const read = readCircuit(swapped, 'x', { swapped: true })
    expect(read.x_m).toEqual(readCircuit(JSON.stringify({ type: 'LineString', coordinates: eastern.map((c) => c.slice(0, 2)) }), 'x').x_m)
  })

  it('a whole width, halved; a missing one, assumed', () => {
    const read = readCircuit('x,y,width\n0,0,9\n10,0,9\n', 'x')
    expect([...read.widthLeft_m, read.widthAssumed]).toEqual([4.5, 4.5, undefined])
    expect(readCircuit('x,y\n0,0\n10,0\n', 'x').widthAssumed).toBe(true)
  })

  it('whatever the encoding', () => {
    const utf16 = (text: string, big: boolean): Uint8Array =>
      Uint8Array.from(
        [...text].flatMap((c) => (big ? [c.charCodeAt(0) >> 8, c.charCodeAt(0) & 255] : [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8])),
      )
    const text = `${csv.slice(0, 4000)}é`
    for (const bytes of [
      utf16(text, false),
      utf16(text, true),
      utf16(`\ufeff${text}`, false),
      utf16(`\ufeff${text}`, true),
      new TextEncoder().encode(`\ufeff${text}`),
    ])
      expect(decodeText(bytes)).toBe(text)
    expect(decodeText(Uint8Array.of(0x78, 0xe9, 0x79))).toBe('xéy')
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
    const two = fixtureText('ostrel-mere.gpx').replace(
      track,
      `<trk><name>Car park</name><trkseg><trkpt lat="47" lon="-21"/></trkseg></trk>${track}`,
    )
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
    ['GeoJSON of nothing', '{"type":"FeatureCollection","features":[]}', 'file-unreadable', 'file'],
    ['GeoJSON of words', '{"type":"LineString","coordinates":[["a","b"]]}', 'file-unreadable', 'file'],
    ['XML with a type definition', '<?xml version="1.0"?><!DOCTYPE gpx [<!ENTITY a "b">]><gpx/>', 'file-unreadable', 'file'],
    [
      'swapped coordinates',
      JSON.stringify({ type: 'LineString', coordinates: eastern.map(([lon, lat]) => [lat, lon]) }),
      'circuit-swapped',
      'point 1',
    ],
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
