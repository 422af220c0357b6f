import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { demoFolder, startTestServer, type TestServer } from '../test-server.test-data.ts'

let server: TestServer
const text = (file: string): string => readFileSync(join(demoFolder, file), 'utf8')
const send = (path: string, body: string) => server.agent.post(path).set('Content-Type', 'application/octet-stream').send(body)

beforeAll(async () => {
  server = await startTestServer({ uploadLimit: 100_000 })
  await server.agent.post('/api/accounts/first').send({ name: 'Lead', password: 'long enough' })
})
afterAll(() => server.close())

describe('importing a circuit', () => {
  it('stores the survey, counts corners, and keeps the names given to them', async () => {
    const imported = await send('/api/circuits?name=Ostrel%20Mere', text('ostrel-mere.geojson'))
    expect(imported.body).toMatchObject({ name: 'Ostrel Mere', corners: 11, length_m: expect.closeTo(3365.92, 1) })
    const path = `/api/circuits/${imported.body.id}`
    await server.agent.put(`${path}/corner-names`).send({ T1: 'Boathouse' })
    const stored = (await server.agent.get(path)).body
    expect(stored.cornerNames).toEqual({ T1: 'Boathouse' })
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
    ['more than the limit', () => `x_m\n${'1\n'.repeat(60_000)}`, 413, 'too-large', undefined],
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
    expect((await server.agent.put('/api/circuits/none/corner-names').send({})).status).toBe(404)
  })
})

describe('importing vehicles', () => {
  it('takes a file, replaces the same ids, and refuses absurd numbers', async () => {
    expect((await send('/api/vehicles', text('vehicles.json'))).body).toHaveLength(6)
    const one = JSON.parse(text('vehicles.json'))[0]
    const again = await send('/api/vehicles', JSON.stringify({ ...one, name: 'Hatchback on winter tyres' }))
    expect(again.body).toHaveLength(6)
    expect(again.body.find((v: { id: string }) => v.id === one.id).name).toBe('Hatchback on winter tyres')
    expect((await send('/api/vehicles', JSON.stringify({ ...one, mass_kg: -5 }))).status).toBe(400)
    expect((await send('/api/vehicles', '{')).body.code).toBe('file-unreadable')
  })
})
