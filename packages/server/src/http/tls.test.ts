import { X509Certificate } from 'node:crypto'
import { existsSync, mkdtempSync, statSync, writeFileSync } from 'node:fs'
import { createServer, request } from 'node:https'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { onboardingServer } from './onboarding.ts'
import { ownTls, tlsFromFiles } from './tls.ts'

const folder = (): string => mkdtempSync(join(tmpdir(), 'ochote-tls-'))
const names = ['localhost', '127.0.0.1', 'paddock.local', '192.168.7.3']
const DAY_MS = 86_400_000

describe('the server’s own authority', () => {
  it('signs a certificate for every name and address of the server', () => {
    const { cert, key, authority } = ownTls(folder(), names)
    const server = new X509Certificate(cert)
    const ca = new X509Certificate(authority ?? '')
    expect(server.checkIssued(ca)).toBe(true)
    expect(server.verify(ca.publicKey)).toBe(true)
    expect([ca.ca, server.ca]).toEqual([true, false])
    for (const name of ['localhost', 'paddock.local']) expect(server.checkHost(name)).toBe(name)
    for (const ip of ['127.0.0.1', '192.168.7.3']) expect(server.checkIP(ip)).toBe(ip)
    expect(server.checkHost('elsewhere.example')).toBeUndefined()
    expect(key).toContain('PRIVATE KEY')
    expect(Date.parse(server.validTo) - Date.parse(server.validFrom)).toBeLessThanOrEqual(398 * DAY_MS)
  })

  it('stays the same, while the certificate follows the machine’s addresses and its own age', () => {
    const data = folder()
    const first = ownTls(data, names)
    expect(ownTls(data, names)).toEqual(first)
    const moved = ownTls(data, [...names, '10.0.0.9'])
    expect(moved.authority).toBe(first.authority)
    expect(moved.cert).not.toBe(first.cert)
    expect(new X509Certificate(moved.cert).checkIP('10.0.0.9')).toBe('10.0.0.9')
    const later = ownTls(data, [...names, '10.0.0.9'], new Date(Date.now() + 380 * DAY_MS))
    expect(later.cert).not.toBe(moved.cert)
    expect(later.authority).toBe(first.authority)
  })

  it('keeps its keys to their owner', () => {
    const data = folder()
    ownTls(data, names)
    for (const file of ['authority.key', 'server.key']) expect(statSync(join(data, 'tls', file)).mode & 0o077).toBe(0)
    expect(existsSync(join(data, 'tls', 'authority.key.new'))).toBe(false)
  })

  it('is what a client has to trust, and enough', async () => {
    const { cert, key, authority } = ownTls(folder(), names)
    const server = createServer({ cert, key }, (_req, res) => res.end('secure')).listen(0)
    await new Promise((resolve) => server.once('listening', resolve))
    const { port } = server.address() as AddressInfo
    const ask = (ca: string | undefined): Promise<string> =>
      new Promise((resolve, reject) => {
        const sent = request({ host: '127.0.0.1', port, ca, agent: false }, (res) => {
          res.setEncoding('utf8')
          res.on('data', resolve)
        })
        sent.on('error', reject)
        sent.end()
      })
    expect(await ask(authority ?? '')).toBe('secure')
    await expect(ask(undefined)).rejects.toThrow(/certificate/)
    server.close()
  })
})

describe('certificates of one’s own', () => {
  it('are read from two files, and refused in words', () => {
    const { cert, key } = ownTls(folder(), names)
    const at = (name: string, text: string): string => {
      const file = join(folder(), name)
      writeFileSync(file, text)
      return file
    }
    expect(tlsFromFiles(at('c.pem', cert), at('k.pem', key))).toEqual({ cert, key, authority: null })
    expect(() => tlsFromFiles('/none/c.pem', '/none/k.pem')).toThrow('there is no file /none/c.pem')
    expect(() => tlsFromFiles(at('c.pem', 'no certificate'), at('k.pem', key))).toThrow('holds no certificate in PEM form')
  })
})

describe('the plain server beside the secure one', () => {
  it('hands out the authority and leads to the secure address of the same name, and nothing else', async () => {
    const { authority } = ownTls(folder(), names)
    const server = onboardingServer(authority ?? '', 'AB:CD', 4180).listen(0)
    await new Promise((resolve) => server.once('listening', resolve))
    const { port } = server.address() as AddressInfo
    const page = await (await fetch(`http://127.0.0.1:${port}/`)).text()
    expect(page).toContain('href="https://127.0.0.1:4180/"')
    expect(page).toContain('AB:CD')
    expect(page).toContain('Diesem Server einmal vertrauen')
    const file = await fetch(`http://127.0.0.1:${port}/authority.crt`)
    expect(file.headers.get('content-type')).toBe('application/x-x509-ca-cert')
    expect(await file.text()).toBe(authority)
    expect(await (await fetch(`http://127.0.0.1:${port}/api/students`)).text()).toBe(page)
    server.close()
  })
})
