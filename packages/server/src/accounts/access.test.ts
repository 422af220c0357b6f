import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { Secret, TOTP } from 'otpauth'
import request from 'supertest'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { serverNow } from '../clock/clock.ts'
import { startTestServer, storedText, type TestServer } from '../test-server.test-data.ts'
import { isCommonPassword } from './common-passwords.ts'
import { nameKey } from './names.ts'

const lead = { name: 'Marit Oakhanger', password: 'reeds and water' }
let server: TestServer
beforeEach(async () => {
  server = await startTestServer()
})
afterEach(() => server.close())
const agent = () => {
  const made = request.agent(server.application.app)
  made.set('Sec-Fetch-Site', 'same-origin')
  return made
}

describe('the first account', () => {
  it('is made once, however many ask at the same time', async () => {
    const answers = await Promise.all(
      Array.from({ length: 6 }, (_, k) =>
        agent()
          .post('/api/accounts/first')
          .send({ name: `Lead ${k}`, password: `reeds and water ${k}` }),
      ),
    )
    expect(answers.filter((answer) => answer.status === 200)).toHaveLength(1)
    expect(await server.stores.accounts.count()).toBe(1)
  })

  it('needs the code that was printed, where others could be faster', async () => {
    await server.close()
    server = await startTestServer({ setUpCode: 'ABCDE-FGHJK' })
    expect((await server.agent.get('/api/session')).body.setUpCode).toBe(true)
    expect((await server.agent.post('/api/accounts/first').send(lead)).body).toMatchObject({ code: 'set-up-code' })
    expect((await server.agent.post('/api/accounts/first').send({ ...lead, code: 'abcde-fghjk ' })).status).toBe(200)
  })
})

describe('passwords', () => {
  it.each([
    ['password1234', true],
    ['P@ssw0rd!!', true],
    ['1234567890', true],
    ['qwertyuiop', true],
    ['aaaaaaaaaaaa', true],
    ['MaritOakhanger1', true],
    ['reeds and water', false],
    ['otter kettle marsh', false],
  ])('%s is common: %s', (password, common) => {
    expect(isCommonPassword(password, lead.name)).toBe(common)
  })

  it('are changed by their owner, which ends every other session', async () => {
    await server.agent.post('/api/accounts/first').send(lead)
    const tablet = agent()
    await tablet.post('/api/session').send(lead)
    const change = (old: string, password: string) => server.agent.put('/api/session/password').send({ old, password })
    expect((await change('wrong one', 'otter kettle marsh')).body.code).toBe('sign-in-failed')
    expect((await change(lead.password, 'password1234')).body.code).toBe('password-common')
    expect((await tablet.get('/api/students')).status).toBe(200)
    expect((await change(lead.password, 'otter kettle marsh')).status).toBe(200)
    expect((await tablet.get('/api/students')).status).toBe(401)
    expect((await server.agent.get('/api/students')).status).toBe(200)
  })
})

describe('names', () => {
  it('are the same whatever their spelling in Unicode, case and blanks', async () => {
    expect(nameKey('  Zoë  Ångström ')).toBe(nameKey('ZOË ÅNGSTRÖM'))
    await server.agent.post('/api/accounts/first').send({ ...lead, name: 'Zoë Farrow' })
    const twice = await server.agent.post('/api/accounts').send({ name: 'Zoë Farrow', password: 'otter kettle marsh', role: 'instructor' })
    expect(twice.body.code).toBe('name-taken')
  })
})

describe('sessions', () => {
  it('are listed with their use, and ended one by one or all others at once', async () => {
    await server.agent.post('/api/accounts/first').send(lead)
    const others = [agent(), agent()]
    for (const other of others) await other.post('/api/session').set('User-Agent', 'Some Browser (Mobile)').send(lead)
    const listed = (await server.agent.get('/api/sessions')).body as { id: string; device: string; current: boolean }[]
    expect(listed).toHaveLength(3)
    expect(listed.filter((one) => one.current)).toHaveLength(1)
    expect(listed.filter((one) => one.device === 'handheld')).toHaveLength(2)
    await server.agent.delete('/api/sessions/others')
    for (const other of others) expect((await other.get('/api/students')).status).toBe(401)
    expect((await server.agent.get('/api/sessions')).body).toHaveLength(1)
  })

  it('end when their account is put away, gets another password by a lead, or is signed out by one', async () => {
    await server.agent.post('/api/accounts/first').send(lead)
    const instructor = { name: 'Dunstan Ilves', password: 'otter kettle marsh', role: 'instructor' }
    const account = (await server.agent.post('/api/accounts').send(instructor)).body
    const tablet = agent()
    const signIn = () => tablet.post('/api/session').send({ name: instructor.name, password: instructor.password })
    await signIn()
    await server.agent.post(`/api/accounts/${account.id}/sign-out`).send({})
    expect((await tablet.get('/api/students')).status).toBe(401)
    await signIn()
    const change = { version: account.version, name: account.name, role: account.role, teaching: account.teaching, archived: true }
    await server.agent.put(`/api/accounts/${account.id}`).send(change)
    expect((await tablet.get('/api/students')).status).toBe(401)
    expect((await signIn()).status).toBe(401)
  })

  it('stand in the database as hashes: a copy of it opens none', async () => {
    const cookie = (await server.agent.post('/api/accounts/first').send(lead)).headers['set-cookie'][0]
    const sid = decodeURIComponent(/ochote\.sid=s%3A([^.;]+)/.exec(cookie)?.[1] ?? '')
    expect(sid.length).toBeGreaterThan(20)
    expect((await storedText(server.opened)).includes(sid)).toBe(false)
    expect(readFileSync(join(server.config.dataDir, 'secret.key'), 'utf8').trim()).toHaveLength(44)
  })
})

/** The code of this moment by the server's clock, which goes on evenly where the machine's is set. */
const codeNow = (totp: TOTP): string => totp.generate({ timestamp: serverNow() })

describe('time-based codes', () => {
  it('are asked for once they are confirmed, each once, until they are taken away', async () => {
    await server.agent.post('/api/accounts/first').send(lead)
    const { secret, uri } = (await server.agent.post('/api/session/codes')).body
    expect(uri).toMatch(/^otpauth:\/\/totp\/Ochote/)
    const totp = new TOTP({ secret: Secret.fromBase32(secret) })
    // Before a code is given nothing changes.
    expect((await agent().post('/api/session').send(lead)).status).toBe(200)
    expect((await server.agent.put('/api/session/codes').send({ code: '000000' })).body.code).toBe('code-wrong')
    expect((await server.agent.put('/api/session/codes').send({ code: codeNow(totp) })).body).toEqual({ on: true })
    expect((await agent().post('/api/session').send(lead)).body.code).toBe('code-needed')
    const code = codeNow(totp)
    expect(
      (
        await agent()
          .post('/api/session')
          .send({ ...lead, code })
      ).status,
    ).toBe(200)
    expect(
      (
        await agent()
          .post('/api/session')
          .send({ ...lead, code })
      ).body.code,
    ).toBe('code-wrong')
    // Nor does it open anything after a restart.
    const { dataDir } = server.config
    await server.close()
    server = await startTestServer({}, dataDir)
    const again = await agent()
      .post('/api/session')
      .send({ ...lead, code })
    expect(again.body.code).toBe('code-wrong')
    expect((await storedText(server.opened)).includes(secret)).toBe(false)
    const next = totp.generate({ timestamp: Date.now() + 30_000 })
    await server.agent.post('/api/session').send({ ...lead, code: next })
    await server.agent.delete('/api/session/codes').send({ password: lead.password })
    expect((await agent().post('/api/session').send(lead)).status).toBe(200)
  })
})

describe('wrong tries', () => {
  it('are remembered over a restart', async () => {
    await server.agent.post('/api/accounts/first').send(lead)
    for (let k = 0; k < 10; k++)
      await agent()
        .post('/api/session')
        .send({ ...lead, password: `wrong ${k}` })
    expect((await agent().post('/api/session').send(lead)).status).toBe(429)
    const { dataDir } = server.config
    await server.close()
    server = await startTestServer({}, dataDir)
    expect((await agent().post('/api/session').send(lead)).body).toMatchObject({ code: 'too-many-tries' })
  })
})
