import { readFileSync } from 'node:fs'
import { mkdtemp, readFile, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { conesOfDayFile, dayFileSchema, schoolSettingsSchema, surveyToWire } from '@ochote/contract'
import {
  buildCircuit,
  CoreError,
  coneSetOfDay,
  createPlanner,
  makePlan,
  makeVenue,
  readCircuit,
  simulateDrive,
  type Vehicle,
  writeLogCsv,
} from '@ochote/core'
import { beforeAll, describe, expect, it, vi } from 'vitest'
import { analyse } from './analyse.ts'
import { cones } from './cones.ts'
import { day } from './day.ts'
import { line } from './line.ts'
import { marks } from './marks.ts'
import { UsageError } from './options.ts'

const demo = (file: string): string => new URL(`../../../demo/${file}`, import.meta.url).pathname
const fixture = (file: string): string => new URL(`../../core/fixtures/${file}`, import.meta.url).pathname
const vehicles = demo('vehicles.json')
let folder = ''
let log = ''
let made: { lap: number; cornerId: string; code: string }[] = []
let lapTimes_s: number[] = []

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'ochote-'))
  const circuit = buildCircuit(readCircuit(await readFile(demo('ostrel-mere.geojson'), 'utf8'), 'x'))
  const car = (JSON.parse(await readFile(vehicles, 'utf8')) as Vehicle[])[0]
  const plan = makePlan(makeVenue(circuit), car, { surface: 'dry', pace: 0.75, school: 'straight' })
  const habits = [{ cornerId: 'T6', code: 'apex-missed' as const, probability: 0.6, size: 2.4 }]
  const drive = simulateDrive(plan, { laps: 3, seed: 9, habits })
  made = drive.made
  lapTimes_s = drive.lapTimes_s
  log = join(folder, 'log.csv')
  await writeFile(log, writeLogCsv(drive.log))
})

const out = (name: string): string => join(folder, name)
const common = { method: 'smoothest', surface: 'dry' }

describe('ochote line', () => {
  it.each(['csv', 'gpx', 'geojson'])('plans the demo circuit from its %s form', async (form) => {
    const circuit = form === 'geojson' ? demo('ostrel-mere.geojson') : fixture(`ostrel-mere.${form}`)
    await line({ ...common, circuit, vehicle: `${vehicles}#hatchback`, width: '6', out: out(`${form}.csv`) })
    const rows = (await readFile(out(`${form}.csv`), 'utf8')).trimEnd().split('\n')
    expect(rows[0]).toBe('s_m,x_m,y_m,z_m,n_m,kappa_1pm,v_mps,ax_mps2,ay_mps2,t_s')
    expect(rows).toHaveLength(1684)
    const last = rows.at(-1)?.split(',').map(Number) ?? []
    expect(last[9]).toBeGreaterThan(85)
    expect(last[9]).toBeLessThan(105)
  })

  it('follows pace and surface', async () => {
    const lap = async (options: Record<string, string>): Promise<number> => {
      await line({ ...common, circuit: fixture('lobes.csv'), vehicle: `${vehicles}#coupe`, out: out('l.csv'), ...options })
      return Number((await readFile(out('l.csv'), 'utf8')).trimEnd().split('\n').at(-1)?.split(',')[9])
    }
    expect(await lap({ pace: '0.6' })).toBeGreaterThan(await lap({}))
    expect(await lap({ surface: 'wet' })).toBeGreaterThan(await lap({}))
  })

  it.each([
    ['a vehicle that is not in the file', { vehicle: `${vehicles}#truck` }, 'vehicle-unknown'],
    ['a circuit that is none', { circuit: vehicles }, 'columns-missing'],
    ['a file that is not there', { circuit: '/nowhere/at-all.csv' }, 'file-unreadable'],
    ['a pace of 3', { pace: '3' }, 'setting-range'],
    ['a surface of glue', { surface: 'glue' }, 'setting-range'],
  ])('refuses %s', async (_name, change, code) => {
    const options = { ...common, circuit: fixture('lobes.csv'), vehicle: `${vehicles}#coupe`, out: out('x.csv'), ...change }
    await expect(line(options)).rejects.toMatchObject({ code })
  })

  it('drives the fast line in less time than the smoothest', async () => {
    const lap = async (method: string): Promise<number> => {
      await line({ ...common, method, circuit: fixture('lobes.csv'), vehicle: `${vehicles}#coupe`, out: out('m.csv') })
      return Number((await readFile(out('m.csv'), 'utf8')).trimEnd().split('\n').at(-1)?.split(',')[9])
    }
    expect(await lap('fast')).toBeLessThan((await lap('smoothest')) - 0.3)
  })

  it('asks for what is missing', async () => {
    await expect(line({ ...common })).rejects.toBeInstanceOf(UsageError)
    await expect(line({ ...common, method: 'bumpy' })).rejects.toBeInstanceOf(UsageError)
  })
})

describe('ochote marks', () => {
  const result = async (options: Record<string, string | boolean>) => {
    await marks({
      surface: 'dry',
      circuit: demo('ostrel-mere.geojson'),
      vehicle: `${vehicles}#hatchback`,
      out: out('marks.json'),
      ...options,
    })
    return JSON.parse(await readFile(out('marks.json'), 'utf8'))
  }

  it('tells every corner with purpose, price, grace, straight-on check and marks', async () => {
    const { corners, groups, lap_time_s, shifts } = await result({ pace: '0.75', school: 'straight' })
    expect(corners).toHaveLength(11)
    expect(lap_time_s).toBeGreaterThan(100)
    expect(groups).toContainEqual({ kind: 'chicane', cornerIds: ['T7', 'T8'] })
    expect(shifts.length).toBeGreaterThan(6)
    expect(corners.map((c: { price_rank: number }) => c.price_rank).sort((a: number, b: number) => a - b)).toEqual([
      1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11,
    ])
    const [first] = corners
    expect(first.marks.map((m: { kind: string }) => m.kind)).toEqual(
      expect.arrayContaining(['brake', 'release', 'turn-in', 'apex', 'slowest', 'throttle', 'exit']),
    )
    expect(first.grace.time_s).toBeGreaterThan(0)
    expect(first.straight_on.cases.map((c: { late_s: number }) => c.late_s)).toEqual([0.5, 1, 1.5])
  })

  it('brakes earlier in the wet, and less in the corner by the straight school', async () => {
    const brakeAt = async (options: Record<string, string>): Promise<number> =>
      (await result(options)).corners[0].marks.find((m: { kind: string }) => m.kind === 'brake').s_m
    expect(await brakeAt({ surface: 'wet' })).toBeLessThan(await brakeAt({}))
    expect(await brakeAt({ school: 'straight' })).toBeLessThan(await brakeAt({ school: 'trail' }))
  })

  it('refuses a pace above the limit for a student’s plan, and plans it with --force', async () => {
    const fast = { ...common, pace: '0.95', circuit: fixture('lobes.csv'), vehicle: `${vehicles}#coupe`, out: out('quick.json') }
    await expect(marks(fast)).rejects.toThrow(expect.objectContaining({ code: 'pace-above-limit', data: { pace: 0.95, limit: 0.92 } }))
    await marks({ ...fast, force: true })
    expect(readFileSync(out('quick.json'), 'utf8')).toContain('brake')
  })

  it('prints its timing as one JSON line where asked', async () => {
    const written: string[] = []
    const spy = vi.spyOn(process.stdout, 'write').mockImplementation((text) => written.push(String(text)) > 0)
    await line({ ...common, method: 'fast', circuit: fixture('lobes.csv'), vehicle: `${vehicles}#coupe`, out: out('t.csv'), timing: true })
    spy.mockRestore()
    const { timing_ms } = JSON.parse(written[0])
    expect(Object.keys(timing_ms)).toEqual(['import', 'smoothest', 'fast', 'profile', 'total'])
    expect(timing_ms.total).toBeCloseTo(timing_ms.smoothest + timing_ms.fast + timing_ms.profile, 0)
  })
})

describe('ochote cones', () => {
  const circuit = demo('ostrel-mere.geojson')
  const dayFile = async (change: object = {}): Promise<string> => {
    const scenario = JSON.parse(await readFile(demo('scenario.json'), 'utf8'))
    const { cornerNames, cornerEdits, ground } = scenario.circuits[0]
    const { schemes, phraseBooks, stock, reserved } = schoolSettingsSchema.parse(scenario.schoolSettings)
    const file = dayFileSchema.parse({
      form: 'ochote-day-1',
      day: scenario.day,
      circuit: {
        id: 'c',
        survey: surveyToWire(readCircuit(await readFile(circuit, 'utf8'), 'x')),
        notes: { cornerNames, cornerEdits, ground },
      },
      vehicles: JSON.parse(await readFile(vehicles, 'utf8')),
      school: { schemes, phraseBooks, stock, reserved },
      students: [{ talk: 'guided', language: null }],
      ...change,
    })
    await writeFile(out('day.json'), JSON.stringify(file))
    return out('day.json')
  }
  const rowsOf = async (options: Record<string, string>): Promise<string[]> => {
    await cones({ ...common, out: out('sheet.csv'), ...options })
    return (await readFile(out('sheet.csv'), 'utf8')).trimEnd().split('\n')
  }

  it('writes the laying sheet of a day: the cones that the pages lay, row for row', async () => {
    const day = await dayFile()
    const rows = await rowsOf({ day })
    const { of, planFor } = conesOfDayFile(dayFileSchema.parse(JSON.parse(await readFile(day, 'utf8'))), createPlanner())
    const { sheet } = coneSetOfDay(of, planFor)
    expect(sheet.length).toBeGreaterThan(20)
    expect(rows).toHaveLength(sheet.length + 1)
    sheet.forEach((row, i) => {
      const [number, colour, , corner, kind, , station_m] = rows[i + 1].split(',')
      expect([Number(number), colour, corner, kind]).toEqual([row.number, row.cone.colour, row.cornerName, row.cone.kind])
      expect(Number(station_m)).toBeCloseTo(row.cone.station_m, 1)
    })
  })

  it('lays what the stock allows', async () => {
    const all = await rowsOf({ day: await dayFile() })
    const none = await rowsOf({ day: await dayFile({ school: { ...schoolSettingsSchema.parse({}), stock: { blue: 0 } } }) })
    expect(all.filter((r) => r.split(',')[1] === 'blue').length).toBeGreaterThan(0)
    expect(none.filter((r) => r.split(',')[1] === 'blue')).toEqual([])
  })

  it('does the same for a circuit and a vehicle, as points on a map too', async () => {
    const vehicle = `${vehicles}#hatchback`
    const rows = await rowsOf({ circuit, vehicle })
    await cones({ ...common, circuit, vehicle, out: out('sheet.geojson') })
    const { features } = JSON.parse(await readFile(out('sheet.geojson'), 'utf8'))
    expect(features).toHaveLength(rows.length - 1)
    const later = await rowsOf({ circuit, vehicle, level: 'steady' })
    const firstBrake = (all: string[]): number => Number(all.find((r) => r.includes(',brake,'))?.split(',')[6])
    // Who is new brakes a reaction earlier.
    expect(firstBrake(rows)).toBeLessThan(firstBrake(later))
  })

  it('names what is wrong with a call or a day file', async () => {
    await writeFile(out('no-day.json'), '{"form":"ochote-day-1"}')
    await expect(cones({ day: out('no-day.json') })).rejects.toMatchObject({
      code: 'file-unreadable',
      place: expect.stringContaining(': day'),
    })
    await expect(
      cones({ day: await dayFile({ vehicles: [{ ...JSON.parse(await readFile(vehicles, 'utf8'))[0], id: 'other' }] }) }),
    ).rejects.toMatchObject({ code: 'vehicle-unknown' })
    await expect(cones({ ...common, circuit, vehicle: `${vehicles}#hatchback`, level: 'expert' })).rejects.toBeInstanceOf(UsageError)
    await expect(cones({ ...common, circuit, vehicle: `${vehicles}#hatchback`, scheme: 'none' })).rejects.toBeInstanceOf(UsageError)
  })
})

describe('ochote analyse', () => {
  type Result = {
    reference: { kind: string; lap?: number; why: string; surface?: string; sentence: string }
    laps: { lap: number; start_s: number; time_s: number }[]
    findings: {
      lap: number
      corner: string
      s_m: number
      code: string
      root: boolean
      lossTime_s: number
      evidence: Record<string, number>
    }[]
  }
  const result = async (options: Record<string, string>): Promise<Result> => {
    await analyse({ ...common, log, out: out('f.json'), ...options })
    return JSON.parse(await readFile(out('f.json'), 'utf8')) as Result
  }

  it('times laps and finds what was made, against the plan', async () => {
    const { laps, findings } = await result({ circuit: demo('ostrel-mere.geojson'), reference: 'plan', vehicle: `${vehicles}#hatchback` })
    expect(laps.map((l) => l.lap)).toEqual([1, 2, 3])
    laps.forEach((l, i) => {
      expect(Math.abs(l.time_s - lapTimes_s[i])).toBeLessThan(0.02)
    })
    expect(made.length).toBeGreaterThan(0)
    for (const m of made)
      expect(findings).toContainEqual(expect.objectContaining({ lap: m.lap, corner: m.cornerId, code: m.code, root: true }))
  })

  it('holds laps against one of them, on a circuit without a place on Earth too', async () => {
    const { laps, findings } = await result({ circuit: fixture('ostrel-mere.csv'), reference: 'lap:3' })
    expect(laps).toHaveLength(3)
    expect(findings.every((f) => f.lap !== 3 && Number.isFinite(f.lossTime_s) && f.s_m >= 0)).toBe(true)
  })

  it('reads a packed log, joins the files of a run, and takes a mapping for names that tell nothing', async () => {
    const circuit = demo('ostrel-mere.geojson')
    const text = await readFile(log, 'utf8')
    const packed = out('log.csv.gz')
    await writeFile(packed, gzipSync(text))
    const whole = await result({ circuit, reference: 'lap:1' })
    expect((await result({ circuit, log: packed, reference: 'lap:1' })).findings).toEqual(whole.findings)
    const rows = text.trimEnd().split('\n')
    const [first, second] = [out('a.csv'), out('b.csv')]
    await writeFile(first, `${rows.slice(0, 2000).join('\n')}\n`)
    await writeFile(second, `${[rows[0], ...rows.slice(2000)].join('\n')}\n`)
    expect((await result({ circuit, log: `${first},${second}`, reference: 'lap:1' })).findings).toEqual(whole.findings)
    const nameless = out('nameless.csv')
    await writeFile(nameless, text.replace(/^[^\n]*/, 'a,b,c,d,e,f,g,h,i,j'))
    await expect(analyse({ ...common, circuit, log: nameless, reference: 'lap:1' })).rejects.toMatchObject({ code: 'columns-missing' })
    const map = out('map.json')
    const columns = {
      time: ['a', 's'],
      lat: ['b', 'deg'],
      lon: ['c', 'deg'],
      ele: ['d', 'm'],
      speed: ['e', 'm/s'],
      throttle: ['f', '%'],
      brake: ['g', 'bar'],
      steer: ['h', 'deg'],
      gear: ['i', 'gear'],
      rpm: ['j', 'rpm'],
    }
    await writeFile(
      map,
      JSON.stringify(Object.fromEntries(Object.entries(columns).map(([name, [column, unit]]) => [name, { column, unit }]))),
    )
    expect((await result({ circuit, log: nameless, reference: 'lap:1', map })).findings).toEqual(whole.findings)
    await writeFile(map, '{"speed": 3}')
    await expect(analyse({ ...common, circuit, log: nameless, reference: 'lap:1', map })).rejects.toMatchObject({ code: 'file-unreadable' })
  })

  it('finds what explains a log best where nobody names a reference, and says so in one sentence', async () => {
    const circuit = demo('ostrel-mere.geojson')
    const found = await result({ circuit, vehicle: `${vehicles}#hatchback` })
    expect(found.reference).toMatchObject({ kind: 'plan', why: 'plan-explains', surface: 'dry' })
    expect(found.reference.sentence).toMatch(/^Held against the plan in .* braking style on the .* line at \d+% pace: .* best\.$/)
    const alone = await result({ circuit })
    expect(alone.reference).toMatchObject({ kind: 'lap', why: 'no-vehicle' })
    expect((await result({ circuit, reference: 'best' })).reference).toMatchObject({
      kind: 'lap',
      lap: alone.reference.lap,
      why: 'quickest-lap',
    })
  })

  it('says what comes first, what held, and the theoretical best lap', async () => {
    await analyse({
      ...common,
      circuit: demo('ostrel-mere.geojson'),
      log,
      out: out('f.json'),
      reference: 'plan',
      vehicle: `${vehicles}#hatchback`,
    })
    const { say, held, theoreticalBest, passes, consistency, quality, undecidable } = JSON.parse(await readFile(out('f.json'), 'utf8'))
    expect(say[0]).toMatchObject({ corner: 'T6', code: 'apex-missed' })
    expect(held.length).toBeGreaterThan(0)
    expect(theoreticalBest.ideal_s).toBeLessThanOrEqual(theoreticalBest.best_s)
    expect(passes).toHaveLength(33)
    expect(consistency).toHaveLength(11)
    expect(quality).toMatchObject({ rate_hz: 10, pedals: true, steering: true })
    expect(undecidable.codes).toEqual([])
  })

  it('tells a log that runs the other way round', async () => {
    const rows = (await readFile(log, 'utf8')).trimEnd().split('\n')
    const places = rows.slice(1).map((row) => row.split(','))
    const back = out('back.csv')
    const turned = places.map((row, i) => [row[0], ...places[places.length - 1 - i].slice(1)].join(','))
    await writeFile(back, `${[rows[0], ...turned].join('\n')}\n`)
    await expect(analyse({ ...common, circuit: demo('ostrel-mere.geojson'), log: back, reference: 'lap:1' })).rejects.toMatchObject({
      code: 'log-reversed',
    })
  })

  it('refuses a log of another place, an empty one, and a lap that is not there', async () => {
    const circuit = demo('ostrel-mere.geojson')
    const empty = out('empty.csv')
    await writeFile(empty, '')
    const away = out('away.csv')
    await writeFile(away, (await readFile(log, 'utf8')).replaceAll(',47.', ',46.'))
    await expect(analyse({ ...common, circuit, log: empty, reference: 'lap:1' })).rejects.toMatchObject({ code: 'file-empty' })
    await expect(analyse({ ...common, circuit, log: away, reference: 'lap:1' })).rejects.toMatchObject({ code: 'log-elsewhere' })
    await expect(analyse({ ...common, circuit, log, reference: 'lap:7' })).rejects.toBeInstanceOf(CoreError)
    await expect(analyse({ ...common, circuit, log, reference: 'usual' })).rejects.toBeInstanceOf(UsageError)
  })
})

describe('ochote day', () => {
  const file = async (change: object): Promise<string> => {
    const setup = {
      date: '2027-05-15',
      from: '09:00',
      to: '12:00',
      students: [1, 2, 3].map((k) => ({ id: `s${k}`, groupId: 'all' })),
      instructors: [{ id: 'i1' }],
      cars: [{ id: 'c1', cooling_min: 5 }],
      groups: [{ id: 'all', lap_s: 120, wants: { ride: 1 } }],
      formats: [{ id: 'ride', kind: 'ride-along', minutes: 20, place: 'track', cars: 'each', change_min: 5 }],
      windows: [{ place: 'track', from: '09:00', to: '12:00' }],
      rules: { lunch: null },
      ...change,
    }
    const path = out('day.json')
    await writeFile(path, JSON.stringify(setup))
    return path
  }
  const planned = async (change: object, options: object = {}) => {
    await day({ in: await file(change), steps: '3000', out: out('plan.json'), ...options })
    return JSON.parse(await readFile(out('plan.json'), 'utf8'))
  }

  it('plans a day from its file alone, the same each time, with its cost, bound and gap', async () => {
    const plan = await planned({})
    expect(plan.sessions).toHaveLength(3)
    expect(plan).toMatchObject({ leftOut: [], broken: [], clash: null, steps: 3000, seed: 1 })
    expect(plan.bound).toBeLessThanOrEqual(plan.cost)
    expect(plan.gap).toBeCloseTo((plan.cost - plan.bound) / plan.cost, 2)
    const { seconds: _, ...again } = await planned({})
    expect(again).toEqual({ ...plan, seconds: undefined })
  })

  it('says that a day is full, what would ease it, and what clashes', async () => {
    const told = vi.spyOn(process.stderr, 'write').mockReturnValue(true)
    const plan = await planned({
      groups: [{ id: 'all', lap_s: 120, wants: { ride: 6 } }],
      rules: { lunch: null, restBetweenDrives_min: 0 },
    })
    expect(told.mock.calls.join('')).toContain('The day is full')
    told.mockRestore()
    expect(plan.leftOut.length).toBeGreaterThan(0)
    expect(plan.clash.proven).toBe(true)
    expect(plan.eases[0].share).toBeLessThan(plan.load[0].share)
  })

  it('refuses what cannot be a day, with the place', async () => {
    await expect(planned({ to: '08:00' })).rejects.toMatchObject({ code: 'day-times', place: 'to' })
    await expect(planned({ from: '25:00' })).rejects.toMatchObject({ code: 'file-unreadable', place: expect.stringContaining('from') })
    await expect(planned({}, { seed: 'x' })).rejects.toThrow(UsageError)
  })
})
