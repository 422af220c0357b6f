import { randomUUID } from 'node:crypto'
import { BlockList, isIP } from 'node:net'
import { join } from 'node:path'
import type { Day, Receiver, Run, StoredPlan } from '@ochote/contract'
import { carOfRun, changesCounting, countedLaps, type DayEvent, isAtPace, likelyDay, type RunEvent, runStateOf } from '@ochote/core'
import type { Knex } from 'knex'
import { serverNow, serverTime } from '../clock/clock.ts'
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
  const now = new Date(serverNow())
  return new Date(now.getTime() - 60_000 * now.getTimezoneOffset()).toISOString().slice(0, 10)
}

/** The days that run now: those with an open run, the newest first, then the one most likely worked on with all others of its date. */
const daysNow = async ({ runs, days }: Stores): Promise<Day[]> => {
  const open = (await runs.open()).map((run) => run.dayId).reverse()
  const driven = await days.runsOfDays()
  const dated = (await days.all()).map((day) => ({
    day,
    date: day.plan.date,
    template: day.plan.template,
    runs: day.plan.slots.filter((s) => s.kind === 'run').length,
    driven: driven.get(day.id) ?? 0,
  }))
  const likely = likelyDay(dated, today())
  const sameDate = dated.filter((d) => !d.template && d.date === likely?.date)
  const ids = new Set([...open, ...(likely ? [likely.day.id] : []), ...sameDate.map((d) => d.day.id)])
  return [...ids].flatMap((id) => dated.find((d) => d.day.id === id)?.day ?? [])
}

const sourceOf = ({ circuits, vehicles }: Stores, run: Pick<Run, 'settings'>): Promise<StoredPlan> => storedPlanOf(run, circuits, vehicles)

/** The number of a run's car; runs whose car is not known go by the student's name. */
const numberOf = (run: Run, day: Day): string => carOfRun(run, day.plan)?.number ?? run.studentName.slice(0, 12)

/** Every car of the days that run, with the newest run that has it; a number that two days have is the car of its open run, else of the first day. */
const carsNow = async (stores: Stores): Promise<TrackedRun[]> => {
  const days = await daysNow(stores)
  const { thresholds } = (await stores.schoolSettings.read()).schoolSettings
  const byNumber = new Map<string, TrackedRun>()
  for (const day of days)
    for (const { number, vehicleId } of day.plan.cars) {
      if (byNumber.has(number)) continue
      const source = await sourceOf(stores, { settings: { ...day.plan.settings, vehicleId } }).catch(() => null)
      if (source) byNumber.set(number, { carNumber: number, dayId: day.id, run: null, source, thresholds, counts: countedLaps([]).counts })
    }
  for (const run of await stores.runs.open()) {
    const day = days.find((d) => d.id === run.dayId)
    const source = day && (await sourceOf(stores, run).catch(() => null))
    if (!day || !source) continue
    const events = await stores.runs.events(run.id)
    const counted = countedLaps(events)
    const { paceOf } = runStateOf(events)
    const { pace } = run.settings
    // Nothing is suggested on a lap that is meant to be driven at another pace than the plan that runs along.
    const counts: typeof counted.counts = (of) => counted.counts(of) && isAtPace(paceOf(of.lap, pace), pace)
    const carNumber = numberOf(run, day)
    byNumber.set(carNumber, { carNumber, dayId: day.id, run, source, thresholds, counts })
  }
  return [...byNumber.values()]
}

/** Gives ports their cars: as somebody has set; a car of the days keeps the port it has, the others take those left, in order. */
const assignPorts = async (db: Knex, ports: readonly number[], gateway: ReceiverGateway, days: readonly Day[]): Promise<void> => {
  const set = (await db('receivers').select('port', 'car_number')) as { port: number; car_number: string | null }[]
  for (const { port, car_number } of set) gateway.assign(port, car_number)
  const numbers = [...new Set(days.flatMap((day) => day.plan.cars.map((car) => car.number)))]
  const free = ports.filter((port) => !set.some((row) => row.port === port))
  const wanted = numbers.filter((number) => !set.some((row) => row.car_number === number))
  const kept = new Map(
    wanted.flatMap((number) => {
      const port = gateway.portOf(number)
      return port !== null && free.includes(port) ? [[port, number] as const] : []
    }),
  )
  const placed = new Set(kept.values())
  const others = wanted.filter((number) => !placed.has(number))
  for (const port of free) gateway.assign(port, kept.get(port) ?? others.shift() ?? null)
}

/** Which addresses may send positions: those given, as addresses or as networks like 192.168.7.0/24; with none given all. */
const allowedSenders = (given: readonly string[]): ((address: string) => boolean) => {
  if (given.length === 0) return () => true
  const list = new BlockList()
  for (const one of ['127.0.0.1', ...given]) {
    const [address, bits] = one.split('/')
    const family = isIP(address) === 6 ? 'ipv6' : 'ipv4'
    if (bits === undefined) list.addAddress(address, family)
    else list.addSubnet(address, Number(bits), family)
  }
  return (address) => {
    const plain = address.replace(/^::ffff:/, '')
    return isIP(plain) > 0 && list.check(plain, isIP(plain) === 6 ? 'ipv6' : 'ipv4')
  }
}

/** The parts of the running day, wired to each other. */
const wired = (
  db: Knex,
  stores: Stores,
  jobs: Jobs,
  { dataDir, receiverPort, receiversFrom, demo }: Config,
  onFailure: (error: unknown) => void,
) => {
  const stream = liveStream()
  const recorder = fixRecorder(join(dataDir, 'recordings'), { onFailure })
  const onTrack = track({
    cars: () => carsNow(stores),
    planOf: (source) => jobs.plan(source),
    recorder,
    onPosition: stream.position,
    onReset: stream.forget,
    onFailure,
    onHappened: (event, dayId) => {
      stream.happened(event, dayId)
      if (event.kind === 'lap') void devices.crossed(dayId, event.carNumber, event.lapTime_s).catch(onFailure)
    },
  })
  const ports = receiverPort === null ? [] : Array.from({ length: PORTS }, (_, k) => receiverPort + k)
  const gateway = receiverGateway(ports.length > 0 ? ports : [0], onTrack.sink, { allows: allowedSenders(receiversFrom) })
  const devices = simulatedDevices({
    db,
    demo,
    onFailure,
    dayIds: async () => (await daysNow(stores)).map((day) => day.id),
    tell: async (event) => {
      for (const fresh of (await stores.dayEvents.append(null, [event])).fresh) stream.happened({ kind: 'day-event', event: fresh })
    },
  })
  const logger = simulatedLogger({
    jobs,
    sourceOf: (run) => sourceOf(stores, run),
    eventsOf: stores.runs.events,
    onFailure,
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
  const { stream, recorder, onTrack, ports, gateway, devices, logger } = wired(db, stores, jobs, config, onFailure)
  const refresh = async (): Promise<void> => {
    const days = await daysNow(stores)
    stream.runs(new Set(days.map((day) => day.id)))
    await assignPorts(db, ports, gateway, days)
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
  /** `only`: the run of the one car that a flag is shown to. */
  const spoilPasses = async (why: 'flag' | 'stop', only: string | null, accountId: string): Promise<void> => {
    const at = serverTime()
    const events = onTrack
      .spoilt()
      .filter(({ runId }) => only === null || runId === only)
      .map(({ runId, passes }) => ({ id: randomUUID(), runId, at, kind: 'passes-aside' as const, why, passes }))
    for (const event of (await stores.runs.append(accountId, events)).fresh) runEvent(event)
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
      await assignPorts(db, ports, gateway, await daysNow(stores))
    },
    startLogger,
    stopLogger: logger.stop,
    /** A day's cars or settings may have changed. A refresh that fails is tried again with the next one. */
    dayChanged: (dayId: string): void => {
      stream.happened({ kind: 'day', dayId })
      void refresh().catch(onFailure)
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
      if (why && accountId) void spoilPasses(why, event.kind === 'flag' ? (event.runId ?? null) : null, accountId).catch(onFailure)
    },
    logOf: (run: Run) => logOf(run, logger, recorder),
    /** Ids of the runs of which there is a recording. */
    recordings: () => recorder.files(),
    /** Positions that wait for room on the disk, and those that found none. */
    held: () => recorder.held(),
    /** True while a day runs: a run is open, or a day has today's date. */
    isUnderWay: async (): Promise<boolean> => {
      if ((await stores.runs.open()).length > 0) return true
      const date = today()
      return (await stores.days.datedOn(date)).length > 0
    },
    /** Runs of somebody who was erased: their cars are let go first, so that no recording comes back. */
    erased: async (runIds: readonly string[]): Promise<void> => {
      await refresh()
      for (const runId of runIds) {
        logger.stop(runId)
        await recorder.forget(runId)
      }
      stream.happened({ kind: 'runs' })
    },
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
