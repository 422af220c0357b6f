import { dayFileSchema } from '@ochote/contract'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { startDemoServer, type TestServer } from '../test-server.test-data.ts'

let server: TestServer
beforeAll(async () => {
  server = await startDemoServer()
}, 120_000)
afterAll(() => server.close())

describe('a day as a file', () => {
  it('holds what its cones are computed from, and of students only how they want to be called', async () => {
    const { body } = await server.agent.get('/api/days/day-2027-05-15/file')
    const file = dayFileSchema.parse(body)
    expect(file.day.title.length).toBeGreaterThan(3)
    expect(file.circuit.survey.x_m.length).toBeGreaterThan(100)
    expect(file.vehicles.map((v) => v.id)).toContain(file.day.settings.vehicleId)
    for (const { vehicleId } of file.day.cones.served) expect(file.vehicles.map((v) => v.id)).toContain(vehicleId)
    const students = await server.stores.students.all()
    expect(file.students.length).toBeGreaterThan(3)
    for (const { name } of students) expect(JSON.stringify(body)).not.toContain(name)
  })

  it('is only for those who are signed in', async () => {
    await server.agent.delete('/api/session')
    expect((await server.agent.get('/api/days/day-2027-05-15/file')).status).toBe(401)
    await server.agent.post('/api/session/demo')
    expect((await server.agent.get('/api/days/no-such-day/file')).status).toBe(404)
  })
})
