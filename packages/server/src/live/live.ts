import { randomUUID } from 'node:crypto'
import { BlockList, isIP } from 'node:net'
import { join } from 'node:path'
import type { Day, LiveEvent, Receiver, Run, StoredPlan } from '@ochote/contract'
import { carOfRun, changesCounting, countedLaps, type DayEvent, isAtPace, likelyDay, type RunEvent, runStateOf } from '@ochote/core'
import type { Knex } from 'knex'
import { serverNow, serverTime } from '../clock/clock.ts'
import type { Config } from '../config.ts'
import { clashOn } from '../db/dialect.ts'
import { storedPlanOf } from '../debrief/service.ts'
import type { Jobs } from '../jobs/jobs.ts'
import type { LogSource } from '../jobs/log-source.ts'
import type { Stores } from '../stores.ts'
import { type Bus, type Heard, type Inner, postgresBus, type Told } from './bus.ts'
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
  const dated = await days.summaries()
  const likely = likelyDay(dated, today())
  const sameDate = dated.filter((d) => !d.template && d.date === likely?.date)
  const ids = [...new Set([...open, ...(likely ? [likely.id] : []), ...sameDate.map((d) => d.id)])]
  const running = await days.byIds(ids)
  return ids.flatMap((id) => running.find((day) => day.id === id) ?? [])
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

/** Kinds of what processes tell each other alone. */
const inner: ReadonlySet<string> = new Set(['stop-logger', 'forget', 'receivers', 'devices'] satisfies Inner['kind'][])

/** Kinds that all processes are told in the transaction that stores what they tell of. */
const toldAsStored: ReadonlySet<string> = new Set(['run-event', 'day-event', 'runs', 'day'] satisfies LiveEvent['kind'][])

const isForScreens = (event: LiveEvent | Inner): event is LiveEvent => !inner.has(event.kind)

/** The parts of the running day, wired to each other. */
const wired = (
  db: Knex,
  stores: Stores,
  jobs: Jobs,
  { dataDir, receiverPort, receiversFrom, demo }: Config,
  onFailure: (error: unknown) => void,
  bus: Bus | null,
) => {
  const stream = liveStream()
  const tell = ({ event, dayId, by }: Told): void => {
    if (bus) toldAsStored.has(event.kind) || bus.tell({ event, dayId, by })
    else if (isForScreens(event)) stream.happened(event, dayId)
  }
  const recorder = fixRecorder(join(dataDir, 'recordings'), { onFailure })
  const onTrack = track({
    cars: () => carsNow(stores),
    planOf: (source) => jobs.plan(source),
    recorder,
    onPosition: (position, dayId) => {
      stream.position(position, dayId)
      bus?.place(position, dayId)
    },
    onReset: stream.forget,
    onFailure,
    onHappened: (event, dayId) => {
      tell({ event, dayId })
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
      for (const fresh of (await stores.dayEvents.append(null, [event])).fresh) tell({ event: { kind: 'day-event', event: fresh } })
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
  return { stream, tell, recorder, onTrack, ports, gateway, devices, logger }
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

/** What one process does for all where several serve one school: it has the receivers, and reads what they sent. */
export type Ownership = {
  /** This process has become the one. */
  onOwned?: () => void
  /** Another process is the one now, though this one was. */
  onDisowned?: () => void
  /** Another process ended runs whose logs are to be read here. */
  onEndedElsewhere?: () => void
}

/** How often ports that another process still has are tried, and how long after each other (ms). */
const LISTEN_TRIES = 60
const LISTEN_AGAIN_MS = 500

/** Where the state of the receivers is kept for processes that do not have them, and how often (ms). */
const RECEIVERS = 'receivers-state'
const RECEIVERS_EVERY_MS = 2000

/** The running day: receivers, cars on the road, screens that follow them, and the simulated devices. */
export const liveDay = (db: Knex, stores: Stores, jobs: Jobs, config: Config, onFailure: (error: unknown) => void = () => {}) => {
  const bus = config.database === null ? null : postgresBus(db, config.database)
  const isOwner = (): boolean => bus === null || bus.isOwner()
  const { stream, tell, recorder, onTrack, ports, gateway, devices, logger } = wired(db, stores, jobs, config, onFailure, bus)
  const refresh = async (): Promise<void> => {
    const days = await daysNow(stores)
    stream.runs(new Set(days.map((day) => day.id)))
    if (!isOwner()) return
    // A port is a car's only once the car is known: what it sends first would be called unknown.
    await onTrack.refresh(() => assignPorts(db, ports, gateway, days))
  }
  const startLogger = async (run: Run): Promise<void> => {
    const day = await stores.days.byId(run.dayId)
    if (day && isOwner()) await logger.start(run, numberOf(run, day))
  }
  const startLoggers = async (): Promise<void> => {
    for (const run of await stores.runs.open()) if (run.simulation) await startLogger(run)
  }
  const drop = async (runIds: readonly string[]): Promise<void> => {
    for (const runId of runIds) {
      logger.stop(runId)
      await recorder.forget(runId)
    }
  }
  const runEvent = (event: RunEvent): void => {
    tell({ event: { kind: 'run-event', event } })
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
  /** What an event of the day does to cars and devices, where they are. */
  const followDayEvent = (event: DayEvent, accountId: string | null): void => {
    devices.sent(event)
    const why = spoiledBy(event)
    if (why && accountId) void spoilPasses(why, event.kind === 'flag' ? (event.runId ?? null) : null, accountId).catch(onFailure)
  }
  const receiversHere = (): Receiver[] => (ports.length > 0 ? gateway.receivers() : [])

  /** What another process told, done here where it belongs to the owner of the receivers. */
  const react = async ({ event, by }: Heard, onEndedElsewhere: () => void): Promise<void> => {
    if (event.kind === 'devices') await devices.load()
    else if (event.kind === 'day' || event.kind === 'runs' || (event.kind === 'run-event' && changesCounting(event.event))) await refresh()
    if (!isOwner()) return
    if (event.kind === 'runs') {
      await startLoggers()
      onEndedElsewhere()
    } else if (event.kind === 'day-event') followDayEvent(event.event, by ?? null)
    else if (event.kind === 'stop-logger') logger.stop(event.runId)
    else if (event.kind === 'forget') await drop(event.runIds)
    else if (event.kind === 'receivers') await refresh()
  }
  const begin = async (onPortsFailed: (error: unknown) => void): Promise<void> => {
    await refresh()
    if (ports.length > 0) await gateway.listen(config.host).catch(bus ? () => listenAgain(onPortsFailed) : onPortsFailed)
    await startLoggers()
  }
  /** The process that had the receivers before may still be on its way out: its ports are free a moment later. */
  const listenAgain = async (onPortsFailed: (error: unknown) => void): Promise<void> => {
    for (let k = 0; k < LISTEN_TRIES && isOwner(); k++) {
      await new Promise((resolve) => setTimeout(resolve, LISTEN_AGAIN_MS))
      const failed = await gateway.listen(config.host).then(
        () => null,
        (error: unknown) => ({ error }),
      )
      if (failed === null) return
      if (k === LISTEN_TRIES - 1) onPortsFailed(failed.error)
    }
  }
  let beginning: Promise<void> = Promise.resolve()
  let told = ''
  const tellReceivers = async (): Promise<void> => {
    const value = JSON.stringify(receiversHere())
    if (!isOwner() || value === told) return
    told = value
    await db('settings').insert({ name: RECEIVERS, value }).onConflict(clashOn(db, 'name')).merge()
  }
  let telling: ReturnType<typeof setInterval> | undefined

  return {
    stream,
    devices,
    /** True for the process that has the receivers: the only one where there is one. */
    isOwner,
    /** Opens ports and goes on with what ran before a restart; where several processes serve one school, once this one is to do it. */
    open: async (onPortsFailed: (error: unknown) => void, { onOwned, onDisowned, onEndedElsewhere }: Ownership = {}): Promise<void> => {
      await devices.load()
      if (!bus) {
        await begin(onPortsFailed)
        onOwned?.()
        return
      }
      await refresh()
      telling = setInterval(() => void tellReceivers().catch(onFailure), RECEIVERS_EVERY_MS)
      telling.unref()
      await bus.open({
        begin: (before) => {
          stream.begin(before.length > 0 ? before[0].id - 1 : 0)
          for (const { id, event, dayId } of before) if (isForScreens(event)) stream.take(id, event, dayId)
        },
        hear: (heard) => {
          const { id, event, dayId, here } = heard
          if (isForScreens(event)) stream.take(id, event, dayId)
          if (!here) void react(heard, onEndedElsewhere ?? (() => {})).catch(onFailure)
        },
        places: (places) => {
          for (const { position, dayId } of places) stream.position(position, dayId)
        },
        own: () => {
          beginning = begin(onPortsFailed).then(
            () => onOwned?.(),
            (error: unknown) => onFailure(error),
          )
        },
        disown: () => onDisowned?.(),
        onFailure,
      })
    },
    /** Resolves once what belongs to the owner has begun here; at once for another process. */
    begun: () => beginning,
    /** Those that send to this process. */
    receiversHere,
    receivers: async (): Promise<Receiver[]> => {
      if (isOwner()) return receiversHere()
      const row = (await db('settings').where({ name: RECEIVERS }).first('value')) as { value: string } | undefined
      return row ? (JSON.parse(row.value) as Receiver[]) : []
    },
    assign: async (port: number, carNumber: string | null): Promise<void> => {
      await db('receivers').insert({ port, car_number: carNumber }).onConflict(clashOn(db, 'port')).merge()
      if (isOwner()) await assignPorts(db, ports, gateway, await daysNow(stores))
      else tell({ event: { kind: 'receivers' } })
    },
    /** Simulated devices were set. */
    devicesSet: (): void => tell({ event: { kind: 'devices' } }),
    startLogger,
    stopLogger: (runId: string): void => {
      logger.stop(runId)
      tell({ event: { kind: 'stop-logger', runId } })
    },
    /** A day's cars or settings may have changed. A refresh that fails is tried again with the next one. */
    dayChanged: (dayId: string): void => {
      tell({ event: { kind: 'day', dayId } })
      void refresh().catch(onFailure)
    },
    /** Runs were started or ended. */
    runsChanged: async (): Promise<void> => {
      await refresh()
      tell({ event: { kind: 'runs' } })
    },
    runEvent,
    /** Something of the day happened; a flag or a stop spoils the passes of all cars up to the next apex. */
    dayEvent: (event: DayEvent, accountId: string | null): void => {
      tell({ event: { kind: 'day-event', event }, by: accountId })
      if (isOwner()) followDayEvent(event, accountId)
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
      await drop(runIds)
      tell({ event: { kind: 'forget', runIds } })
      tell({ event: { kind: 'runs' } })
    },
    forget: (runId: string): Promise<void> => drop([runId]),
    close: async (): Promise<void> => {
      clearInterval(telling)
      logger.close()
      gateway.close()
      devices.close()
      stream.close()
      await recorder.close()
      await bus?.close()
    },
  }
}
export type LiveDay = ReturnType<typeof liveDay>
