import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { buildCircuit, makePlan, makeVenue, readCircuit, simulateDrive, writeLogCsv } from '@ochote/core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { demoFolder } from '../demo-once.test-data.ts'
import { startTestServer, type TestServer } from '../test-server.test-data.ts'

let server: TestServer
const text = (file: string): string => readFileSync(join(demoFolder, file), 'utf8')
const send = (path: string, body: string) => server.agent.post(path).set('Content-Type', 'application/octet-stream').send(body)

beforeAll(async () => {
  server = await startTestServer({ uploadLimit: 1_000_000 })
  await server.agent.post('/api/accounts/first').send({ name: 'Lead', password: 'long enough' })
})
afterAll(() => server.close())

describe('importing a circuit', () => {
  it('stores the survey, counts corners, and keeps the names given to them', async () => {
    const imported = await send('/api/circuits?name=Ostrel%20Mere', text('ostrel-mere.geojson'))
    expect(imported.body).toMatchObject({ name: 'Ostrel Mere', corners: 11, length_m: expect.closeTo(3365.92, 1) })
    const path = `/api/circuits/${imported.body.id}`
    const notes = {
      cornerNames: { T1: 'Boathouse' },
      cornerEdits: [{ kind: 'split', at_m: 1290 }],
      ground: [],
      pins: [{ station_m: 300, offset_m: -4 }],
      cornerTips: { T1: 'No passing.' },
    }
    expect((await server.agent.put(`${path}/notes`).send({ version: 1, notes })).body).toMatchObject({ version: 2, notes })
    const late = await server.agent.put(`${path}/notes`).send({ version: 1, notes: { ...notes, cornerNames: {} } })
    expect(late.status).toBe(409)
    expect(late.body.remedy).toContain('now see the newer version')
    const stored = (await server.agent.get(path)).body
    expect(stored.notes).toEqual(notes)
    expect(stored.survey.x_m).toHaveLength(673)
    expect((await server.agent.get('/api/circuits')).body).toHaveLength(1)
  })

  it.each([
    ['a letter', 'Dear Sir,\nhere is the circuit.', 422, 'columns-missing', 'row 1'],
    [
      'an open course',
      () => text('ostrel-mere-short.csv').split('\n').slice(0, 200).join('\n'),
      422,
      'circuit-open',
      'point 199 to point 1',
    ],
    ['a road without width', () => text('ostrel-mere-short.csv').replace('7.000,7.000', '0,7.000'), 422, 'circuit-width', 'point 1'],
    ['more than the limit', () => `x_m\n${'1\n'.repeat(600_000)}`, 413, 'too-large', undefined],
  ])('refuses %s with place and remedy, and stores nothing', async (_name, body, status, code, place) => {
    const before = (await server.agent.get('/api/circuits')).body.length
    const answer = await send('/api/circuits?name=bad', typeof body === 'string' ? body : body())
    expect(answer.status).toBe(status)
    expect(answer.body.code).toBe(code)
    expect(answer.body.place).toBe(place)
    expect(answer.body.remedy.length).toBeGreaterThan(10)
    expect((await server.agent.get('/api/circuits')).body).toHaveLength(before)
  })

  it('has no circuit that was never stored', async () => {
    expect((await server.agent.get('/api/circuits/none')).status).toBe(404)
    expect(
      (await server.agent.put('/api/circuits/none/notes').send({ version: 1, notes: { cornerNames: {}, cornerEdits: [], ground: [] } }))
        .status,
    ).toBe(404)
  })
})

describe('a circuit surveyed again', () => {
  const first = async (): Promise<string> => (await send('/api/circuits?name=First', text('ostrel-mere.geojson'))).body.id

  it('keeps names, changes of corners and ground of the older one', async () => {
    const id = await first()
    const item = { id: 'seam', kind: 'reference', name: 'Seam', side: 'both', from_m: 268, to_m: 268, reference: 'seam' }
    const notes = { cornerNames: { T1: 'Boathouse' }, cornerEdits: [{ kind: 'remove', at_m: 2840 }], ground: [item] }
    await server.agent.put(`/api/circuits/${id}/notes`).send({ version: 1, notes })
    const again = await send(`/api/circuits?name=Again&keeps=${id}`, text('ostrel-mere.geojson'))
    expect(again.body.corners).toBe(10)
    const stored = (await server.agent.get(`/api/circuits/${again.body.id}`)).body
    expect(stored.notes.cornerNames).toEqual({ T1: 'Boathouse' })
    expect(stored.notes.ground[0].from_m).toBeCloseTo(268, -0.5)
  })

  it('takes the place of the older one when its start line or width is corrected, with its notes', async () => {
    const file = JSON.parse(text('ostrel-mere.geojson'))
    const bare = JSON.stringify(file.features[0].geometry)
    const imported = (await send('/api/circuits?name=Bare', bare)).body
    expect(imported).toMatchObject({ widthAssumed: true, place: { lat_deg: 47.1, lon_deg: -21.4 } })
    const before = (await server.agent.get(`/api/circuits/${imported.id}`)).body
    const notes = { ...before.notes, cornerNames: { T3: 'Gallows' } }
    await server.agent.put(`/api/circuits/${imported.id}/notes`).send({ version: 1, notes })
    // Past T1: the corner that was T3 is the second one now.
    const revised = await server.agent.post(`/api/circuits/${imported.id}/revised`).send({ start_m: 420, width: { left_m: 4, right_m: 6 } })
    const after = (await server.agent.get(`/api/circuits/${revised.body.id}`)).body
    expect(after.notes.cornerNames).toEqual({ T2: 'Gallows' })
    expect([after.survey.widthLeft_m[9], after.survey.widthRight_m[9], after.survey.widthAssumed]).toEqual([4, 6, undefined])
    const listed = (await server.agent.get('/api/circuits')).body.map((c: { id: string }) => c.id)
    expect([listed.includes(imported.id), listed.includes(revised.body.id)]).toEqual([false, true])
    // What was driven on the older one is still judged by it.
    expect((await server.agent.get(`/api/circuits/${imported.id}`)).status).toBe(200)
  })

  it('of a local survey is turned to north with its notes, and so are the other layouts of its venue', async () => {
    const place = (await send('/api/circuits?name=Placed', text('ostrel-mere.geojson'))).body.id
    const known = await server.agent.post(`/api/circuits/${place}/revised`).send({ up_deg: 90 })
    expect([known.status, known.body.code]).toEqual([409, 'north-known'])
    const { survey } = (await server.agent.get(`/api/circuits/${place}`)).body
    const local = ['x_m,y_m', ...survey.x_m.map((x: number, i: number) => `${x},${survey.y_m[i]}`)].join('\n')
    const venue = { id: 'localfield', name: 'Localfield', timeZone: 'Europe/Berlin', version: 0 }
    expect((await server.agent.put('/api/venues/localfield').send(venue)).status).toBe(200)
    const ids = []
    for (const name of ['Long', 'Again']) {
      const { id } = (await send(`/api/circuits?name=${name}`, local)).body
      await server.agent.put(`/api/circuits/${id}/name`).send({ name, venueId: venue.id, version: 1 })
      ids.push(id)
    }
    const notes = (await server.agent.get(`/api/circuits/${ids[0]}`)).body
    await server.agent
      .put(`/api/circuits/${ids[0]}/notes`)
      .send({ version: notes.version, notes: { ...notes.notes, cornerNames: { T3: 'Gallows' } } })
    const turned = await server.agent.post(`/api/circuits/${ids[0]}/revised`).send({ up_deg: 90 })
    const after = (await server.agent.get(`/api/circuits/${turned.body.id}`)).body
    expect(after.notes.cornerNames).toEqual({ T3: 'Gallows' })
    expect(after.survey.northSet).toBe(true)
    expect(after.survey.x_m[40]).toBeCloseTo(survey.y_m[40], 6)
    const listed = (await server.agent.get('/api/circuits')).body.filter((c: { venueId: string }) => c.venueId === venue.id)
    expect(listed).toHaveLength(2)
    for (const { id } of listed) expect((await server.agent.get(`/api/circuits/${id}`)).body.survey.northSet).toBe(true)
  })

  it('is refused when it runs the other way round, or lies elsewhere', async () => {
    const id = await first()
    const reversed = await send(`/api/circuits?name=Back&keeps=${id}&reverse=true`, text('ostrel-mere.geojson'))
    expect(reversed.body).toMatchObject({ code: 'circuit-reversed', remedy: expect.stringContaining('Driven in the other direction') })
    const away = text('ostrel-mere.geojson').replaceAll(',47.', ',48.')
    expect((await send(`/api/circuits?name=Away&keeps=${id}`, away)).body.code).toBe('circuit-elsewhere')
  })

  it('is driven the other way round where asked', async () => {
    const id = (await send('/api/circuits?name=Back&reverse=true', text('ostrel-mere.geojson'))).body.id
    const { survey } = (await server.agent.get(`/api/circuits/${id}`)).body
    const own = (await server.agent.get(`/api/circuits/${await first()}`)).body.survey
    expect(survey.x_m[1]).toBeCloseTo(own.x_m[own.x_m.length - 1], 6)
  })

  it('brings its ground along in GeoJSON', async () => {
    const file = JSON.parse(text('ostrel-mere.geojson'))
    const [lon, lat] = file.features[0].geometry.coordinates[60]
    file.features.push({
      type: 'Feature',
      geometry: { type: 'Point', coordinates: [lon, lat] },
      properties: { kind: 'bump', name: 'Bump', side: 'both' },
    })
    const id = (await send('/api/circuits?name=With%20ground', JSON.stringify(file))).body.id
    const [bump] = (await server.agent.get(`/api/circuits/${id}`)).body.notes.ground
    expect(bump).toMatchObject({ kind: 'bump', name: 'Bump', from_m: expect.closeTo(300, -1) })
  })

  it('can be averaged from a log of laps, and needs one whole lap', async () => {
    const circuit = buildCircuit(readCircuit(text('ostrel-mere.geojson'), 'x'))
    const plan = makePlan(makeVenue(circuit), JSON.parse(text('vehicles.json'))[0], { surface: 'dry', pace: 0.6, school: 'straight' })
    const log = writeLogCsv(simulateDrive(plan, { laps: 2, seed: 4 }).log)
    const averaged = await send('/api/circuits?from=laps&name=Driven&width_m=5', log)
    expect(averaged.status).toBe(200)
    expect(Math.abs(averaged.body.length_m / plan.line.length_m - 1)).toBeLessThan(0.01)
    const half = log.split('\n').slice(0, 400).join('\n')
    expect((await send('/api/circuits?from=laps&name=Half&width_m=5', half)).body.code).toBe('log-no-lap')
  })
})

describe('a circuit that is looked at', () => {
  it('is told with its corners, its road and its doubts, and not kept', async () => {
    const before = (await server.agent.get('/api/circuits')).body.length
    const gpx = readFileSync(new URL('../../../core/fixtures/ostrel-mere.gpx', import.meta.url), 'utf8')
    const seen = await send('/api/circuits/look?name=Mere', gpx)
    expect(seen.status).toBe(200)
    expect(seen.body.corners).toHaveLength(11)
    expect(seen.body.width_m).toMatchObject({ assumed: true, min: expect.closeTo(10, 3), max: expect.closeTo(10, 3) })
    expect(seen.body.doubts.map((d: { kind: string }) => d.kind)).toContain('width-assumed')
    expect(seen.body.road.x_m.length).toBeGreaterThan(300)
    expect((await server.agent.get('/api/circuits')).body).toHaveLength(before)
  })

  it('begins where somebody says, on the road as it was read, and is kept so', async () => {
    const plain = (await send('/api/circuits/look?name=Mere', text('ostrel-mere.geojson'))).body
    const moved = (await send('/api/circuits/look?name=Mere&start_m=420', text('ostrel-mere.geojson'))).body
    const third = plain.corners.find((c: { apex_m: number }) => c.apex_m > 420)
    expect(moved.corners[0].apex_m).toBeCloseTo(third.apex_m - 420, -1)
    const kept = (await send('/api/circuits?name=Mere&start_m=420', text('ostrel-mere.geojson'))).body
    expect(kept.corners).toBe(moved.corners.length)
  })

  it('is kept once, however often it is sent', async () => {
    const id = '019aaaaa-0000-7000-8000-000000000001'
    const before = (await server.agent.get('/api/circuits')).body.length
    for (let k = 0; k < 2; k++) expect((await send(`/api/circuits?name=Once&id=${id}`, text('ostrel-mere.geojson'))).body.id).toBe(id)
    expect((await server.agent.get('/api/circuits')).body).toHaveLength(before + 1)
  })

  it('is told by its kind where the file belongs elsewhere', async () => {
    const answer = await send('/api/circuits/look?name=x', text('vehicles.json'))
    expect(answer.body).toMatchObject({ code: 'file-of-other-kind', title: 'This is not a circuit file, but a vehicle file.' })
    expect(answer.body.remedy).toContain('Circuit, Vehicles')
    expect((await send('/api/vehicles', text('ostrel-mere.geojson'))).body.code).toBe('file-of-other-kind')
  })
})

describe('a circuit of the school', () => {
  const kept = async (name: string): Promise<string> => (await send(`/api/circuits?name=${name}`, text('ostrel-mere.geojson'))).body.id
  const inList = async (id: string) => (await server.agent.get('/api/circuits')).body.find((c: { id: string }) => c.id === id)

  it('is named, belongs to a venue, and is put away and taken back', async () => {
    const id = await kept('Long')
    const venue = { name: 'Ostrel Mere', timeZone: 'Europe/Berlin', rules: ['No passing'], version: 0 }
    expect((await server.agent.put('/api/venues/mere').send(venue)).body).toMatchObject({ id: 'mere', version: 1 })
    expect((await server.agent.put('/api/venues/mere').send({ ...venue, timeZone: 'Mars/Olympus', version: 1 })).status).toBe(400)
    expect((await server.agent.put('/api/venues/mere').send({ ...venue, name: 'Other' })).body.code).toBe('changed-meanwhile')
    await server.agent.put(`/api/circuits/${id}/name`).send({ name: 'Mere, long', venueId: 'mere', version: 1 })
    expect(await inList(id)).toMatchObject({ name: 'Mere, long', venueId: 'mere', archivedAt: null })
    await server.agent.put(`/api/circuits/${id}/archived`).send({ archived: true })
    expect((await inList(id)).archivedAt).not.toBeNull()
    expect((await server.agent.put(`/api/circuits/${id}/name`).send({ name: ' ', venueId: null, version: 2 })).status).toBe(400)
    expect((await server.agent.delete('/api/venues/mere')).status).toBe(200)
    expect((await inList(id)).venueId).toBeNull()
  })

  it('shares what lies on its ground with the other layouts of its venue, driven either way', async () => {
    await server.agent.put('/api/venues/shared').send({ name: 'Shared', version: 0 })
    const [forth, back] = [await kept('Forth'), (await send('/api/circuits?name=Back&reverse=true', text('ostrel-mere.geojson'))).body.id]
    for (const [id, name] of [
      [forth, 'Forth'],
      [back, 'Back'],
    ])
      await server.agent.put(`/api/circuits/${id}/name`).send({ name, venueId: 'shared', version: 1 })
    const read = async (id: string) => (await server.agent.get(`/api/circuits/${id}`)).body
    const item = { id: 'hole', kind: 'bump', name: 'Hole', side: 'left', from_m: 700, to_m: 720 }
    const own = await read(forth)
    await server.agent.put(`/api/circuits/${forth}/notes`).send({ version: own.version, notes: { ...own.notes, ground: [item] } })
    const [there] = (await read(back)).notes.ground
    expect(there).toMatchObject({ id: 'hole', side: 'right' })
    expect(there.to_m - there.from_m).toBeCloseTo(20, 0)
    const now = await read(forth)
    await server.agent.put(`/api/circuits/${forth}/notes`).send({ version: now.version, notes: { ...now.notes, ground: [] } })
    expect((await read(back)).notes.ground).toEqual([])
  })

  it('is deleted when nothing uses it, and stays when a day does', async () => {
    const unused = await kept('Unused')
    expect((await server.agent.delete(`/api/circuits/${unused}`)).status).toBe(200)
    expect(await inList(unused)).toBeUndefined()
    const used = await kept('Used')
    const { id: _, ...plan } = JSON.parse(text('scenario.json')).day
    const day = '019aaaaa-0000-7000-8000-000000000002'
    await server.agent.post('/api/days').send({ id: day, plan: { ...plan, settings: { ...plan.settings, circuitId: used } } })
    expect((await server.agent.delete(`/api/circuits/${used}`)).body.code).toBe('in-use')
    // A corrected one takes over the uses of the one before.
    const revised = (await server.agent.post(`/api/circuits/${used}/revised`).send({ width: { left_m: 5, right_m: 5 } })).body
    expect((await server.agent.delete(`/api/circuits/${revised.id}`)).body.code).toBe('in-use')
    expect((await server.agent.delete(`/api/days/${day}`)).status).toBe(200)
  })
})

describe('importing vehicles', () => {
  it('takes a file, replaces only what was seen before, all or none, and refuses absurd numbers', async () => {
    const list = (await send('/api/vehicles', text('vehicles.json'))).body as { id: string; name: string; version: number }[]
    expect(list).toHaveLength(6)
    expect((await send('/api/vehicles', text('vehicles.json'))).body).toEqual(list)
    const [first, second] = JSON.parse(text('vehicles.json'))
    const winter = { ...first, name: 'Hatchback on winter tyres' }
    const file = JSON.stringify([winter, { ...second, id: 'brought-along' }])
    const nothing = await send('/api/vehicles', file)
    expect(nothing.body).toMatchObject({ code: 'would-replace', title: `Here already, with other values: ${first.name}.` })
    expect((await server.agent.get('/api/vehicles')).body).toEqual(list)
    const version = list.find(({ id }) => id === first.id)?.version
    const again = await send(`/api/vehicles?replacing=${first.id}:${version}`, file)
    expect(again.body).toHaveLength(7)
    expect(again.body.find((v: { id: string }) => v.id === first.id)).toMatchObject({ name: winter.name, version: Number(version) + 1 })
    const late = await send(`/api/vehicles?replacing=${first.id}:${version}`, JSON.stringify(first))
    expect(late.body.code).toBe('changed-meanwhile')
    await send(`/api/vehicles?replacing=${first.id}:${Number(version) + 1}`, JSON.stringify(first))
    expect((await server.agent.delete('/api/vehicles/brought-along')).status).toBe(200)
    expect((await send('/api/vehicles', JSON.stringify({ ...second, mass_kg: -5 }))).status).toBe(400)
    expect((await send('/api/vehicles', '{')).body.code).toBe('file-unreadable')
  })
})

describe('a vehicle', () => {
  it('is added and changed by id, and refused with its range', async () => {
    const one = JSON.parse(text('vehicles.json'))[0]
    expect((await server.agent.put('/api/vehicles/own').send({ ...one, name: 'Our own', version: 0 })).body).toMatchObject({
      id: 'own',
      name: 'Our own',
      version: 1,
    })
    const late = await server.agent.put('/api/vehicles/own').send({ ...one, name: 'Too late', version: 0 })
    expect(late.body.code).toBe('changed-meanwhile')
    expect((await server.agent.get('/api/vehicles')).body.map((v: { id: string }) => v.id)).toContain('own')
    expect((await server.agent.put('/api/vehicles/own').send({ ...one, muX: 9 })).status).toBe(400)
    const left = await server.agent.delete('/api/vehicles/own')
    expect(left.body.map((v: { id: string }) => v.id)).not.toContain('own')
    expect((await server.agent.delete('/api/vehicles/own')).status).toBe(404)
  })

  it('stays while a day uses it', async () => {
    const scenario = JSON.parse(text('scenario.json'))
    const { id: _, ...plan } = scenario.day
    await server.stores.days.add('day', plan)
    const kept = await server.agent.delete(`/api/vehicles/${plan.settings.vehicleId}`)
    expect(kept.status).toBe(409)
    expect(kept.body.remedy).toContain('It stays')
  })
})
