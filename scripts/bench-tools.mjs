// What several measurements do alike.
import { readFileSync } from 'node:fs'
import { connect } from 'node:net'

/** Middle, high and highest of some times (ms). */
export const percentiles = (list) => {
  const sorted = [...list].sort((a, b) => a - b)
  const at = (share) => Math.round(10 * (sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? Number.NaN)) / 10
  return { count: sorted.length, p50: at(0.5), p95: at(0.95), p99: at(0.99), most: at(1) }
}

/** Memory that a process holds (MB), as Linux tells it. */
export const residentMB = (pid) => Math.round(Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]) / 102.4) / 10

/** The plan of the demo's day with one of its vehicles. */
export const demoPlan = (core) => {
  const scenario = JSON.parse(readFileSync('demo/scenario.json', 'utf8'))
  const circuit = core.buildCircuit(core.readCircuit(readFileSync(`demo/${scenario.circuits[0].file}`, 'utf8'), 'x'))
  const vehicle = JSON.parse(readFileSync('demo/vehicles.json', 'utf8'))[0]
  return core.makePlan(core.makeVenue(circuit, scenario.circuits[0]), vehicle, scenario.day.settings)
}

/**
 * Sends the positions of cars that drive one log round and round, each from another place of it, at its rate and by the clock. `more`: what
 * else of the log goes along, by its row.
 */
export const carsOnTrack = (core, { log, cars, port, rate_hz, more = () => ({}) }) => {
  const sockets = cars.map((car, k) => ({ number: car.number, offset: 200 * k, socket: connect(port + (k % 16), '127.0.0.1') }))
  const start_ms = Date.now()
  let sent = 0
  const sending = setInterval(() => {
    const due = Math.floor(((Date.now() - start_ms) / 1000) * rate_hz)
    for (; sent < due; sent++)
      for (const { number, offset, socket } of sockets) {
        const i = (sent + offset) % log.time_s.length
        const fix = {
          time_s: start_ms / 1000 + sent / rate_hz,
          lat_deg: log.lat_deg[i],
          lon_deg: log.lon_deg[i],
          ele_m: log.ele_m[i],
          speed_mps: log.speed_mps[i],
        }
        socket.write(`${core.writeJsonLine({ ...fix, ...more(i), car: number })}\n`)
      }
  }, 10)
  return {
    /** Positions sent, of all cars. */
    sent: () => sent * sockets.length,
    stop: () => {
      clearInterval(sending)
      for (const { socket } of sockets) socket.destroy()
    },
  }
}
