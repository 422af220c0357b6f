import { createSocket, type Socket as UdpSocket } from 'node:dgram'
import { createServer, type Server } from 'node:net'
import type { Receiver } from '@ochote/contract'
import { type NmeaReader, nmeaReader, type ReceivedFix, type ReceiverFault, readJsonLine } from '@ochote/core'

/** What a position gave downstream: what is wrong with it, and how its clock and rate stand. */
export type Taken = { fault: ReceiverFault | 'unknown-car' | 'no-day' | null; rate_hz: number; clockAhead_s: number }

/** Where positions go. `now_ms`: when the line arrived. */
export type FixSink = {
  fix: (carNumber: string, fix: ReceivedFix, factor: number, now_ms: number) => Taken
  bye: (carNumber: string) => void
}

/** A line longer than this is no line of a receiver. */
const LONGEST_LINE = 4096

type State = Receiver & { nmea: NmeaReader; named: string | null }

const fresh = (port: number, carNumber: string | null): State => ({
  port,
  carNumber,
  via: null,
  from: null,
  simulated: false,
  factor: 1,
  lines: 0,
  fixes: 0,
  checksumErrors: 0,
  unknown: 0,
  garbage: 0,
  rate_hz: 0,
  clockAhead_s: 0,
  lastAt: null,
  fault: null,
  nmea: nmeaReader(),
  named: null,
})

/**
 * Takes lines from receivers on a row of ports, each by TCP and by UDP: NMEA 0183 sentences or JSON lines, told apart by their first
 * character. A port belongs to a car; a JSON line may name its car itself. Lines that cannot be read are counted and do no harm.
 */
export const receiverGateway = (ports: readonly number[], sink: FixSink, now: () => number = Date.now) => {
  const states = new Map(ports.map((port) => [port, fresh(port, null)]))
  const servers: (Server | UdpSocket)[] = []

  const line = (port: number, via: 'tcp' | 'udp', from: string, text: string): void => {
    const state = states.get(port)
    if (!state || text.length === 0) return
    state.lines++
    state.via = via
    state.from = from
    const now_ms = now()
    const read = text.startsWith('{') ? readJsonLine(text) : state.nmea(text, now_ms / 1000)
    switch (read.kind) {
      case 'hello':
        state.simulated = read.hello.hello.startsWith('simulated')
        state.factor = read.hello.factor
        state.named = read.hello.car ?? null
        return
      case 'bye': {
        const car = state.named ?? state.carNumber
        if (car) sink.bye(car)
        return
      }
      case 'fix': {
        state.fixes++
        state.lastAt = new Date(now_ms).toISOString()
        const car = read.fix.car ?? state.named ?? state.carNumber
        if (!car) {
          state.fault = 'unknown-car'
          return
        }
        Object.assign(state, sink.fix(car, read.fix, state.factor, now_ms))
        return
      }
      case 'checksum':
        state.checksumErrors++
        return
      case 'garbage':
        state.garbage++
        return
      case 'unknown':
        state.unknown++
    }
  }

  const listenOn = (port: number, host: string): Promise<void>[] => {
    const tcp = createServer((socket) => {
      let rest = ''
      // A new connection is a new receiver: what the last one said of itself does not hold for it.
      const state = states.get(port)
      if (state) Object.assign(state, { simulated: false, factor: 1, named: null, nmea: nmeaReader() })
      socket.setEncoding('utf8')
      socket.on('data', (chunk: string) => {
        const lines = (rest + chunk).split(/\r?\n/)
        rest = lines.pop() ?? ''
        for (const text of lines) line(port, 'tcp', socket.remoteAddress ?? '', text)
        if (rest.length > LONGEST_LINE) {
          line(port, 'tcp', socket.remoteAddress ?? '', rest.slice(0, LONGEST_LINE))
          rest = ''
        }
      })
      socket.on('error', () => socket.destroy())
    })
    const udp = createSocket('udp4')
    udp.on('message', (message, { address }) => {
      for (const text of message.toString('utf8').split(/\r?\n/)) line(port, 'udp', address, text)
    })
    servers.push(tcp, udp)
    return [
      new Promise((resolve, reject) => {
        tcp.once('error', reject)
        tcp.listen(port, host, resolve)
      }),
      new Promise((resolve, reject) => {
        udp.once('error', reject)
        udp.bind(port, host, resolve)
      }),
    ]
  }

  return {
    line,
    /** Opens all ports. @throws where one is in use by another program */
    listen: async (host: string): Promise<void> => {
      await Promise.all(ports.flatMap((port) => listenOn(port, host)))
    },
    /** Says which car sends to a port; null: none. */
    assign: (port: number, carNumber: string | null): void => {
      const state = states.get(port)
      if (state && state.carNumber !== carNumber) states.set(port, fresh(port, carNumber))
    },
    portOf: (carNumber: string): number | null => [...states.values()].find((s) => s.carNumber === carNumber)?.port ?? null,
    /** Every port with what came in; a receiver that has been silent for two seconds has no rate. */
    receivers: (): Receiver[] =>
      [...states.values()].map(({ nmea: _, named: __, ...state }) =>
        state.lastAt && now() - Date.parse(state.lastAt) > 2000 ? { ...state, rate_hz: 0 } : state,
      ),
    close: (): void => {
      for (const server of servers) server.close()
    },
  }
}
export type ReceiverGateway = ReturnType<typeof receiverGateway>
