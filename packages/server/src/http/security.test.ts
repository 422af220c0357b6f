import express from 'express'
import request from 'supertest'
import { describe, expect, it } from 'vitest'
import { type Config, defaultConfig } from '../config.ts'
import { withoutTokens } from './problems.ts'
import { hostCheck, isSecure, originCheck, securityHeaders } from './security.ts'

const appOf = (change: Partial<Config> = {}) => {
  const config = { ...defaultConfig('/nowhere'), ...change }
  const app = express()
  if (config.trustProxy) app.set('trust proxy', 1)
  app.use(securityHeaders(config), hostCheck(config), originCheck)
  app.all('/', (_req, res) => {
    res.send('in')
  })
  return app
}
const get = (app: express.Express, host: string) => request(app).get('/').set('Host', host)

describe('the name by which a server is called', () => {
  it('is its machine’s own, or one that was given; any other reads nothing', async () => {
    const app = appOf({ hosts: ['Mere.local'] })
    for (const host of ['localhost:4180', '127.0.0.1', 'mere.local', '[::1]:4180']) expect((await get(app, host)).status, host).toBe(200)
    for (const host of ['rebound.example', '169.254.1.1', 'localhost.example']) {
      const answer = await get(app, host)
      expect(answer.status, host).toBe(421)
      expect(answer.body).toMatchObject({ code: 'unknown-host', remedy: expect.stringContaining('--allow-host') })
    }
  })

  it('behind a proxy is the address that was given, or the proxy’s affair', async () => {
    const given = appOf({ trustProxy: true, address: 'https://school.example' })
    const by = (app: express.Express, host: string) => get(app, 'localhost').set('X-Forwarded-Host', host)
    expect((await by(given, 'school.example')).status).toBe(200)
    expect((await by(given, 'other.example')).status).toBe(421)
    expect((await by(appOf({ trustProxy: true }), 'anything.example')).status).toBe(200)
  })
})

describe('writes', () => {
  it('come from pages of this very server', async () => {
    const app = appOf()
    const post = (headers: Record<string, string>) => request(app).post('/').set('Host', 'localhost:4180').set(headers)
    expect((await post({ Origin: 'http://localhost:4180' })).status).toBe(200)
    expect((await post({ 'Sec-Fetch-Site': 'same-origin' })).status).toBe(200)
    for (const headers of [{ Origin: 'http://localhost:4181' }, { Origin: 'null' }, { 'Sec-Fetch-Site': 'cross-site' }, {}])
      expect((await post(headers as Record<string, string>)).status, JSON.stringify(headers)).toBe(403)
  })
})

describe('transport security', () => {
  it('is asked for where there is a certificate, and not for this machine’s other programs', async () => {
    expect(isSecure(defaultConfig('/nowhere'))).toBe(false)
    expect(isSecure({ ...defaultConfig('/nowhere'), tls: { kind: 'auto' } })).toBe(true)
    const app = appOf({ tls: { kind: 'auto' }, hosts: ['mere.local'] })
    expect((await get(app, 'mere.local')).headers['strict-transport-security']).toMatch(/^max-age=\d+$/)
    expect((await get(app, 'localhost')).headers['strict-transport-security']).toBeUndefined()
    expect((await get(appOf(), 'localhost')).headers['strict-transport-security']).toBeUndefined()
  })
})

describe('a path in the log', () => {
  it.each([
    ['/api/portal/secret-token/quiz?x=1', '/api/portal/…/quiz'],
    ['/api/sheets/secret-token', '/api/sheets/…'],
    ['/api/board/secret-token', '/api/board/…'],
    ['/s/secret-token/drives/7', '/s/…/drives/7'],
    ['/sheet/secret-token', '/sheet/…'],
    ['/api/students?name=Imke', '/api/students'],
  ])('%s is told as %s', (url, told) => {
    expect(withoutTokens(url)).toBe(told)
  })
})
