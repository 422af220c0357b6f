import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { testPostgres } from '../db/test-postgres.test-data.ts'
import { startTestServer, type TestServer } from '../test-server.test-data.ts'

let server: TestServer
beforeAll(async () => {
  server = await startTestServer()
})
afterAll(() => server.close())

describe('the numbers of a running server', () => {
  it('are for the lead, in Prometheus’ text form, with nobody’s name in them', async () => {
    expect((await server.agent.get('/api/metrics')).status).toBe(401)
    await server.agent.post('/api/accounts/first').send({ name: 'Marit Oakhanger', password: 'reeds and water' })
    const answer = await server.agent.get('/api/metrics')
    expect(answer.headers['content-type']).toContain('text/plain')
    const numberOf = (name: string): number => Number(new RegExp(`^${name} (.+)$`, 'm').exec(answer.text)?.[1])
    expect(numberOf('ochote_disk_problem')).toBe(0)
    expect(numberOf('ochote_disk_free_bytes')).toBeGreaterThan(0)
    expect(numberOf('ochote_positions_held')).toBe(0)
    expect(numberOf('ochote_failures')).toBe(0)
    // No backup yet.
    expect(numberOf('ochote_backup_timestamp_seconds')).toBeNaN()
    expect(answer.text).toMatch(/^ochote_answer_seconds_count\{method="POST",status="200"\} 1$/m)
    expect(answer.text).toMatch(/^ochote_answer_seconds_count\{method="GET",status="401"\} 1$/m)
    expect(answer.text).not.toContain('Marit')
    // A school in PostgreSQL is backed up there.
    if (testPostgres) return
    await server.agent.post('/api/backups')
    const after = (await server.agent.get('/api/metrics')).text
    const made = Number(/^ochote_backup_timestamp_seconds (.+)$/m.exec(after)?.[1])
    expect(Math.abs(made - Date.now() / 1000)).toBeLessThan(600)
  })
})
