import { createSocket } from 'node:dgram'
import { connect } from 'node:net'
import type { Run, Simulation, StoredPlan } from '@ochote/contract'
import {
  type Correction,
  optionalColumns,
  type ReceivedFix,
  type RunEvent,
  runStateOf,
  seedOf,
  standing,
  writeJsonLine,
  writeNmea,
} from '@ochote/core'
import type { Jobs } from '../jobs/jobs.ts'
import type { SimulateInput, SimulateOutput } from '../jobs/tasks.ts'

/** Skill of the made-up students: halfway between new and steady. */
const SKILL = 0.3
/** Interval at which due lines are sent (ms). */
const TICK_MS = 40

/** Connection from a simulated logger to the gateway. */
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

/** A simulated run with the lap in which each event was heard, and the grip from each lap on: laps driven stay as they were. */
type Driven = {
  run: Run
  simulation: Simulation
  heardIn: Map<string, number>
  gripFrom: { lap: number; grip: number }[]
}

type Playing = Driven & {
  drive: SimulateOutput
  next: number
  lap: number
  carNumber: string
  out: LineOut
  timer: ReturnType<typeof setInterval>
}

/** Connections of the simulated logger to the rest. */
export type LoggerOptions = {
  jobs: Jobs
  sourceOf: (run: Run) => Promise<StoredPlan>
  eventsOf: (runId: string) => Promise<RunEvent[]>
  /** Connects to the gateway's port of a car; null where it has none. */
  wayOf: (carNumber: string, form: Simulation['form']) => LineOut | null
  /** Grip of the road as the weather leaves it, as a share of the plan's. */
  gripNow: () => number
  onFailure: (error: unknown) => void
  now?: () => number
}

/** Input of the simulator: the run's simulation with what was said so far. */
const inputOf = ({ run, simulation, heardIn, gripFrom }: Driven, source: StoredPlan, events: readonly RunEvent[]): SimulateInput => {
  const { seed, rate_hz, noise_m, dropOuts, sighting, laps, coolDown, habits } = simulation
  const heard = standing(events)
  const since = (id: string, lap: number): number => Math.max(lap, heardIn.get(id) ?? lap)
  const shortened = heard.flatMap((e) =>
    e.kind === 'lap-kind' && !e.only && (e.lapKind === 'cool-down' || e.lapKind === 'in') ? [e.lapKind === 'in' ? e.lap - 1 : e.lap] : [],
  )
  const total = Math.max(1, Math.min(sighting + laps + coolDown, ...shortened))
  const slowLaps = Array.from({ length: total }, (_, k) => k + 1).filter((lap) => lap <= sighting || lap > sighting + laps)
  const cooled = heard.flatMap((e) => (e.kind === 'lap-kind' && !e.only && e.lapKind === 'cool-down' ? [e.lap] : []))
  // What was said counts from the next lap on.
  const agreed = heard.flatMap((e) => (e.kind === 'pace' ? [{ lap: since(e.id, e.lap) + 1, pace: e.pace }] : []))
  const { programme, paceOf } = runStateOf(events)
  // By a programme every lap has its pace, which what was agreed shifts.
  const planned = programme?.steps
    ? Array.from({ length: total }, (_, k) => ({ lap: k + 1, pace: paceOf(k + 1, source.settings.pace) }))
    : agreed
  const paceFrom = [...planned, ...gripFrom.map(({ lap }) => ({ lap, pace: Number.NaN }))]
    .sort((a, b) => a.lap - b.lap)
    .map(({ lap }) => {
      const pace = planned.findLast((p) => p.lap <= lap)?.pace ?? source.settings.pace
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

/** Seconds of the simulated drive that have passed. */
const elapsed_s = ({ startedAt, speedFactor }: Simulation, now_ms: number): number =>
  ((now_ms - Date.parse(startedAt)) / 1000) * speedFactor

/** Index of the first row after a time. */
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

/** Sends all positions that are due, in the receiver's form. */
const sendDue = (playing: Playing, reached_s: number): void => {
  const { log } = playing.drive
  while (playing.next < log.time_s.length && log.time_s[playing.next] <= reached_s) {
    const fix = fixAt(playing, playing.next++)
    if (playing.simulation.form === 'json-tcp') playing.out.send(writeJsonLine(fix))
    else for (const line of writeNmea(fix)) playing.out.send(line)
  }
}

/** The run as its simulation, its events so far and the road's grip make it. */
const simulated = async (driven: Driven, { jobs, sourceOf, eventsOf }: LoggerOptions): Promise<SimulateOutput> =>
  jobs.simulate(inputOf(driven, await sourceOf(driven.run), await eventsOf(driven.run.id)))

/** At the line the student takes in what was said and how the road is: laps ahead are simulated again, laps driven stay as they were. */
const learn = async (playing: Playing, options: LoggerOptions): Promise<void> => {
  const before = playing.heardIn.size
  for (const { id } of await options.eventsOf(playing.run.id)) if (!playing.heardIn.has(id)) playing.heardIn.set(id, playing.lap - 1)
  const grip = options.gripNow()
  const changed = (playing.gripFrom.at(-1)?.grip ?? 1) !== grip
  if (changed) playing.gripFrom.push({ lap: playing.lap, grip })
  if (playing.heardIn.size > before || changed) playing.drive = await simulated(playing, options)
}

/** Sends what is due and takes in what was said at each line; true once the drive has come to its end. */
const goOn = (playing: Playing, reached_s: number, options: LoggerOptions): boolean => {
  sendDue(playing, reached_s)
  const lap = lapAt(playing, reached_s)
  if (lap !== playing.lap) {
    playing.lap = lap
    void learn(playing, options).catch(options.onFailure)
  }
  if (playing.next < playing.drive.log.time_s.length) return false
  playing.out.send(JSON.stringify({ bye: 'simulated logger' }))
  return true
}

/** A drive's log as a file, up to a time. */
const cardOf = ({ csv, log }: SimulateOutput, reached_s: number): string =>
  `${csv.split('\n', firstAfter(log.time_s, reached_s) + 1).join('\n')}\n`

/** The position from which a drive goes on: what went out before a restart does not go out again. */
const goesOnFrom = ({ log }: SimulateOutput, reached_s: number): number => firstAfter(log.time_s, reached_s - 0.5)

/**
 * Stand-in for the logger in a car. It simulates the run in the core and sends what a receiver would send, as lines over a
 * socket to the gateway, by the clock. The student learns from what is logged: the laps still to come are simulated again. A drive
 * depends on its seed, its start and the events alone, so after a restart of the server it goes on where the clock says.
 */
export const simulatedLogger = (options: LoggerOptions) => {
  const now = options.now ?? Date.now
  const underWay = new Map<string, Playing>()
  const starting = new Map<string, Promise<void>>()
  /** Drives that have come to their end, until their run is over. */
  const finished = new Map<string, SimulateOutput>()

  const halt = (playing: Playing): void => {
    clearInterval(playing.timer)
    playing.out.close()
    underWay.delete(playing.run.id)
  }
  const tick = (playing: Playing): void => {
    if (!goOn(playing, elapsed_s(playing.simulation, now()), options)) return
    finished.set(playing.run.id, playing.drive)
    halt(playing)
  }
  const begin = async (run: Run, carNumber: string): Promise<void> => {
    const { simulation } = run
    if (!simulation || underWay.has(run.id)) return
    const driven: Driven = { run, simulation, heardIn: new Map(), gripFrom: [] }
    const drive = await simulated(driven, options)
    const out = options.wayOf(carNumber, simulation.form)
    if (!out) return
    out.send(JSON.stringify({ hello: 'simulated logger', factor: simulation.speedFactor, car: carNumber }))
    const next = goesOnFrom(drive, elapsed_s(simulation, now()))
    const playing: Playing = { ...driven, drive, next, lap: 0, carNumber, out, timer: setInterval(() => tick(playing), TICK_MS) }
    playing.timer.unref()
    underWay.set(run.id, playing)
  }

  return {
    /** Begins to send, or goes on after a restart. */
    start: (run: Run, carNumber: string): Promise<void> => {
      const before = starting.get(run.id)
      if (before) return before
      const start = begin(run, carNumber).finally(() => starting.delete(run.id))
      starting.set(run.id, start)
      return start
    },
    stop: (runId: string): void => {
      const playing = underWay.get(runId)
      if (playing) halt(playing)
      finished.delete(runId)
    },
    /** The logger's card so far, as its file. */
    card: async (run: Run): Promise<string | null> => {
      if (!run.simulation) return null
      const drive = underWay.get(run.id)?.drive ?? finished.get(run.id)
      const simulation = { run, simulation: run.simulation, heardIn: new Map(), gripFrom: [] }
      return cardOf(
        drive ?? (await simulated(simulation, options)),
        elapsed_s(run.simulation, run.endedAt ? Date.parse(run.endedAt) : now()),
      )
    },
    close: (): void => {
      for (const playing of underWay.values()) halt(playing)
    },
  }
}
