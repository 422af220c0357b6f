import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ReceivedFix } from '../log/received-fix.ts'
import { readJsonLine, writeJsonLine } from './json-lines.ts'
import { nmeaChecksum, nmeaReader, writeNmea } from './nmea.ts'

const today_s = Date.UTC(2027, 4, 15, 9, 0, 0) / 1000
const sentence = (body: string): string => `$${body}*${nmeaChecksum(body)}`

describe('NMEA 0183', () => {
  it('is checked by the exclusive or of its characters', () => {
    // By hand: G ^ P = 0x17, and so on for a body short enough to follow.
    expect(nmeaChecksum('GP')).toBe('17')
    expect(nmeaChecksum('AA')).toBe('00')
    const read = nmeaReader()
    const good = sentence('GPRMC,094100.00,A,0030.000,N,00015.000,W,10.0,,150527,,,A')
    expect(read(good, today_s).kind).toBe('fix')
    expect(read(good.replace('10.0', '10.1'), today_s).kind).toBe('checksum')
  })

  it('reads place, moment and speed of RMC in their units', () => {
    const line = nmeaReader()(sentence('GNRMC,094100.25,A,0030.000,N,00015.000,W,10.0,,150527,,,A'), today_s)
    expect(line).toMatchObject({ kind: 'fix', fix: { lat_deg: 0.5, lon_deg: -0.25 } })
    if (line.kind !== 'fix') throw new Error('no fix')
    expect(line.fix.time_s).toBeCloseTo(today_s + 41 * 60 + 0.25, 6)
    expect(line.fix.speed_mps).toBeCloseTo(5.14444, 4)
  })

  it('takes the height from GGA, and nothing from a receiver without a position', () => {
    const read = nmeaReader()
    expect(read(sentence('GPGGA,094100.00,0030.000,N,00015.000,E,1,08,0.9,12.5,M,0,M,,'), today_s).kind).toBe('part')
    expect(read(sentence('GPRMC,094100.00,A,0030.000,N,00015.000,E,10.0,,150527,,,A'), today_s)).toMatchObject({ fix: { ele_m: 12.5 } })
    expect(read(sentence('GPRMC,094101.00,V,,,,,,,150527,,,N'), today_s).kind).toBe('part')
  })

  it('of a receiver without RMC gives a position with GGA and VTG, on the right side of midnight', () => {
    const read = nmeaReader()
    read(sentence('GPGGA,235959.80,0030.000,N,00015.000,E,1,08,0.9,12.5,M,0,M,,'), today_s)
    expect(read(sentence('GPVTG,,T,,M,20.0,N,37.0,K,A'), today_s).kind).toBe('part')
    read(sentence('GPGGA,235959.90,0030.000,N,00015.000,E,1,08,0.9,12.5,M,0,M,,'), today_s)
    const line = read(sentence('GPVTG,,T,,M,20.0,N,37.0,K,A'), Date.UTC(2027, 4, 16, 0, 0, 1) / 1000)
    if (line.kind !== 'fix') throw new Error('no fix')
    expect(new Date(line.fix.time_s * 1000).toISOString()).toBe('2027-05-15T23:59:59.900Z')
    expect(line.fix.speed_mps).toBeCloseTo(10.28888, 4)
  })

  it('tells what it does not know from what cannot be read', () => {
    const read = nmeaReader()
    expect(read(sentence('GPGSV,1,1,00'), today_s).kind).toBe('unknown')
    for (const line of ['', 'hello', '$GPRMC', '$GPRMC,1*ZZ', '\u0000\u0001*00', `$${'x'.repeat(400)}*00`])
      expect(read(line, today_s).kind).toBe('garbage')
  })

  it('never falls over, whatever comes', () => {
    const read = nmeaReader()
    fc.assert(fc.property(fc.string(), (text) => ['garbage', 'checksum', 'unknown', 'part', 'fix'].includes(read(text, today_s).kind)))
    fc.assert(
      fc.property(fc.array(fc.string({ maxLength: 8 }), { maxLength: 14 }), (fields) => {
        const body = ['GPRMC', ...fields].join(',').replace(/[*$!\r\n]/g, '')
        const line = read(sentence(body), today_s)
        if (line.kind === 'fix') expect(Number.isFinite(line.fix.time_s + line.fix.lat_deg + line.fix.lon_deg)).toBe(true)
      }),
    )
  })
})

const anyFix = fc.record({
  time_s: fc.integer({ min: 1_700_000_000_000, max: 1_900_000_000_000 }).map((ms) => ms / 1000),
  lat_deg: fc.double({ min: -89, max: 89, noNaN: true }),
  lon_deg: fc.double({ min: -179, max: 179, noNaN: true }),
  ele_m: fc.integer({ min: -50, max: 4000 }),
  speed_mps: fc.integer({ min: 0, max: 90 }),
})

describe('what is written', () => {
  it('as sentences comes back within a millimetre and a millisecond', () => {
    fc.assert(
      fc.property(anyFix, (fix) => {
        const read = nmeaReader()
        const back = writeNmea(fix)
          .map((line) => read(line, fix.time_s))
          .find((l) => l.kind === 'fix')
        if (back?.kind !== 'fix') throw new Error('no fix')
        expect(back.fix.time_s).toBeCloseTo(fix.time_s, 3)
        expect(Math.abs(back.fix.lat_deg - fix.lat_deg)).toBeLessThan(1e-8)
        expect(Math.abs(back.fix.lon_deg - fix.lon_deg)).toBeLessThan(1e-8)
        expect(back.fix.ele_m).toBe(fix.ele_m)
        expect(back.fix.speed_mps).toBeCloseTo(fix.speed_mps, 3)
      }),
    )
  })

  it('as JSON lines comes back with pedals, steering and inertial channels', () => {
    const fix: ReceivedFix = {
      time_s: today_s + 0.04,
      lat_deg: 0.123456789,
      lon_deg: -0.5,
      throttle_pct: 40,
      brake_bar: 0,
      steer_deg: -12.5,
      ax_mps2: 1.2,
      ay_mps2: -6.5,
      yaw_radps: 0.3,
      car: '7',
    }
    expect(readJsonLine(writeJsonLine(fix))).toEqual({ kind: 'fix', fix })
  })
})

describe('JSON lines', () => {
  it('greet with who they are; a rate faster than 60 times life is not believed', () => {
    expect(readJsonLine('{"hello":"simulated logger","factor":4,"car":"3"}')).toEqual({
      kind: 'hello',
      hello: { hello: 'simulated logger', factor: 4, car: '3' },
    })
    expect(readJsonLine('{"hello":"x","factor":1e9}')).toMatchObject({ hello: { factor: 1 } })
  })

  it.each([
    ['{', 'garbage'],
    ['[]', 'garbage'],
    ['{"t":"yesterday","lat":1,"lon":2}', 'garbage'],
    ['{"t":"2027-05-15T09:00:00Z","lat":91,"lon":2}', 'garbage'],
    ['{"t":"2027-05-15T09:00:00Z","lat":"1","lon":2}', 'garbage'],
    ['{"battery":70}', 'unknown'],
    ['{"t":"2027-05-15T09:00:00Z","lat":1,"lon":2,"speed_mps":"fast","mood":1}', 'fix'],
  ])('%s is %s', (line, kind) => {
    expect(readJsonLine(line).kind).toBe(kind)
  })
})
