import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { startTestServer, type TestServer } from '../test-server.test-data.ts'
import { hashPassword, passwordFits } from './password.ts'

let server: TestServer
beforeEach(async () => {
  server = await startTestServer()
})
afterEach(() => server.close())

const lead = { name: 'Marit Oakhanger', password: 'reeds and water' }

describe('the first visit', () => {
  it('makes the lead’s account, once, and signs in', async () => {
    const { agent } = server
    expect((await agent.get('/api/session')).body).toMatchObject({ account: null, setUp: false, setUpCode: false, demo: false })
    const made = await agent.post('/api/accounts/first').send(lead)
    expect(made.status).toBe(200)
    expect(made.body.account).toMatchObject({ name: lead.name, role: 'lead' })
    expect((await agent.get('/api/circuits')).status).toBe(200)
    expect((await agent.post('/api/accounts/first').send(lead)).body.code).toBe('already-set-up')
  })

  it('refuses a short password with the field', async () => {
    const answer = await server.agent.post('/api/accounts/first').send({ ...lead, password: 'short' })
    expect(answer.status).toBe(400)
    expect(answer.type).toBe('application/problem+json')
    expect(answer.body).toMatchObject({ code: 'invalid', place: 'password' })
  })
})

describe('signing in and out', () => {
  beforeEach(async () => {
    await server.agent.post('/api/accounts/first').send(lead)
    await server.agent.delete('/api/session')
  })

  it('needs name and password, whatever the case of the name', async () => {
    const { agent } = server
    expect((await agent.get('/api/circuits')).status).toBe(401)
    expect((await agent.post('/api/session').send({ ...lead, password: 'reeds and wine' })).body.code).toBe('sign-in-failed')
    expect((await agent.post('/api/session').send({ ...lead, name: 'nobody' })).body.code).toBe('sign-in-failed')
    expect((await agent.post('/api/session').send({ ...lead, name: 'MARIT oakhanger' })).status).toBe(200)
    expect((await agent.get('/api/circuits')).status).toBe(200)
    await agent.delete('/api/session')
    expect((await agent.get('/api/circuits')).status).toBe(401)
  })

  it('pauses after ten wrong tries', async () => {
    const tries = []
    for (let i = 0; i < 11; i++) tries.push((await server.agent.post('/api/session').send({ name: 'nobody', password: 'wrong' })).status)
    expect(tries.slice(0, 10)).toEqual(Array(10).fill(401))
    expect(tries[10]).toBe(429)
  })

  it('keeps cookies out of scripts and other sites, and changes the session with each sign-in', async () => {
    const first = (await server.agent.post('/api/session').send(lead)).headers['set-cookie'][0]
    const second = (await server.agent.post('/api/session').send(lead)).headers['set-cookie'][0]
    expect(first).toMatch(/HttpOnly/)
    expect(first).toMatch(/SameSite=Strict/)
    expect(first.split(';')[0]).not.toBe(second.split(';')[0])
  })
})

describe('writes and roles', () => {
  it('refuse writes that another site’s page sends, or that name no origin', async () => {
    const { agent } = server
    const foreign = await agent.post('/api/accounts/first').set('Origin', 'https://elsewhere.example').send(lead)
    expect(foreign.status).toBe(403)
    expect(foreign.body.code).toBe('foreign-origin')
    expect((await agent.post('/api/accounts/first').set('Sec-Fetch-Site', 'cross-site').send(lead)).status).toBe(403)
    expect((await agent.post('/api/accounts/first').set('Sec-Fetch-Site', '').send(lead)).status).toBe(403)
  })

  it('let only the lead add people and circuits', async () => {
    const { agent } = server
    await agent.post('/api/accounts/first').send(lead)
    const helper = { name: 'Dunstan Ilves', password: 'gravel pit pass', role: 'instructor' }
    expect((await agent.post('/api/accounts').send(helper)).status).toBe(200)
    expect((await agent.post('/api/accounts').send(helper)).body.code).toBe('name-taken')
    await agent.post('/api/session').send(helper)
    expect((await agent.post('/api/accounts').send({ ...helper, name: 'Another' })).status).toBe(403)
    expect((await agent.post('/api/circuits?name=x').send('x')).status).toBe(403)
    expect((await agent.get('/api/circuits')).status).toBe(200)
  })

  it('have no demo door outside the demo', async () => {
    expect((await server.agent.post('/api/session/demo')).status).toBe(404)
  })
})

describe('passwords', () => {
  it('are salted, and fit only themselves', async () => {
    const [one, two] = await Promise.all([hashPassword('causeway'), hashPassword('causeway')])
    expect(one).not.toBe(two)
    expect(await passwordFits('causeway', one)).toBe(true)
    expect(await passwordFits('Causeway', one)).toBe(false)
    expect(await passwordFits('causeway', null)).toBe(false)
  })
})
