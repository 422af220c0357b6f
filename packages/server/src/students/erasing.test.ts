import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { StoredStudent } from '@ochote/contract'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { startDemoServer, storedText, type TestServer } from '../test-server.test-data.ts'

const today = 'day-2027-05-15'
let server: TestServer
beforeAll(async () => {
  server = await startDemoServer()
}, 120_000)
afterAll(() => server.close())

/** Where some bytes stand: files of the data folder, backups aside, and the database, which may be elsewhere. */
const placesWith = async (text: string): Promise<string[]> => {
  const stored = (await storedText(server.opened)).includes(text) ? ['database'] : []
  const files = readdirSync(server.config.dataDir, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name))
    .filter((path) => !path.includes('/backups/') && readFileSync(path).includes(text))
  return [...stored, ...files]
}

describe('erasing a student', () => {
  it('leaves nothing of them in any file: no word, no name, no id, no recording', async () => {
    const id = uuid()
    const [name, word] = ['Nele Quastenfloss', 'kneeafterthecrash']
    const profile = { experience: word, car: '', goals: word, worries: [], language: null }
    const student = { id, name, level: 'steady', talk: 'guided', units: 'metric', profile }
    expect((await server.agent.post('/api/students').send(student)).status).toBe(200)
    const day = (await server.agent.get(`/api/days/${today}`)).body
    const carId = uuid()
    const own = { version: 0, number: '77', vehicleId: 'hatchback', studentId: id, archived: false }
    expect((await server.agent.put(`/api/cars/${carId}`).send(own)).status).toBe(200)
    const cars = [...day.plan.cars, { id: carId, number: '77', vehicleId: 'hatchback', owner: name }]
    const withThem = { ...day.plan, cars, studentIds: [...day.plan.studentIds, id] }
    expect((await server.agent.put(`/api/days/${today}`).send({ version: day.version, plan: withThem })).status).toBe(200)
    const runId = uuid()
    const run = { id: runId, dayId: today, slotId: null, studentId: id, settings: day.plan.settings, startedAt: new Date().toISOString() }
    expect((await server.agent.post('/api/runs').send(run)).status).toBe(200)
    const note = {
      id: uuid(),
      runId,
      at: new Date().toISOString(),
      kind: 'note',
      station_m: 120,
      to_m: null,
      lap: null,
      text: `Mind the ${word}`,
    }
    expect((await server.agent.post('/api/events').send({ events: [note] })).body.stored).toEqual([note.id])
    await server.agent.post(`/api/days/${today}/links/${id}`)
    const told = { id: uuid(), studentId: id, at: new Date().toISOString(), kind: 'hand-over', text: `Careful: ${word}` }
    expect((await server.agent.post(`/api/students/${id}/events`).send(told)).status).toBe(200)
    const recordings = join(server.config.dataDir, 'recordings')
    mkdirSync(recordings, { recursive: true })
    writeFileSync(join(recordings, `${runId}.csv`), 'time_s,lat_deg,lon_deg,ele_m\n')
    for (const kept of [name, word, id]) expect((await placesWith(kept)).length, kept).toBeGreaterThan(0)

    const left = (await server.agent.delete(`/api/students/${id}`)).body as StoredStudent[]
    expect(left.some((one) => one.id === id)).toBe(false)
    // The trail says that somebody was erased by their id alone, which leads nowhere any more.
    await server.opened
      .db('trail')
      .where({ about: `student:${id}` })
      .delete()
    for (const gone of [name, word, id]) expect(await placesWith(gone), gone).toEqual([])
    expect(readdirSync(recordings)).toEqual([])
  })
})
