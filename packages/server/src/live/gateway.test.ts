import { createSocket } from 'node:dgram'
import { type AddressInfo, connect, createServer, type Server } from 'node:net'
import { type ReceivedFix, writeJsonLine, writeNmea } from '@ochote/core'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { type ReceiverGateway, receiverGateway } from './gateway.ts'

/** The ports of the gateway under test: free ones, so that a busy machine disturbs nothing. */
let port = 0
let otherPort = 0
let gateway: ReceiverGateway
const listener = (): Promise<Server> =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => resolve(server))
  })
beforeEach(async () => {
  const holders = [await listener(), await listener()]
  ;[port, otherPort] = holders.map((holder) => (holder.address() as AddressInfo).port)
  for (const holder of holders) holder.close()
})
afterEach(() => gateway.close())

const fix = (time_s: number): ReceivedFix => ({ time_s, lat_deg: 0.01, lon_deg: 0.02, speed_mps: 20, ele_m: 4 })
const at = Date.UTC(2027, 4, 15, 9) / 1000

const listening = async (): Promise<{ got: [string, number, number][]; byes: string[] }> => {
  const got: [string, number, number][] = []
  const byes: string[] = []
  gateway = receiverGateway([port, otherPort], {
    fix: (car, f, factor) => {
      got.push([car, f.time_s, factor])
      return { fault: null, rate_hz: 10, clockAhead_s: 0 }
    },
    bye: (car) => byes.push(car),
  })
  await gateway.listen('127.0.0.1')
  gateway.assign(port, '7')
  return { got, byes }
}
const byTcp = (to: number, text: string): Promise<void> =>
  new Promise((resolve) => {
    const socket = connect(to, '127.0.0.1', () => socket.end(text, () => resolve()))
  })

describe('the gateway', () => {
  it('takes NMEA and JSON lines by TCP, however they are cut into packets', async () => {
    const { got, byes } = await listening()
    await byTcp(port, `${writeNmea(fix(at)).join('\r\n')}\r\n${writeJsonLine(fix(at + 1))}\n{"bye":"x"}\n`)
    await vi.waitFor(() => expect(byes).toEqual(['7']))
    expect(got).toEqual([
      ['7', at, 1],
      ['7', at + 1, 1],
    ])
    const [state] = gateway.receivers()
    expect(state).toMatchObject({ via: 'tcp', fixes: 2, lines: 5, simulated: false, carNumber: '7' })
  })

  it('takes the same by UDP', async () => {
    const { got } = await listening()
    const socket = createSocket('udp4')
    for (const line of writeNmea(fix(at))) socket.send(`${line}\r\n`, port, '127.0.0.1')
    await vi.waitFor(() => expect(got).toEqual([['7', at, 1]]))
    expect(gateway.receivers()[0].via).toBe('udp')
    socket.close()
  })

  it('counts damage, the unknown and garbage, and goes on', async () => {
    const { got } = await listening()
    const good = writeNmea(fix(at))[2]
    const noise = Buffer.from(Array.from({ length: 9000 }, (_, i) => (i * 7919) % 251)).toString('latin1')
    await byTcp(
      port,
      `${good.replace('A', 'B')}\r\n$GPGSV,1,1,00*79\r\n${noise.replaceAll('\n', '.').replaceAll('\r', '.')}\r\n${good}\r\n`,
    )
    await vi.waitFor(() => expect(got).toHaveLength(1))
    const [state] = gateway.receivers()
    expect(state.checksumErrors).toBe(1)
    expect(state.unknown).toBe(1)
    expect(state.garbage).toBeGreaterThan(0)
  })

  it('says that a car is not known, and knows simulated ones by their greeting', async () => {
    const { got } = await listening()
    await byTcp(otherPort, `${writeNmea(fix(at)).join('\r\n')}\r\n`)
    await vi.waitFor(() => expect(gateway.receivers()[1].fault).toBe('unknown-car'))
    await byTcp(otherPort, `{"hello":"simulated logger","factor":4,"car":"12"}\n${writeNmea(fix(at)).join('\r\n')}\r\n`)
    await vi.waitFor(() => expect(got).toEqual([['12', at, 4]]))
    expect(gateway.receivers()[1]).toMatchObject({ simulated: true, factor: 4 })
    expect(gateway.portOf('7')).toBe(port)
  })

  it('leaves a car with whoever sends for it, until that has been silent for ten seconds', () => {
    const clock = { now_ms: 1000 * at }
    const got: [string, number][] = []
    gateway = receiverGateway(
      [port, otherPort],
      {
        fix: (car, f) => {
          got.push([car, f.time_s])
          return { fault: null, rate_hz: 10, clockAhead_s: 0 }
        },
        bye: () => got.push(['bye', 0]),
      },
      { now: () => clock.now_ms },
    )
    gateway.assign(port, '7')
    const line = (time_s: number) => writeJsonLine({ ...fix(time_s), car: '7' })
    gateway.line(port, 'tcp', '192.168.7.11', line(at))
    // Somebody else names the same car, on another port and on its own.
    gateway.line(otherPort, 'tcp', '192.168.7.66', line(at + 1))
    gateway.line(port, 'udp', '192.168.7.66', line(at + 2))
    gateway.line(otherPort, 'tcp', '192.168.7.66', '{"bye":"x"}')
    expect(got).toEqual([['7', at]])
    expect(gateway.receivers()[1].fault).toBe('car-taken')
    clock.now_ms += 10_001
    gateway.line(otherPort, 'tcp', '192.168.7.66', line(at + 11))
    expect(got).toEqual([
      ['7', at],
      ['7', at + 11],
    ])
  })

  it('does not look at lines of senders that are not allowed', async () => {
    const got: string[] = []
    const sink = {
      fix: (car: string) => {
        got.push(car)
        return { fault: null, rate_hz: 10, clockAhead_s: 0 }
      },
      bye: () => {},
    }
    gateway = receiverGateway([port, otherPort], sink, { allows: (address) => address === '192.168.7.11' })
    await gateway.listen('127.0.0.1')
    gateway.assign(port, '7')
    const socket = connect(port, '127.0.0.1')
    await new Promise<void>((resolve) => socket.once('close', () => resolve()))
    expect(gateway.receivers()[0].lines).toBe(0)
    expect(got).toEqual([])
  })
})
