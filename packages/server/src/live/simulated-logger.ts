import { createSocket } from 'node:dgram'
import { connect } from 'node:net'
import type { Run, Simulation, StoredPlan } from '@ochote/contract'
import { type Correction, optionalColumns, type ReceivedFix, type RunEvent, seedOf, standing, writeJsonLine, writeNmea } from '@ochote/core'
import type { Jobs } from '../jobs/jobs.ts'
import type { SimulateInput, SimulateOutput } from '../jobs/tasks.ts'

/** Skill of the made-up students: halfway between new and steady. */
const SKILL = 0.3
/** Lines go out this often (ms), all that are due. */
const TICK_MS = 40

/** The way from a stand-in to the gateway. */
export type LineOut = { send: (line: string) => void; close: () => void }

/** Sends lines over a real socket to a port of this machine, as a receiver in a car would. */
export const socketTo = (port: number, form: Simulation['form']): LineOut => {
  if (form === 'nmea-udp') {
    const socket = createSocket('udp4')
    return { send: (line) => socket.send(`${line}\r\n`, port, '127.0.0.1'), close: () => socket.close() }
  }
  const socket = connect(port, '127.0.0.1')
  // A gateway that goes away takes its lines with it, as over the air.
  socket.on('error', () => {})
  return { send: (line) => socket.write(`${line}\r\n`), close: () => socket.end() }
}

type Playing = {
  run: Run
  simulation: Simulation
  drive: SimulateOutput
  /** In which lap each event was heard, and the grip that each lap began with: what was driven before stays as it was. */
  heardIn: Map<string, number>
  gripFrom: { lap: number; grip: number }[]
  next: number
  lap: number
  carNumber: string
  out: LineOut
  timer: ReturnType<typeof setInterval>
}

/** What the stand-in needs of its surroundings. */
export type LoggerOptions = {
  jobs: Jobs
  sourceOf: (run: Run) => Promise<StoredPlan>
  eventsOf: (runId: string) => Promise<RunEvent[]>
  /** Opens the way to the gateway's port of a car; null where it has none. */
  wayOf: (carNumber: string, form: Simulation['form']) => LineOut | null
  /** Grip of the road as the weather leaves it, as a share of the plan's. */
  gripNow: () => number
  now?: () => number
}

/** How a run is driven, by its simulation and by what was said so far. */
const inputOf = (
  { run, simulation, heardIn, gripFrom }: Pick<Playing, 'run' | 'simulation' | 'heardIn' | 'gripFrom'>,
  source: StoredPlan,
  events: readonly RunEvent[],
): SimulateInput => {
  const { seed, rate_hz, noise_m, dropOuts, sighting, laps, coolDown, habits } = simulation
  const heard = standing(events)
  const since = (id: string, lap: number): number => Math.max(lap, heardIn.get(id) ?? lap)
  const shortened = heard.flatMap((e) =>
    e.kind === 'lap-kind' && (e.lapKind === 'cool-down' || e.lapKind === 'in') ? [e.lapKind === 'in' ? e.lap - 1 : e.lap] : [],
  )
  const total = Math.max(1, Math.min(sighting + laps + coolDown, ...shortened))
  const slowLaps = Array.from({ length: total }, (_, k) => k + 1).filter((lap) => lap <= sighting || lap > sighting + laps)
  const cooled = heard.flatMap((e) => (e.kind === 'lap-kind' && e.lapKind === 'cool-down' ? [e.lap] : []))
  // What was said counts from the next lap on.
  const agreed = heard.flatMap((e) => (e.kind === 'pace' ? [{ lap: since(e.id, e.lap) + 1, pace: e.pace }] : []))
  const paceFrom = [...agreed, ...gripFrom.map(({ lap }) => ({ lap, pace: Number.NaN }))]
    .sort((a, b) => a.lap - b.lap)
    .map(({ lap }) => {
      const pace = agreed.findLast((p) => p.lap <= lap)?.pace ?? source.settings.pace
      return { lap, pace: pace * (gripFrom.findLast((g) => g.lap <= lap)?.grip ?? 1) }
    })
  return {
    ...source,
    seed,
    habitSeed: seedOf(run.studentId),
    skill: SKILL,
    laps: total,
    rate_hz,
    noise_m,
    dropOuts,
    habits: habits !== 'none',
    wild: habits === 'wild',
    slowLaps: [...slowLaps, ...cooled],
    paceFrom,
    corrected: heard.flatMap((e): Correction[] =>
      e.kind === 'observation' ? [{ cornerId: e.cornerId, code: e.code, lap: since(e.id, e.lap) }] : [],
    ),
  }
}

/**
 * Stand-in for the logger in a car. It drives the run in the core and sends what a receiver would send, as lines over a
 * socket to the gateway, by the clock. The student learns from what is logged: the laps still to come are driven anew. A drive
 * depends on its seed, its start and the events alone, so after a restart of the server it goes on where the clock says.
 */
export const simulatedLogger = ({ jobs, sourceOf, eventsOf, wayOf, gripNow, now = Date.now }: LoggerOptions) => {
  const playing = new Map<string, Playing>()
  const starting = new Map<string, Promise<void>>()

  /** Drives that have come to their end, until their run is over. */
  const done = new Map<string, SimulateOutput>()

  const drive = async (one: Pick<Playing, 'run' | 'simulation' | 'heardIn' | 'gripFrom'>): Promise<SimulateOutput> =>
    jobs.simulate(inputOf(one, await sourceOf(one.run), await eventsOf(one.run.id)))
  const elapsed_s = ({ startedAt, speedFactor }: Simulation): number => ((now() - Date.parse(startedAt)) / 1000) * speedFactor

  const firstAfter = (times: Float64Array, time_s: number): number => {
    let low = 0
    let high = times.length
    while (low < high) {
      const middle = (low + high) >> 1
      if (times[middle] <= time_s) low = middle + 1
      else high = middle
    }
    return low
  }
  const fixAt = ({ simulation, carNumber, drive: { log } }: Playing, i: number): ReceivedFix => {
    const fix: ReceivedFix = {
      time_s: Date.parse(simulation.startedAt) / 1000 + log.time_s[i],
      lat_deg: log.lat_deg[i],
      lon_deg: log.lon_deg[i],
      ele_m: log.ele_m[i],
      car: carNumber,
    }
    for (const name of optionalColumns) fix[name] = log[name]?.[i]
    return fix
  }

  const lapAt = ({ drive: { firstLine_s, lapTimes_s } }: Playing, time_s: number): number => {
    let lap = 0
    let from_s = firstLine_s
    while (lap <= lapTimes_s.length && time_s >= from_s) from_s += lapTimes_s[lap++] ?? Number.POSITIVE_INFINITY
    return lap
  }
  /** At the line the student takes in what was said and how the road is: what is ahead is driven anew, what was driven stays as it was. */
  const learn = async (one: Playing): Promise<void> => {
    const before = one.heardIn.size
    for (const { id } of await eventsOf(one.run.id)) if (!one.heardIn.has(id)) one.heardIn.set(id, one.lap - 1)
    const grip = gripNow()
    const changed = (one.gripFrom.at(-1)?.grip ?? 1) !== grip
    if (changed) one.gripFrom.push({ lap: one.lap, grip })
    if (one.heardIn.size > before || changed) one.drive = await drive(one)
  }
  const tick = (one: Playing): void => {
    const { log } = one.drive
    const reached_s = elapsed_s(one.simulation)
    while (one.next < log.time_s.length && log.time_s[one.next] <= reached_s) {
      const fix = fixAt(one, one.next++)
      if (one.simulation.form === 'json-tcp') one.out.send(writeJsonLine(fix))
      else for (const line of writeNmea(fix)) one.out.send(line)
    }
    const lap = lapAt(one, reached_s)
    if (lap !== one.lap) {
      one.lap = lap
      void learn(one)
    }
    if (one.next >= log.time_s.length) {
      one.out.send(JSON.stringify({ bye: 'simulated logger' }))
      done.set(one.run.id, one.drive)
      halt(one)
    }
  }
  const halt = (one: Playing): void => {
    clearInterval(one.timer)
    one.out.close()
    playing.delete(one.run.id)
  }

  const begin = async (run: Run, carNumber: string): Promise<void> => {
    const { simulation } = run
    if (!simulation || playing.has(run.id)) return
    const state = { run, simulation, heardIn: new Map<string, number>(), gripFrom: [] }
    const driven = await drive(state)
    const out = wayOf(carNumber, simulation.form)
    if (!out) return
    out.send(JSON.stringify({ hello: 'simulated logger', factor: simulation.speedFactor, car: carNumber }))
    const one: Playing = {
      ...state,
      drive: driven,
      // What went out before a restart does not go out again.
      next: firstAfter(driven.log.time_s, elapsed_s(simulation) - 0.5),
      lap: 0,
      carNumber,
      out,
      timer: setInterval(() => tick(one), TICK_MS),
    }
    one.timer.unref()
    playing.set(run.id, one)
  }

  return {
    /** Begins to send, or goes on after a restart. */
    start: (run: Run, carNumber: string): Promise<void> => {
      const known = starting.get(run.id)
      if (known) return known
      const one = begin(run, carNumber).finally(() => starting.delete(run.id))
      starting.set(run.id, one)
      return one
    },
    stop: (runId: string): void => {
      const one = playing.get(runId)
      if (one) halt(one)
      done.delete(runId)
    },
    /** What the logger's card holds so far, as its file. */
    card: async (run: Run): Promise<string | null> => {
      if (!run.simulation) return null
      const known = playing.get(run.id)?.drive ?? done.get(run.id)
      const { csv, log } = known ?? (await drive({ run, simulation: run.simulation, heardIn: new Map(), gripFrom: [] }))
      const rows = firstAfter(log.time_s, elapsed_s(run.simulation))
      return `${csv.split('\n', rows + 1).join('\n')}\n`
    },
    close: (): void => {
      for (const one of playing.values()) halt(one)
    },
  }
}
