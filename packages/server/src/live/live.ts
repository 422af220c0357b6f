import { randomUUID } from 'node:crypto'
import { join } from 'node:path'
import type { Day, Receiver, Run, StoredPlan } from '@ochote/contract'
import { carOfRun, changesCounting, countedLaps, type DayEvent, likelyDay, type RunEvent } from '@ochote/core'
import type { Knex } from 'knex'
import type { Config } from '../config.ts'
import { storedPlanOf } from '../debrief/service.ts'
import type { Jobs } from '../jobs/jobs.ts'
import type { LogSource } from '../jobs/log-source.ts'
import type { Stores } from '../stores.ts'
import { simulatedDevices } from './devices.ts'
import { type ReceiverGateway, receiverGateway } from './gateway.ts'
import { fixRecorder, type Recorder } from './recorder.ts'
import { simulatedLogger, socketTo } from './simulated-logger.ts'
import { liveStream } from './stream.ts'
import { type TrackedRun, track } from './track.ts'

/** Maximum number of receivers connected at the same time. */
const PORTS = 16

/** The date where this server stands. */
const today = (): string => {
  const now = new Date()
  return new Date(now.getTime() - 60_000 * now.getTimezoneOffset()).toISOString().slice(0, 10)
}

/** The day that runs now: that of the newest open run, else the one that is most likely worked on. */
const dayNow = async ({ runs, days }: Stores): Promise<Day | null> => {
  const last = (await runs.open()).at(-1)
  if (last) return days.byId(last.dayId)
  const driven = await days.runsOfDays()
  const dated = (await days.all()).map((day) => ({
    day,
    date: day.plan.date,
    template: day.plan.template,
    runs: day.plan.slots.filter((s) => s.kind === 'run').length,
    driven: driven.get(day.id) ?? 0,
  }))
  return likelyDay(dated, today())?.day ?? null
}

const sourceOf = ({ circuits, vehicles }: Stores, run: Pick<Run, 'settings'>): Promise<StoredPlan> => storedPlanOf(run, circuits, vehicles)

/** The number of a run's car; runs whose car is not known go by the student's name. */
const numberOf = (run: Run, day: Day): string => carOfRun(run, day.plan)?.number ?? run.studentName.slice(0, 12)

/** Every car of the day with the newest run that has it. */
const carsNow = async (stores: Stores): Promise<TrackedRun[]> => {
  const day = await dayNow(stores)
  if (!day) return []
  const { thresholds } = (await stores.schoolSettings.read()).schoolSettings
  const byNumber = new Map<string, TrackedRun>()
  for (const { number, vehicleId } of day.plan.cars) {
    const source = await sourceOf(stores, { settings: { ...day.plan.settings, vehicleId } }).catch(() => null)
    if (source) byNumber.set(number, { carNumber: number, run: null, source, thresholds, counts: countedLaps([]).counts })
  }
  for (const run of await stores.runs.open(day.id)) {
    const carNumber = numberOf(run, day)
    const source = await sourceOf(stores, run).catch(() => null)
    const { counts } = countedLaps(await stores.runs.events(run.id))
    if (source) byNumber.set(carNumber, { carNumber, run, source, thresholds, counts })
  }
  return [...byNumber.values()]
}

/** Gives ports their cars: as somebody has set, and the other cars of the day to the other ports in order. */
const assignPorts = async (db: Knex, ports: readonly number[], gateway: ReceiverGateway, day: Day | null): Promise<void> => {
  const set = (await db('receivers').select('port', 'car_number')) as { port: number; car_number: string | null }[]
  for (const { port, car_number } of set) gateway.assign(port, car_number)
  const numbers = day?.plan.cars.map((car) => car.number) ?? []
  const free = ports.filter((port) => !set.some((row) => row.port === port))
  const wanted = numbers.filter((number) => !set.some((row) => row.car_number === number))
  for (const [k, port] of free.entries()) gateway.assign(port, wanted[k] ?? null)
}

/** The parts of the running day, wired to each other. */
const wired = (db: Knex, stores: Stores, jobs: Jobs, { dataDir, receiverPort, demo }: Config) => {
  const stream = liveStream()
  const recorder = fixRecorder(join(dataDir, 'recordings'))
  const onTrack = track({
    cars: () => carsNow(stores),
    planOf: (source) => jobs.plan(source),
    recorder,
    onPosition: stream.position,
    onReset: stream.forget,
    onHappened: (event) => {
      stream.happened(event)
      if (event.kind === 'lap') void devices.crossed(event.carNumber, event.lapTime_s)
    },
  })
  const ports = receiverPort === null ? [] : Array.from({ length: PORTS }, (_, k) => receiverPort + k)
  const gateway = receiverGateway(ports.length > 0 ? ports : [0], onTrack.sink)
  const devices = simulatedDevices({
    db,
    demo,
    dayId: async () => (await dayNow(stores))?.id ?? null,
    tell: async (event) => {
      for (const fresh of await stores.dayEvents.append(null, [event])) stream.happened({ kind: 'day-event', event: fresh })
    },
  })
  const logger = simulatedLogger({
    jobs,
    sourceOf: (run) => sourceOf(stores, run),
    eventsOf: stores.runs.events,
    gripNow: devices.grip,
    wayOf: (carNumber, form) => {
      const port = gateway.portOf(carNumber)
      // Without open ports (in tests) lines go to the gateway directly.
      if (ports.length === 0) return { send: (line) => gateway.line(0, 'tcp', 'here', line), close: () => {} }
      return port === null ? null : socketTo(port, form)
    },
  })
  return { stream, recorder, onTrack, ports, gateway, devices, logger }
}

/** The log of a run: the card of its logger where there is one, else what was received. */
const logOf = async (
  run: Run,
  logger: ReturnType<typeof simulatedLogger>,
  recorder: Recorder,
): Promise<{ source: string; log: LogSource } | null> => {
  const card = await logger.card(run)
  if (card) return { source: 'simulated logger', log: { text: card } }
  const path = await recorder.recorded(run.id)
  return path ? { source: 'receiver', log: { path } } : null
}

/** What an event of the day spoils the cars' passes by, if it does. */
const spoiledBy = (event: DayEvent): 'flag' | 'stop' | null => {
  if (event.kind === 'stop') return 'stop'
  return event.kind === 'flag' && event.up ? 'flag' : null
}

/** The running day: receivers, cars on the road, screens that follow them, and the simulated devices. */
export const liveDay = (db: Knex, stores: Stores, jobs: Jobs, config: Config, onFailure: (error: unknown) => void = () => {}) => {
  const { stream, recorder, onTrack, ports, gateway, devices, logger } = wired(db, stores, jobs, config)
  const refresh = async (): Promise<void> => {
    const day = await dayNow(stores)
    stream.runs(day?.id ?? null)
    await assignPorts(db, ports, gateway, day)
    await onTrack.refresh()
  }
  const startLogger = async (run: Run): Promise<void> => {
    const day = await stores.days.byId(run.dayId)
    if (day) await logger.start(run, numberOf(run, day))
  }

  const runEvent = (event: RunEvent): void => {
    stream.happened({ kind: 'run-event', event })
    if (changesCounting(event)) void refresh().catch(onFailure)
  }
  const spoilPasses = async (why: 'flag' | 'stop', accountId: string): Promise<void> => {
    const at = new Date().toISOString()
    const events = onTrack
      .spoilt()
      .map(({ runId, passes }) => ({ id: randomUUID(), runId, at, kind: 'passes-aside' as const, why, passes }))
    for (const event of await stores.runs.append(accountId, events)) runEvent(event)
  }

  return {
    stream,
    devices,
    /** Opens ports and goes on with what ran before a restart. */
    open: async (): Promise<void> => {
      await devices.load()
      if (ports.length > 0) await gateway.listen(config.host)
      await refresh()
      for (const run of await stores.runs.open()) if (run.simulation) await startLogger(run)
    },
    receivers: (): Receiver[] => (ports.length > 0 ? gateway.receivers() : []),
    assign: async (port: number, carNumber: string | null): Promise<void> => {
      await db('receivers').insert({ port, car_number: carNumber }).onConflict('port').merge()
      await assignPorts(db, ports, gateway, await dayNow(stores))
    },
    startLogger,
    stopLogger: logger.stop,
    /** A day's cars or settings may have changed. A refresh that fails is tried again with the next one. */
    dayChanged: (dayId: string): void => {
      stream.happened({ kind: 'day', dayId })
      void refresh().catch(() => {})
    },
    /** Runs were started or ended. */
    runsChanged: async (): Promise<void> => {
      await refresh()
      stream.happened({ kind: 'runs' })
    },
    runEvent,
    /** Something of the day happened; a flag or a stop spoils the passes of all cars up to the next apex. */
    dayEvent: (event: DayEvent, accountId: string | null): void => {
      stream.happened({ kind: 'day-event', event })
      devices.sent(event)
      const why = spoiledBy(event)
      if (why && accountId) void spoilPasses(why, accountId).catch(onFailure)
    },
    logOf: (run: Run) => logOf(run, logger, recorder),
    forget: async (runId: string): Promise<void> => {
      logger.stop(runId)
      await recorder.forget(runId)
    },
    close: async (): Promise<void> => {
      logger.close()
      gateway.close()
      devices.close()
      stream.close()
      await recorder.close()
    },
  }
}
export type LiveDay = ReturnType<typeof liveDay>
