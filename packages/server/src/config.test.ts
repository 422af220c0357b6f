import { describe, expect, it } from 'vitest'
import { readConfig } from './config.ts'

const read = (...args: string[]) => readConfig(args, '/root')

describe('the command line of the server', () => {
  it('listens to its own machine alone, without certificates, unless told otherwise', () => {
    expect(read()).toMatchObject({ host: '127.0.0.1', port: 4180, tls: { kind: 'off' }, trustProxy: false, address: null })
  })

  it('is secure as soon as other devices reach it, unless somebody or a proxy says otherwise', () => {
    expect(read('--host', '0.0.0.0').tls).toEqual({ kind: 'auto' })
    expect(read('--host', '0.0.0.0', '--tls', 'off').tls).toEqual({ kind: 'off' })
    expect(read('--host', '0.0.0.0', '--trust-proxy').tls).toEqual({ kind: 'off' })
    expect(read('--tls', 'auto').tls).toEqual({ kind: 'auto' })
    expect(read('--tls', '/a/c.pem,/a/k.pem').tls).toEqual({ kind: 'files', cert: '/a/c.pem', key: '/a/k.pem' })
  })

  it('takes the address that phones reach, without a path', () => {
    expect(read('--address', 'https://school.example/anything').address).toBe('https://school.example')
  })

  it('asks for a code before the first account where others could be faster, each time another one', () => {
    expect(read().setUpCode).toBeNull()
    const [first, second] = [read('--host', '0.0.0.0').setUpCode, read('--host', '0.0.0.0').setUpCode]
    expect(first).toMatch(/^[A-Z2-9]{5}-[A-Z2-9]{5}$/)
    expect(first).not.toBe(second)
    expect(read('--trust-proxy').setUpCode).not.toBeNull()
  })

  it('takes other names of the server, and the networks from which receivers may send', () => {
    const config = read('--allow-host', 'mere.local', '--receivers-from', '192.168.7.0/24', '--receivers-from', 'fd00::1')
    expect(config).toMatchObject({ hosts: ['mere.local'], receiversFrom: ['192.168.7.0/24', 'fd00::1'] })
  })

  it.each([
    [['--receivers-from', 'the paddock'], '--receivers-from takes an address or a network'],
    [['--receivers-from', '192.168.7.0/40'], '--receivers-from takes an address or a network'],
    [['--port', '0'], '--port takes a number'],
    [['--tls', 'maybe'], '--tls takes auto, off, or CERT,KEY'],
    [['--tls', 'a,b,c'], '--tls takes auto, off, or CERT,KEY'],
    [['--address', 'school.example'], '--address takes the whole address'],
    [['--receiver-port', 'x'], '--receiver-port takes a number'],
  ])('refuses %j in words', (args, words) => {
    expect(() => read(...args)).toThrow(words)
  })
})
