import { describe, expect, it } from 'vitest'
import { fixtureText } from '../../fixtures/load.ts'
import { buildCircuit } from '../circuit/build-circuit.ts'
import { type GroundItem, groundKinds } from '../circuit/ground.ts'
import type { Survey } from '../circuit/survey.ts'
import { writeCircuitCsv } from './circuit-csv.ts'
import { writeCircuitGpx, writeCircuitKml } from './circuit-kml.ts'
import { readGround, writeVenueGeoJson } from './ground-geojson.ts'
import { readCircuit } from './read-circuit.ts'

const survey = readCircuit(fixtureText('ostrel-mere.geojson'), 'Ostrel Mere')
const circuit = buildCircuit(survey)

const expectSame = (back: Survey, from: Survey, widths: boolean): void => {
  expect(back.x_m).toHaveLength(from.x_m.length)
  for (let i = 0; i < from.x_m.length; i++) {
    expect(Math.hypot(back.x_m[i] - from.x_m[i], back.y_m[i] - from.y_m[i], back.z_m[i] - from.z_m[i])).toBeLessThan(0.01)
    if (!widths) continue
    expect(Math.abs(back.widthLeft_m[i] - from.widthLeft_m[i])).toBeLessThan(0.01)
    expect(Math.abs(back.widthRight_m[i] - from.widthRight_m[i])).toBeLessThan(0.01)
    expect(Math.abs(back.bank_rad[i] - from.bank_rad[i])).toBeLessThan(1e-5)
  }
}

describe('circuits written and read back', () => {
  it('move by less than a centimetre in every form', () => {
    expectSame(readCircuit(writeCircuitCsv(survey), 'x'), survey, true)
    expectSame(readCircuit(writeVenueGeoJson(survey, circuit, []), 'x'), survey, true)
    expectSame(readCircuit(writeCircuitGpx(survey), 'x'), survey, false)
    expectSame(readCircuit(writeCircuitKml(survey), 'x'), survey, false)
    expect(readCircuit(writeCircuitKml({ ...survey, name: 'A & B <loop>' }), 'x').name).toBe('A & B <loop>')
  })

  it('need a place on Earth for the forms that have one', () => {
    const local = readCircuit(fixtureText('lobes.csv'), 'lobes')
    for (const write of [writeCircuitGpx, writeCircuitKml])
      expect(() => write(local)).toThrow(expect.objectContaining({ code: 'circuit-no-place' }))
    expectSame(readCircuit(writeCircuitCsv(local), 'x'), local, true)
  })

  it('lie across the date line as well as anywhere', () => {
    const moved = { ...survey, origin: { lat_deg: -44, lon_deg: 179.995 } }
    const text = writeCircuitGpx(moved)
    expect(text).toMatch(/lon="179\./)
    expect(text).toMatch(/lon="-179\./)
    expectSame(readCircuit(text, 'x'), { ...moved }, false)
  })

  it('turn round, and back again', () => {
    const text = writeCircuitCsv(survey)
    const turned = readCircuit(text, 'x', { reverse: true })
    expect(turned.widthLeft_m[1]).toBeCloseTo(survey.widthRight_m[survey.x_m.length - 1], 2)
    expectSame(readCircuit(writeCircuitCsv(turned), 'x', { reverse: true }), survey, true)
  })
})

describe('KML', () => {
  const line = (coordinates: string, name = 'Loop'): string =>
    `<Placemark><name>${name}</name><LineString><coordinates>${coordinates}</coordinates></LineString></Placemark>`
  const kml = (body: string): string =>
    `<?xml version="1.0"?><kml xmlns="http://www.opengis.net/kml/2.2"><Document><Folder>${body}</Folder></Document></kml>`

  it('asks which line where there are several, and finds it in folders', () => {
    const two = kml(line('-21.4,47.1,0 -21.39,47.1,0', 'Car park') + line('-21.4,47.1,0 -21.39,47.1,0 -21.39,47.11,0', 'Track'))
    expect(() => readCircuit(two, 'x')).toThrow(
      expect.objectContaining({ code: 'circuit-several-tracks', data: { count: 2, names: 'Car park, Track' } }),
    )
    expect(readCircuit(two, 'x', { track: 'Track' }).x_m).toHaveLength(3)
    expect(readCircuit(two, 'x', { track: '1' }).x_m).toHaveLength(2)
  })

  it('names the point that is none', () => {
    expect(() => readCircuit(kml(line('-21.4,47.1 -21.39,north')), 'x')).toThrow(
      expect.objectContaining({ code: 'number-invalid', place: 'point 2' }),
    )
    expect(() => readCircuit(kml(''), 'x')).toThrow(expect.objectContaining({ code: 'file-unreadable' }))
  })
})

describe('ground in GeoJSON', () => {
  const items: GroundItem[] = groundKinds.map((kind, k) => ({
    id: `g${k}`,
    kind,
    name: `A ${kind}`,
    side: k % 3 === 0 ? 'left' : k % 3 === 1 ? 'right' : 'both',
    from_m: 100 + 170 * k,
    to_m: 100 + 170 * k + (k % 2) * 60,
    ...(kind === 'forbidden' || kind === 'lane' ? { near_m: 0.5, far_m: 3 } : {}),
    ...(kind === 'run-off' ? { runOff: { surface: 'gravel' as const, length_m: 30 } } : {}),
    ...(kind === 'reference' ? { reference: 'seam' as const } : {}),
  }))

  it('comes back where it was, over the start line too', () => {
    const back = readGround(writeVenueGeoJson(survey, circuit, items), circuit)
    expect(back).toHaveLength(items.length)
    back.forEach((item, k) => {
      const { from_m, to_m, ...rest } = items[k]
      expect(item).toMatchObject(rest)
      const apart = (a: number, b: number): number => Math.abs(((a - b + 1.5 * circuit.length_m) % circuit.length_m) - circuit.length_m / 2)
      expect(apart(item.from_m, from_m)).toBeLessThan(0.05)
      expect(apart(item.to_m, to_m)).toBeLessThan(0.05)
    })
  })

  it('is not in other forms, and is refused where it cannot be understood', () => {
    expect(readGround(writeCircuitCsv(survey), circuit)).toEqual([])
    const broken = writeVenueGeoJson(survey, circuit, items).replace('"seam"', '"chalk"')
    expect(() => readGround(broken, circuit)).toThrow(expect.objectContaining({ code: 'file-unreadable', place: 'feature 16' }))
  })
})
