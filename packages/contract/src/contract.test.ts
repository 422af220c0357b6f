import { readFileSync } from 'node:fs'
import { type DayEvent, preparationOf, readCircuit, runStateOf } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import {
  api,
  circuitNotesSchema,
  dayPlanSchema,
  type Endpoint,
  openApiDocument,
  permissionOf,
  planSettingsSchema,
  planSource,
  recordSchema,
  runEventSchema,
  schoolSettingsSchema,
  seenAt,
  slotSchema,
  surveyFromWire,
  surveyToWire,
  VERSION,
  vehicleFileSchema,
} from './index.ts'

const demo = (file: string): string => readFileSync(new URL(`../../../demo/${file}`, import.meta.url), 'utf8')

describe('the version', () => {
  it('is the same in every package', () => {
    for (const folder of ['.', 'packages/core', 'packages/contract', 'packages/server', 'packages/web', 'packages/cli'])
      expect(JSON.parse(readFileSync(new URL(`../../../${folder}/package.json`, import.meta.url), 'utf8')).version, folder).toBe(VERSION)
  })
})

describe('the description of the API', () => {
  const endpoints = Object.entries(api) as [string, Endpoint][]

  it('names every endpoint by its key and once', () => {
    for (const [key, e] of endpoints) expect(e.id).toBe(key)
    const places = endpoints.map(([, e]) => `${e.method} ${e.path}`)
    expect(new Set(places).size).toBe(places.length)
  })

  it('has a schema for each parameter in a path', () => {
    for (const [, e] of endpoints) {
      const names = [...e.path.matchAll(/:(\w+)/g)].map((m) => m[1])
      if (names.length === 0) continue
      const value: Record<string, string> = {
        questionId: '018f2f6e-7c1a-7b3e-8c2d-1a2b3c4d5e6f',
        pictureId: '018f2f6e-7c1a-7b3e-8c2d-1a2b3c4d5e6f',
        importId: '018f2f6e-7c1a-7b3e-8c2d-1a2b3c4d5e6f',
        token: 'a'.repeat(32),
      }
      const parsed = e.params?.safeParse(Object.fromEntries(names.map((n) => [n, value[n] ?? '1'])))
      expect(parsed?.success, e.id).toBe(true)
      expect(e.params?.safeParse({}).success, e.id).toBe(false)
    }
  })

  it('asks for a link’s token wherever a link is enough', () => {
    const byLink = endpoints.filter(([, e]) => permissionOf(e).who === 'link')
    expect(byLink.length).toBeGreaterThan(3)
    for (const [, e] of byLink) expect(e.path).toContain('/:token')
  })

  it('lets nobody write without signing in, but for the ways to sign in', () => {
    const open = endpoints.filter(([, e]) => permissionOf(e).who === 'anyone' && e.method !== 'get').map(([key]) => key)
    expect(open.sort()).toEqual(['firstAccount', 'pairDevice', 'signIn', 'signInDemo'])
  })

  it('becomes an OpenAPI 3.1 document with every path', () => {
    const document = openApiDocument('1.2.3') as {
      openapi: string
      paths: Record<string, Record<string, { operationId: string; parameters: { name: string; in: string }[] }>>
    }
    expect(document.openapi).toBe('3.1.0')
    const operations = Object.values(document.paths).flatMap((p) => Object.values(p))
    expect(operations.map((o) => o.operationId).sort()).toEqual(endpoints.map(([key]) => key).sort())
    expect(document.paths['/api/runs/{runId}/laps/{lap}'].get.parameters.map((p) => p.name)).toEqual(['runId', 'lap'])
  })
})

describe('what crosses the wire', () => {
  it('brings a survey there and back unchanged', () => {
    const survey = readCircuit(demo('ostrel-mere.geojson'), 'x')
    expect(surveyFromWire(JSON.parse(JSON.stringify(surveyToWire(survey))))).toEqual(survey)
  })

  it('takes one vehicle or several, and refuses absurd ones with the field', () => {
    const all = JSON.parse(demo('vehicles.json')) as Record<string, unknown>[]
    expect(vehicleFileSchema.parse(all)).toHaveLength(6)
    expect(vehicleFileSchema.parse(all[0])).toHaveLength(1)
    const bad = vehicleFileSchema.safeParse([{ ...all[0], muY: 9 }])
    expect(bad.success).toBe(false)
  })

  it('keeps plans under the ceiling of pace', () => {
    const settings = { circuitId: 'a', vehicleId: 'b', surface: 'dry', pace: 0.6, school: 'straight', schemeId: 'c' }
    expect(planSettingsSchema.safeParse(settings).success).toBe(true)
    expect(planSettingsSchema.safeParse({ ...settings, pace: 0.95 }).success).toBe(false)
    expect(planSettingsSchema.safeParse({ ...settings, school: 'best' }).success).toBe(false)
  })

  it('lets an observation stand until an undo takes it back', () => {
    const event = (id: string) => ({ id, runId: 'r', at: '', kind: 'observation' as const, cornerId: 'T1', code: 'tense' as const, lap: 1 })
    const events = [event('a'), event('b'), { id: 'c', runId: 'r', at: '', kind: 'undo' as const, undoes: 'a' }]
    expect(runStateOf(events).observations.map((e) => e.id)).toEqual(['b'])
  })

  it('knows times of the day and kinds of event', () => {
    const slot = { id: 's', start: '09:30', end: '09:50', kind: 'run', title: '' }
    expect(slotSchema.safeParse(slot).success).toBe(true)
    expect(slotSchema.safeParse({ ...slot, start: '24:10' }).success).toBe(false)
    const event = {
      id: '018f2f6e-7c1a-7b3e-8c2d-1a2b3c4d5e6f',
      runId: 'r',
      at: '2027-05-15T10:00:00Z',
      kind: 'undo',
      undoes: '018f2f6e-7c1a-7b3e-8c2d-1a2b3c4d5e6a',
    }
    expect(runEventSchema.safeParse(event).success).toBe(true)
    expect(runEventSchema.safeParse({ ...event, kind: 'observation' }).success).toBe(false)
  })

  it('takes the car’s condition whole, and what was not well before rolling', () => {
    const common = { id: '018f2f6e-7c1a-7b3e-8c2d-1a2b3c4d5e6f', runId: 'r', at: '2027-05-15T10:00:00Z' }
    const car = { ...common, kind: 'car', carId: '3', brakes: 'good', tyres: 'watch', other: 'stop' }
    expect(runEventSchema.safeParse(car).success).toBe(true)
    expect(runEventSchema.safeParse({ ...car, tyres: 'worn' }).error?.issues[0].path).toEqual(['tyres'])
    expect(runEventSchema.safeParse({ ...car, other: undefined }).success).toBe(false)
    expect(runEventSchema.safeParse({ ...common, kind: 'checked', open: [] }).success).toBe(true)
    expect(runEventSchema.safeParse({ ...common, kind: 'checked' }).success).toBe(false)
  })

  it('finds in a record what was seen on one circuit only, by hand and by log', () => {
    const seen = { cornerId: 'T1', code: 'brake-early', run: 1, runId: 'r', lap: 2 }
    const record = recordSchema.parse({
      student: { id: 's', name: 'Imke Valderan', level: 'first-day', talk: 'guided', units: 'metric' },
      runs: [],
      seen: [
        { ...seen, circuitId: 'here', by: 'hand' },
        { ...seen, circuitId: 'elsewhere', by: 'hand' },
        { ...seen, circuitId: 'here', by: 'log', worth_s: 0.3 },
      ],
      passes: [],
      said: [],
      incidents: [],
      decisions: [],
    })
    expect(seenAt(record, 'here')).toEqual([
      { cornerId: 'T1', code: 'brake-early', run: 1, by: 'hand' },
      { cornerId: 'T1', code: 'brake-early', run: 1, by: 'log', worth_s: 0.3 },
    ])
    expect(seenAt(record, undefined)).toEqual([])
  })
})

describe('notes of a circuit', () => {
  const notes = { cornerNames: {}, cornerEdits: [], ground: [] }
  const item = { id: 'a', kind: 'run-off', name: 'Gravel', side: 'left', from_m: 10, to_m: 40, runOff: { surface: 'gravel', length_m: 30 } }

  it('hold names, changes of corners and ground', () => {
    const full = { cornerNames: { T1: 'Boathouse' }, cornerEdits: [{ kind: 'merge', at_m: 1, to_m: 2 }], ground: [item] }
    expect(circuitNotesSchema.parse(full)).toEqual({ ...full, pins: [], cornerTips: {} })
  })

  it.each([
    ['a kind of ground that nobody knows', { ...notes, ground: [{ ...item, kind: 'lava' }] }],
    ['a negative station', { ...notes, ground: [{ ...item, from_m: -1 }] }],
    ['a change of corners without its place', { ...notes, cornerEdits: [{ kind: 'split' }] }],
    ['a name as long as a letter', { ...notes, cornerNames: { T1: 'x'.repeat(41) } }],
  ])('refuse %s', (_name, bad) => {
    expect(circuitNotesSchema.safeParse(bad).success).toBe(false)
  })
})

describe('plans on the wire', () => {
  const survey = surveyToWire(readCircuit(demo('ostrel-mere.geojson'), 'Ostrel Mere'))

  it('take a setting without a line as the smoothest, as older ones were stored', () => {
    const old = { circuitId: 'c', vehicleId: 'v', surface: 'dry', pace: 0.6, school: 'straight', schemeId: 's' }
    expect(planSettingsSchema.parse(old).method).toBe('smoothest')
    expect(planSettingsSchema.safeParse({ ...old, method: 'bumpy' }).success).toBe(false)
  })

  it('name a circuit by its id, and keep an open course open', () => {
    const settings = planSettingsSchema.parse({
      circuitId: 'c',
      vehicleId: 'v',
      surface: 'dry',
      pace: 0.6,
      school: 'straight',
      schemeId: 's',
    })
    const circuit = {
      id: 'c',
      survey: { ...survey, open: true },
      notes: circuitNotesSchema.parse({ cornerNames: {}, cornerEdits: [], ground: [] }),
    }
    const source = planSource({ circuit, vehicle: vehicleFileSchema.parse(JSON.parse(demo('vehicles.json')))[0], settings })
    expect(source.circuitKey).toBe('c')
    expect(source.survey().open).toBe(true)
    expect(surveyFromWire(survey).open).toBeUndefined()
  })
})

describe('a day as it was stored before anything was prepared', () => {
  it('gets cones, calls and a briefing in which nothing is decided', () => {
    const { cones: _, calls: __, briefing: ___, ...old } = JSON.parse(demo('scenario.json')).day as Record<string, unknown>
    const day = dayPlanSchema.parse(old)
    expect(day.cones).toMatchObject({ level: 'first-day', served: [], settled: null })
    expect(day.calls).toMatchObject({ bookId: 'plain', silentCorners: [] })
    expect(day.briefing).toMatchObject({ pits: [], own: [] })
  })
})

describe('a student’s preparation', () => {
  const event = (change: object): DayEvent => ({ id: 'e', dayId: 'd', at: '1', kind: 'radio-heard', studentId: 's', ...change }) as DayEvent

  it('counts the first acknowledgement of a part, and takes back what was undone', () => {
    const events = [
      event({ id: 'a', kind: 'acknowledged', part: 'flags', at: '1' }),
      event({ id: 'b', kind: 'acknowledged', part: 'flags', at: '2' }),
      event({ id: 'c', at: '3' }),
      event({ id: 'd', kind: 'acknowledged', part: 'cones', studentId: 'other' }),
      event({ id: 'e', kind: 'quiz-answer', questionId: 'gear T1', cornerId: 'T1', right: false }),
    ]
    const answers = [{ questionId: 'gear T1', cornerId: 'T1', right: false }]
    expect(preparationOf(events, 's')).toEqual({ acknowledged: { flags: '1' }, radioHeard: '3', answers, rounds: [] })
    const undone = [...events, event({ id: 'f', kind: 'undo', undoes: 'c' })]
    expect(preparationOf(undone, 's').radioHeard).toBeNull()
  })
})

describe('a school’s kit', () => {
  it('refuses cones on the road and counts below nothing', () => {
    const rule = { colour: 'blue', shape: 'tall', count: 1, side: 'outside', beyondEdge_m: 0.4 }
    const schoolSettings = (change: object, stock = {}) =>
      schoolSettingsSchema.safeParse({ schemes: [{ id: 'x', name: 'X', rules: { brake: { ...rule, ...change } } }], stock }).success
    expect(schoolSettings({})).toBe(true)
    expect(schoolSettings({ beyondEdge_m: -0.5 })).toBe(false)
    expect(schoolSettings({ count: 0 })).toBe(false)
    expect(schoolSettings({}, { blue: -1 })).toBe(false)
  })
})
