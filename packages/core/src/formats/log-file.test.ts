import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { type Analysis, analyseLog } from '../findings/analyse.ts'
import type { Log } from '../log/log.ts'
import { type DriveOptions, simulateDrive } from '../simulate/drive.ts'
import { joinLogs } from './join-logs.ts'
import { writeJsonLine } from './json-lines.ts'
import { writeLogCsv } from './log-csv.ts'
import { logOf, readLog } from './log-file.ts'
import { guessMapping } from './log-mapping.ts'
import { logFormOf, readLogPieces, readLogText } from './log-reader.ts'
import type { LogTable } from './log-table.ts'
import { nmeaChecksum, writeNmea } from './nmea.ts'

const plan = demoPlan()
const options: DriveOptions = {
  laps: 3,
  seed: 4,
  noise_m: 0.05,
  habitsFrom: 2,
  habits: [
    { cornerId: 'T1', code: 'brake-early', probability: 1, size: 40 },
    { cornerId: 'T6', code: 'exit-wide', probability: 1, size: 2.2 },
    { cornerId: 'T4', code: 'throttle-dip', probability: 1, size: 0.5 },
  ],
}
const drive = simulateDrive(plan, options)
const { log } = drive
const rows = log.time_s.length
const column = (name: keyof Log): Float64Array => log[name] ?? new Float64Array(rows)

type Written = {
  separator?: string
  comma?: boolean
  header: string[]
  units?: string[]
  before?: string[]
  cells: (i: number) => (string | number)[]
  from?: number
}
const table = ({ separator = ',', comma = false, header, units, before = [], cells, from = 0 }: Written): string => {
  const text = (cell: string | number): string => (typeof cell === 'string' ? cell : comma ? String(cell).replace('.', ',') : String(cell))
  const lines = [...before, header.join(separator), ...(units ? [units.join(separator)] : [])]
  for (let i = from; i < rows; i++) lines.push(cells(i).map(text).join(separator))
  return `${lines.join('\n')}\n`
}
const near = (a: Float64Array | undefined, b: Float64Array, within: number): void => {
  expect(a?.length).toBe(b.length)
  for (let i = 0; i < b.length; i += 37) expect(Math.abs((a?.[i] ?? Number.NaN) - b[i])).toBeLessThan(within)
}

/** The columns of a table's text. */
const readLogTable = (text: string): LogTable => {
  const file = readLogText(text)
  if (file.form !== 'table') throw new Error(file.form)
  return file.table
}

describe('a log table of any header', () => {
  it('comes through its own form unchanged to the written digits', () => {
    const back = readLog(writeLogCsv(log))
    near(back.lat_deg, log.lat_deg, 1e-8)
    near(back.speed_mps, column('speed_mps'), 1e-3)
    near(back.brake_bar, column('brake_bar'), 6e-3)
    expect(Object.keys(back).sort()).toEqual(Object.keys(log).sort())
    // Nobody has to be asked what is what in it.
    for (const { channel, sure, speaksFor } of guessMapping(readLogTable(writeLogCsv(log))))
      expect([channel, sure >= 0.75, speaksFor]).toEqual([channel, true, null])
  })

  it('is read with semicolons, decimal commas and imperial units', () => {
    const text = table({
      separator: ';',
      comma: true,
      header: [
        'Time',
        'Latitude',
        'Longitude',
        'Altitude (ft)',
        'Speed (mph)',
        'Throttle Pos (%)',
        'Brake Pressure (psi)',
        'Steering Angle (deg)',
        'Gear',
      ],
      cells: (i) =>
        [
          log.time_s[i].toFixed(2),
          log.lat_deg[i].toFixed(8),
          log.lon_deg[i].toFixed(8),
          (log.ele_m[i] / 0.3048).toFixed(2),
          (column('speed_mps')[i] / 0.44704).toFixed(3),
          column('throttle_pct')[i].toFixed(1),
          (column('brake_bar')[i] / 0.0689476).toFixed(1),
          column('steer_deg')[i].toFixed(2),
          column('gear')[i],
        ].map((c) => (typeof c === 'string' ? c.replace('.', ',') : c)),
    })
    const back = readLog(text)
    near(back.lat_deg, log.lat_deg, 1e-7)
    near(back.ele_m, log.ele_m, 0.01)
    near(back.speed_mps, column('speed_mps'), 1e-3)
    near(back.brake_bar, column('brake_bar'), 0.01)
    near(back.throttle_pct, column('throttle_pct'), 0.06)
  })

  it('is read with lines before the header, a row of units, clocks and kilometres an hour', () => {
    const clock = (t: number): string => {
      const s = 13 * 3600 + 59 * 60 + t
      return `${Math.floor(s / 3600)}:${String(Math.floor(s / 60) % 60).padStart(2, '0')}:${(s % 60).toFixed(3).padStart(6, '0')}`
    }
    const text = table({
      separator: '\t',
      before: ['Log of a made-up receiver', 'Car\t7'],
      header: ['Time', 'GPS Latitude', 'GPS Longitude', 'Ground Speed', 'Engine Speed'],
      units: ['s', 'deg', 'deg', 'km/h', 'rpm'],
      cells: (i) => [
        clock(log.time_s[i]),
        log.lat_deg[i].toFixed(8),
        log.lon_deg[i].toFixed(8),
        (column('speed_mps')[i] * 3.6).toFixed(2),
        column('rpm')[i].toFixed(0),
      ],
    })
    const back = readLog(text)
    near(back.time_s, log.time_s, 2e-3)
    near(back.speed_mps, column('speed_mps'), 3e-3)
    expect(back.throttle_pct).toBeUndefined()
    expect(back.rpm?.[10]).toBe(Math.round(column('rpm')[10]))
  })

  it('finds unit and time base from the numbers where no header tells', () => {
    const text = table({
      header: ['timestamp', 'lat', 'lng', 'velocity', 'tps'],
      cells: (i) => [
        Math.round(log.time_s[i] * 1000),
        log.lat_deg[i].toFixed(8),
        log.lon_deg[i].toFixed(8),
        (column('speed_mps')[i] / 0.44704).toFixed(3),
        (column('throttle_pct')[i] / 100).toFixed(3),
      ],
    })
    const guessed = guessMapping(readLogTable(text))
    const unit = (channel: string): string | undefined => guessed.find((g) => g.channel === channel)?.unit
    expect([unit('time'), unit('speed'), unit('throttle')]).toEqual(['ms', 'mph', 'share'])
    near(readLog(text).speed_mps, column('speed_mps'), 1e-3)
  })

  it('tells names that begin alike apart by what they hold', () => {
    const text = table({
      header: ['TPS', 'Elapsed', 'Breite', 'GPS Longitude', 'Lateral', 'V'],
      cells: (i) => [
        column('throttle_pct')[i].toFixed(1),
        log.time_s[i].toFixed(2),
        log.lat_deg[i].toFixed(8),
        log.lon_deg[i].toFixed(8),
        '0.4',
        (column('speed_mps')[i] / 0.44704).toFixed(3),
      ],
    })
    const guessed = Object.fromEntries(guessMapping(readLogTable(text)).map((g) => [g.channel, `${g.column} ${g.unit}`]))
    expect(guessed).toEqual({ time: 'Elapsed s', lat: 'Breite deg', lon: 'GPS Longitude deg', speed: 'V mph', throttle: 'TPS %' })
  })

  it('asks where the speeds are 1.6 times too fast for the way covered, and takes what it is told', () => {
    const text = table({
      header: ['time_s', 'lat_deg', 'lon_deg', 'speed (mph)'],
      cells: (i) => [
        log.time_s[i].toFixed(2),
        log.lat_deg[i].toFixed(8),
        log.lon_deg[i].toFixed(8),
        (column('speed_mps')[i] * 3.6).toFixed(3),
      ],
    })
    expect(() => readLog(text)).toThrow(expect.objectContaining({ code: 'log-units', data: { unit: 'mph', fits: 'km/h' } }))
    const told = readLog(text, {
      time: { column: 'time_s', unit: 's' },
      lat: { column: 'lat_deg', unit: 'deg' },
      lon: { column: 'lon_deg', unit: 'deg' },
      speed: { column: 'speed (mph)', unit: 'km/h' },
    })
    near(told.speed_mps, column('speed_mps'), 1e-3)
  })

  it.each([
    ['nothing', '', 'file-empty'],
    ['a packed archive', 'PK\u0003\u0004rest', 'file-unreadable'],
    ['binary data', 'ab\u0000cd\n1,2\n', 'file-unreadable'],
    ['prose', 'This is a letter.\nIt has no numbers.\n', 'file-unreadable'],
    ['no places', 'time_s,speed_mps\n0,10\n1,11\n2,12\n', 'columns-missing'],
    ['places off the globe', 'time_s,lat_deg,lon_deg\n0,47,-21\n1,147,-21\n2,47,-21\n', 'number-invalid'],
    ['time that runs backwards', 'time_s,lat_deg,lon_deg\n3,47,-21\n2,47.1,-21\n1,47.2,-21\n', 'log-stamps'],
  ])('refuses %s', (_, text, code) => {
    expect(() => readLog(text)).toThrow(expect.objectContaining({ code }))
  })

  it('drops repeated stamps, fills missing ones, and spreads places that a slower receiver holds', () => {
    const head = 'time_s,lat_deg,lon_deg\n'
    expect([...readLog(`${head}0,47,-21\n0.1,47.001,-21\n0.1,47.002,-21\n0.2,47.003,-21\n`).time_s]).toEqual([0, 0.1, 0.2])
    expect([...readLog(`${head}0,47,-21\n,47.001,-21\n0.2,47.002,-21\n`).time_s]).toEqual([0, 0.1, 0.2])
    const held = readLog(`${head}0,47,-21\n0.1,47,-21\n0.2,47,-21\n0.3,47.003,-21\n0.4,47.003,-21\n0.5,47.003,-21\n0.6,47.006,-21\n`)
    expect(held.lat_deg[1]).toBeCloseTo(47.001, 9)
    expect(held.lat_deg[5]).toBeCloseTo(47.005, 9)
  })

  it('takes quoted cells, and every number as the language reads it (seed 5)', () => {
    const quoted = readLogText('time;"lat; deg";lon\n"0";"47";-21\n1;47;"-21"\n2;47;-21\n')
    expect(quoted.form === 'table' && quoted.table.columns.map((c) => [...c.values])).toEqual([
      [0, 1, 2],
      [47, 47, 47],
      [-21, -21, -21],
    ])
    const number = fc.oneof(
      fc.double({ noNaN: true, noDefaultInfinity: true }).map(String),
      fc.double({ min: -200, max: 200, noNaN: true }).map((v) => v.toFixed(9)),
      fc.integer().map(String),
      fc.constantFrom('.5', '5.', '-0.25', '+3', '1e3', '123456789012345', '1234567890123456.25', ' 7', '0001'),
    )
    fc.assert(
      fc.property(fc.array(number, { minLength: 1, maxLength: 50 }), (cells) => {
        const rows = ['1,1', ...cells.map((cell) => `2,${cell}`)]
        const { columns } = readLogTable(`time,value\n${rows.join('\n')}\n`)
        expect([...columns[1].values]).toEqual([1, ...cells.map(Number)])
      }),
      { seed: 5, numRuns: 200 },
    )
  })

  it('tells a quotation mark that is never closed, with its row', () => {
    const rows = Array.from({ length: 60_000 }, (_, i) => `${i},47.0000000001,-21.0000000001${i === 100 ? ',"open' : ''}`)
    expect(() => readLogText(`time,lat,lon\n${rows.join('\n')}\n`)).toThrow(
      expect.objectContaining({ code: 'file-unreadable', place: 'row 102' }),
    )
  })

  it('leaves out a last row that ends in the middle, and says which', () => {
    const text = writeLogCsv(log).trimEnd()
    const whole = readLogTable(text)
    expect([whole.rows, whole.cutRow]).toEqual([rows, undefined])
    for (const lost of [9, 60]) {
      const cut = readLogTable(text.slice(0, -lost))
      expect([cut.rows, cut.cutRow]).toEqual([rows - 1, rows + 1])
    }
  })

  it('is as long as its rows, block by block', () => {
    for (const count of [1, 16_383, 16_384, 16_385, 40_000]) {
      const { columns, rows } = readLogTable(`time,value\n${Array.from({ length: count }, (_, i) => `${i},${2 * i}`).join('\n')}\n`)
      expect([rows, columns[0].values.length, columns[1].values[count - 1]]).toEqual([count, count, 2 * (count - 1)])
    }
  })

  it('never breaks on rubbish: an error with words, or a log (seed 11)', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 300, unit: fc.constantFrom(',', ';', '\n', '1', '.', 'a', '-', ' ', ':', '"') }), (text) => {
        try {
          expect(readLog(text).time_s.length).toBeGreaterThan(0)
        } catch (error) {
          expect((error as { code?: string }).code, String(error)).toMatch(/^(file|columns|number|log)-/)
        }
      }),
      { seed: 11, numRuns: 300 },
    )
  })
})

describe('other forms of log', () => {
  const fixes = Array.from({ length: 400 }, (_, i) => ({
    time_s: Date.UTC(2027, 4, 15, 9) / 1000 + log.time_s[i],
    lat_deg: log.lat_deg[i],
    lon_deg: log.lon_deg[i],
    ele_m: log.ele_m[i],
    speed_mps: column('speed_mps')[i],
  }))
  const first = (name: keyof Log): Float64Array => column(name).slice(0, 400)

  it.each([
    ['nmea', fixes.flatMap(writeNmea).join('\r\n'), 2e-7],
    ['json-lines', fixes.map(writeJsonLine).join('\n'), 1e-8],
    [
      'gpx',
      `<?xml version="1.0"?><gpx version="1.1"><trk><trkseg>${fixes
        .map(
          (f) =>
            `<trkpt lat="${f.lat_deg}" lon="${f.lon_deg}"><ele>${f.ele_m}</ele><time>${new Date(f.time_s * 1000).toISOString()}</time><extensions><x:t><x:speed>${f.speed_mps}</x:speed></x:t></extensions></trkpt>`,
        )
        .join('')}</trkseg></trk></gpx>`,
      1e-9,
    ],
  ] as const)('%s is told by its beginning and read', (form, text, within) => {
    expect(logFormOf(text)).toBe(form)
    const back = readLog(text)
    near(back.lat_deg, first('lat_deg'), within)
    near(back.time_s, first('time_s'), 2e-3)
    near(back.speed_mps, first('speed_mps'), 3e-3)
  })

  const texts = [writeLogCsv(log).replaceAll('\n', '\r\n'), fixes.flatMap(writeNmea).join('\r\n'), fixes.map(writeJsonLine).join('\n')]
  it('are the same in whatever pieces they come (seed 3)', async () => {
    for (const text of texts) {
      const whole = readLog(text)
      await fc.assert(
        fc.asyncProperty(fc.integer({ min: 1, max: 200_000 }), async (size) => {
          const pieces = async function* () {
            for (let at = 0; at < text.length; at += size) yield text.slice(at, at + size)
          }
          let told = 0
          const file = await readLogPieces(pieces(), (characters) => {
            told = characters
          })
          expect(told).toBe(text.length)
          expect(logOf(file)).toEqual(whole)
        }),
        { seed: 3, numRuns: 6 },
      )
    }
  })
})

describe('files that are no logs', () => {
  it.each([
    ['KML', '<?xml version="1.0"?><kml xmlns="http://www.opengis.net/kml/2.2"><Document/></kml>', 'it is KML'],
    ['TCX', '<?xml version="1.0"?><TrainingCenterDatabase><Activities/></TrainingCenterDatabase>', 'it is TCX'],
    ['XML with a type definition', '<?xml version="1.0"?><!DOCTYPE gpx [<!ENTITY a "b">]><gpx/>', 'it has a document type definition'],
  ])('%s are named', (_, text, why) => {
    expect(() => readLog(text)).toThrow(
      expect.objectContaining({ code: 'file-unreadable', data: expect.objectContaining({ why: expect.stringContaining(why) }) }),
    )
  })

  it('a receiver that never had a fix is told so', () => {
    const lost = ['GPRMC,225800.000,V,,,,,,,010524,,', 'GPGGA,225800.000,,,,,0,00,,,M,,M,,']
    const text = lost.map((body) => `$${body}*${nmeaChecksum(body)}`).join('\r\n')
    expect(() => readLog(text)).toThrow(expect.objectContaining({ code: 'log-no-fix', data: { sentences: 2 } }))
  })
})

describe('files of one run', () => {
  const part = (from: number, to: number, shift_s = 0): Log =>
    Object.fromEntries(
      Object.entries(log).map(([name, values]) => [name, values.slice(from, to).map((v) => (name === 'time_s' ? v + shift_s : v))]),
    ) as Log

  it('join in the order of their time, and those that all begin at nothing as they are given', () => {
    const joined = joinLogs([part(800, rows), part(0, 800)])
    near(joined.time_s, log.time_s, 1e-9)
    const zeroed = joinLogs([part(0, 800), part(800, rows, -log.time_s[800])])
    for (let i = 1; i < rows; i++) expect(zeroed.time_s[i]).toBeGreaterThan(zeroed.time_s[i - 1])
    const { brake_bar: _, ...bare } = part(800, rows)
    expect(joinLogs([part(0, 800), bare as Log]).brake_bar).toBeUndefined()
  })
})

describe('findings do not change', () => {
  const rootsOf = (text: string): string[] => seen(analyseLog(plan.circuit, plan.corners, readLog(text), { kind: 'plan', plan }))
  const seen = ({ findings }: Analysis): string[] => findings.filter((f) => f.root).map((f) => `${f.lap} ${f.cornerId} ${f.code}`)
  const own = rootsOf(writeLogCsv(log))
  const cells = (i: number, zone: string, kmh: boolean): (string | number)[] => [
    zone === ''
      ? log.time_s[i].toFixed(3)
      : `${new Date(Date.UTC(2027, 4, 15, 23, 59) + log.time_s[i] * 1000).toISOString().replace('Z', zone)}`,
    log.lat_deg[i].toFixed(9),
    log.lon_deg[i].toFixed(9),
    kmh ? (column('speed_mps')[i] * 3.6).toFixed(3) : column('speed_mps')[i].toFixed(4),
    column('throttle_pct')[i].toFixed(2),
    column('brake_bar')[i].toFixed(3),
    column('steer_deg')[i].toFixed(3),
  ]
  const written = (change: Partial<Written>, zone = '', kmh = false): string =>
    table({
      header: ['time', 'lat', 'lon', kmh ? 'speed_kmh' : 'speed_mps', 'throttle', 'brake', 'steer'],
      cells: (i) => cells(i, zone, kmh),
      ...change,
    })

  it('there are some, in the laps in which they were made', () => {
    expect(own.length).toBeGreaterThanOrEqual(5)
    expect(own.every((root) => !root.startsWith('1 '))).toBe(true)
  })

  it.each([
    ['time zone, over midnight', written({}, '+05:30')],
    ['units', written({}, '', true)],
    ['start row', written({ from: 7 })],
    ['separators', written({ separator: ';', comma: false })],
  ])('with %s', (_, text) => {
    expect(rootsOf(text)).toEqual(own)
  })

  it('with twice the rate', () => {
    const twice = simulateDrive(plan, { ...options, rate_hz: 20 })
    const half: Log = Object.fromEntries(
      Object.entries(twice.log).map(([name, values]) => [name, values.filter((_, i) => i % 2 === 0)]),
    ) as Log
    const roots = (one: Log): string[] => seen(analyseLog(plan.circuit, plan.corners, one, { kind: 'plan', plan }))
    expect(roots(twice.log)).toEqual(roots(half))
  })
})
