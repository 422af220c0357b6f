import { createSocket, type Socket as UdpSocket } from 'node:dgram'
import { createServer, type Server } from 'node:net'
import type { Receiver } from '@ochote/contract'
import { type NmeaReader, nmeaReader, type ReceivedFix, type ReceiverFault, readJsonLine } from '@ochote/core'

/** Outcome of a position: what is wrong with it, and the state of its clock and rate. */
export type Taken = { fault: ReceiverFault | 'unknown-car' | 'car-taken' | 'no-day' | null; rate_hz: number; clockAhead_s: number }

/** Receiver of positions. `now_ms`: when the line arrived. */
export type FixSink = {
  fix: (carNumber: string, fix: ReceivedFix, factor: number, now_ms: number) => Taken
  bye: (carNumber: string) => void
}

/** Maximum length of a receiver's line (characters). */
const MAX_LINE = 4096

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

/** How long a car stays with whoever sent its last position (ms): nobody else sends for it meanwhile. */
const HELD_MS = 10_000

/** Who sends for which car: the port and the address of its last position, and when that came. */
const carHolders = () => {
  const holders = new Map<string, { sender: string; at: number }>()
  return {
    /** True where a sender may send for a car; it holds the car from then on. */
    take: (car: string, sender: string, now_ms: number): boolean => {
      const before = holders.get(car)
      if (before && before.sender !== sender && now_ms - before.at < HELD_MS) return false
      holders.set(car, { sender, at: now_ms })
      return true
    },
  }
}
type CarHolders = ReturnType<typeof carHolders>

/** Takes one line that arrived at a port: counts it, and passes its contents on. */
type Arrived = { via: 'tcp' | 'udp'; from: string; text: string; now_ms: number }

const takeLine = (state: State, { via, from, text, now_ms }: Arrived, sink: FixSink, holders: CarHolders): void => {
  state.lines++
  state.via = via
  state.from = from
  const read = text.startsWith('{') ? readJsonLine(text) : state.nmea(text, now_ms / 1000)
  switch (read.kind) {
    case 'hello':
      state.simulated = read.hello.hello.startsWith('simulated')
      state.factor = read.hello.factor
      state.named = read.hello.car ?? null
      return
    case 'bye': {
      const car = state.named ?? state.carNumber
      if (car && holders.take(car, `${state.port} ${from}`, now_ms)) sink.bye(car)
      return
    }
    case 'fix': {
      state.fixes++
      state.lastAt = new Date(now_ms).toISOString()
      const car = read.fix.car ?? state.named ?? state.carNumber
      if (!car) state.fault = 'unknown-car'
      else if (holders.take(car, `${state.port} ${from}`, now_ms)) Object.assign(state, sink.fix(car, read.fix, state.factor, now_ms))
      else state.fault = 'car-taken'
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

/** Cuts a stream of text into lines; what is too long for a line is passed on cut off. */
const lineCutter = (onLine: (text: string) => void): ((chunk: string) => void) => {
  let rest = ''
  return (chunk) => {
    const lines = (rest + chunk).split(/\r?\n/)
    rest = lines.pop() ?? ''
    for (const text of lines) onLine(text)
    if (rest.length <= MAX_LINE) return
    onLine(rest.slice(0, MAX_LINE))
    rest = ''
  }
}

/** Events of a port's servers. A TCP connection is a receiver of its own; UDP messages name none. */
type PortEvents = {
  onConnection: () => void
  onLine: (via: 'tcp' | 'udp', from: string, text: string) => void
  allows: (address: string) => boolean
}

const tcpServer = ({ onConnection, onLine, allows }: PortEvents): Server =>
  createServer((socket) => {
    if (!allows(socket.remoteAddress ?? '')) {
      socket.destroy()
      return
    }
    onConnection()
    socket.setEncoding('utf8')
    socket.on(
      'data',
      lineCutter((text) => onLine('tcp', socket.remoteAddress ?? '', text)),
    )
    socket.on('error', () => socket.destroy())
  })

const udpServer = ({ onLine, allows }: PortEvents): UdpSocket => {
  const udp = createSocket('udp4')
  udp.on('message', (message, { address }) => {
    if (!allows(address)) return
    for (const text of message.toString('utf8').split(/\r?\n/)) onLine('udp', address, text)
  })
  return udp
}

/** Resolves once a server has its port. */
const started = (server: Server | UdpSocket, start: (done: () => void) => void): Promise<void> =>
  new Promise((resolve, reject) => {
    server.once('error', reject)
    start(resolve)
  })

/** Resolves once a server has given its port back; at once for one that never had it. */
const closed = (server: Server | UdpSocket): Promise<void> =>
  new Promise((resolve) => {
    try {
      server.close(() => resolve())
    } catch {
      resolve()
    }
  })

/**
 * Takes lines from receivers on a row of ports, each by TCP and by UDP: NMEA 0183 sentences or JSON lines, told apart by their first
 * character. A port belongs to a car; a JSON line may name its car itself, unless somebody else is sending for that car. Lines that
 * cannot be read are counted and do no harm; those of senders that are not allowed are not looked at.
 */
export const receiverGateway = (
  ports: readonly number[],
  sink: FixSink,
  { now = Date.now, allows = () => true }: { now?: () => number; allows?: (address: string) => boolean } = {},
) => {
  const states = new Map(ports.map((port) => [port, fresh(port, null)]))
  const servers: (Server | UdpSocket)[] = []
  const holders = carHolders()

  const line = (port: number, via: 'tcp' | 'udp', from: string, text: string): void => {
    const state = states.get(port)
    if (state && text.length > 0) takeLine(state, { via, from, text, now_ms: now() }, sink, holders)
  }
  const eventsOf = (port: number): PortEvents => ({
    // A new connection is a new receiver: what the last one said of itself does not hold for it.
    onConnection: () => Object.assign(states.get(port) ?? {}, { simulated: false, factor: 1, named: null, nmea: nmeaReader() }),
    onLine: (via, from, text) => line(port, via, from, text),
    allows,
  })

  return {
    line,
    /** Opens all ports. @throws where one is in use by another program */
    listen: async (host: string): Promise<void> => {
      const opening = ports.flatMap((port) => {
        const [tcp, udp] = [tcpServer(eventsOf(port)), udpServer(eventsOf(port))]
        servers.push(tcp, udp)
        return [started(tcp, (done) => tcp.listen(port, host, done)), started(udp, (done) => udp.bind(port, host, done))]
      })
      // All or none, so that it can be tried again.
      const failed = (await Promise.allSettled(opening)).find((one) => one.status === 'rejected')
      if (!failed) return
      await Promise.all(servers.splice(0).map(closed))
      throw failed.reason
    },
    /** Sets the car that sends to a port; null: none. */
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
