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

  it.each([
    [['--port', '0'], '--port takes a number'],
    [['--tls', 'maybe'], '--tls takes auto, off, or CERT,KEY'],
    [['--tls', 'a,b,c'], '--tls takes auto, off, or CERT,KEY'],
    [['--address', 'school.example'], '--address takes the whole address'],
    [['--receiver-port', 'x'], '--receiver-port takes a number'],
  ])('refuses %j in words', (args, words) => {
    expect(() => read(...args)).toThrow(words)
  })
})
