import type { LiveEvent, LivePosition, Run, StoredPlan } from '@ochote/contract'
import {
  type CarFollower,
  type CornerWatch,
  type CountedLaps,
  carFollower,
  cornerWatch,
  type Evidenced,
  type FollowStep,
  type LivePlace,
  type OwnThresholds,
  type PassOfCorner,
  type Plan,
  passesFrom,
  type ReceivedFix,
} from '@ochote/core'
import type { FixSink, Taken } from './gateway.ts'
import type { Recorder } from './recorder.ts'

/** A car with its run, the plan it is compared with, the school's thresholds, and which of its passes count. */
export type TrackedRun = {
  carNumber: string
  dayId: string
  run: Run | null
  source: StoredPlan
  thresholds: OwnThresholds
  counts: CountedLaps['counts']
}

type Car = {
  carNumber: string
  dayId: string
  run: Run | null
  counts: CountedLaps['counts']
  key: string
  /** Computes the plan, once it is needed. */
  begin: (() => void) | null
  /** Null while the plan is being computed. */
  follow: { plan: Plan; follower: CarFollower; watch: CornerWatch } | null
  factor: number
  /** Zero of the run's clock, as a stamp. */
  start_s: number | null
  lapTime_s: number | null
  position: LivePosition | null
}

/** Centimetres and hundredths: no screen shows more. */
const rounded = (value: number): number => Math.round(100 * value) / 100

/** Connections of the track to the rest. */
export type TrackOptions = {
  /** The cars of the days that run, with their runs, read again whenever runs change. */
  cars: () => Promise<TrackedRun[]>
  planOf: (source: StoredPlan) => Promise<Plan>
  recorder: Recorder
  onPosition: (position: LivePosition, dayId: string) => void
  /** A car has another run now, or none: its last place is out of date. */
  onReset: (carNumber: string) => void
  onHappened: (event: LiveEvent, dayId: string) => void
  onFailure: (error: unknown) => void
}

/** Plans of the cars, each computed once for all that share it. */
const planCache = (planOf: TrackOptions['planOf']) => {
  const plans = new Map<string, Promise<Plan>>()
  return {
    get: (key: string, source: StoredPlan): Promise<Plan> => {
      const plan = plans.get(key) ?? planOf(source)
      plans.set(key, plan)
      plan.catch(() => plans.delete(key))
      return plan
    },
    keepOnly: (keys: ReadonlySet<string>): void => {
      for (const key of plans.keys()) if (!keys.has(key)) plans.delete(key)
    },
  }
}

const planKey = ({ source }: TrackedRun): string =>
  JSON.stringify([source.settings, source.circuit.id, source.circuit.notes, source.vehicle])

const newCar = ({ carNumber, dayId, run, counts }: TrackedRun, key: string): Car => {
  const sentOut = run?.simulation?.startedAt
  const start_s = sentOut ? Date.parse(sentOut) / 1000 : null
  return { carNumber, dayId, run, counts, key, begin: null, follow: null, factor: 0, start_s, lapTime_s: null, position: null }
}

/** Counts the laps that were driven before a restart, from their recording. */
const catchUp = async (follower: CarFollower, recorder: Recorder, run: Run): Promise<void> => {
  const log = await recorder.past(run.id)
  if (!log) return
  const start_s = Date.parse(run.startedAt) / 1000
  for (let i = 0; i < log.time_s.length; i++) {
    const time_s = start_s + log.time_s[i]
    follower.take({ time_s, lat_deg: log.lat_deg[i], lon_deg: log.lon_deg[i], ele_m: log.ele_m[i] }, time_s)
  }
}

/** A car's place as screens see it. */
const positionOf = (car: Car, start_s: number, place: LivePlace, fault: LivePosition['fault'], now_ms: number): LivePosition => ({
  carNumber: car.carNumber,
  runId: car.run?.id ?? null,
  time_s: rounded(place.time_s - start_s),
  station_m: rounded(place.station_m),
  offset_m: rounded(place.offset_m),
  speed_mps: place.speed_mps,
  lap: place.lap,
  lapTime_s: car.lapTime_s ?? car.follow?.plan.profile.lapTime_s ?? 0,
  factor: car.factor,
  receivedAt: now_ms,
  fault,
  inPits: false,
})

/** Passes on a step of a car: its place, the lap that it completed, and the corners that it passed. */
const report = (
  car: Car,
  fix: ReceivedFix,
  { place, crossed, fault }: FollowStep,
  now_ms: number,
  { recorder, onPosition, onHappened }: TrackOptions,
): void => {
  if (!place) return
  const common = { carNumber: car.carNumber, runId: car.run?.id ?? null }
  car.start_s ??= place.time_s
  if (crossed?.lapTime_s) car.lapTime_s = crossed.lapTime_s
  car.position = positionOf(car, car.start_s, place, fault, now_ms)
  onPosition(car.position, car.dayId)
  if (car.run) recorder.take(car.run.id, fix, place.time_s - Date.parse(car.run.startedAt) / 1000)
  if (crossed) onHappened({ ...common, kind: 'lap', lap: crossed.lap, lapTime_s: crossed.lapTime_s }, car.dayId)
  for (const passed of car.follow?.watch.take(place, fix) ?? [])
    onHappened(
      {
        ...common,
        kind: 'passed',
        lap: passed.lap,
        cornerId: passed.cornerId,
        at: new Date(now_ms).toISOString(),
        // Nothing is suggested on a lap that is not judged.
        findings: car.counts(passed) ? passed.findings.map(({ code, evidence }) => ({ code, evidence }) as Evidenced) : [],
      },
      car.dayId,
    )
}

/** Takes the positions of all cars; those of unknown cars are only named. */
const sinkOf = (cars: ReadonlyMap<string, Car>, options: TrackOptions): FixSink => ({
  fix: (carNumber, fix, factor, now_ms): Taken => {
    const car = cars.get(carNumber)
    if (!car) return { fault: cars.size === 0 ? 'no-day' : 'unknown-car', rate_hz: 0, clockAhead_s: 0 }
    if (!car.follow) {
      car.begin?.()
      car.begin = null
      return { fault: null, rate_hz: 0, clockAhead_s: 0 }
    }
    const { follower } = car.follow
    if (car.factor !== factor) {
      car.factor = factor
      follower.newClock(factor)
    }
    const step = follower.take(fix, now_ms / 1000)
    report(car, fix, step, now_ms, options)
    if (!step.place && car.position && car.position.fault !== step.fault) {
      car.position = { ...car.position, fault: step.fault }
      options.onPosition(car.position, car.dayId)
    }
    return { fault: step.fault, rate_hz: follower.rate_hz(), clockAhead_s: follower.clockAhead_s() }
  },
  bye: (carNumber): void => {
    const car = cars.get(carNumber)
    if (!car?.position) return
    car.position = { ...car.position, inPits: true, speed_mps: 0 }
    options.onPosition(car.position, car.dayId)
  },
})

/**
 * The cars on the road: takes their positions, follows each on the circuit, watches its corners and reports what happened.
 * Nothing is stored against anybody here: corners passed carry suggestions only. Cost of a position: constant.
 */
export const track = (options: TrackOptions) => {
  const cars = new Map<string, Car>()
  const plans = planCache(options.planOf)
  let reading: Promise<void> = Promise.resolve()

  const setUp = async (wanted: TrackedRun): Promise<void> => {
    const { carNumber, run, source, thresholds } = wanted
    const key = JSON.stringify([wanted.dayId, run?.id ?? null, planKey(wanted), thresholds])
    const before = cars.get(carNumber)
    if (before?.key === key) {
      before.run = run
      before.counts = wanted.counts
      return
    }
    const car = newCar(wanted, key)
    const begin = async (): Promise<void> => {
      const plan = await plans.get(planKey(wanted), source)
      const follower = carFollower(plan.circuit)
      if (run) await catchUp(follower, options.recorder, run)
      car.follow = { plan, follower, watch: cornerWatch(plan, thresholds) }
    }
    cars.set(carNumber, car)
    if (before) options.onReset(carNumber)
    // A car that nobody drives needs no plan before it moves.
    if (run) await begin()
    else car.begin = () => void begin().catch(options.onFailure)
  }
  const read = async (known: () => Promise<void>): Promise<void> => {
    const wanted = await options.cars()
    for (const number of cars.keys()) if (!wanted.some((w) => w.carNumber === number)) cars.delete(number)
    plans.keepOnly(new Set(wanted.map(planKey)))
    const settingUp = wanted.map(setUp)
    await Promise.all([...settingUp, known()])
  }

  return {
    sink: sinkOf(cars, options),
    /** Reads runs and cars again; plans are computed elsewhere and awaited here. `known`: done once all cars are known, before their plans are. */
    refresh: (known: () => Promise<void> = async () => {}): Promise<void> => {
      const again = (): Promise<void> => read(known)
      reading = reading.then(again, again)
      return reading
    },
    /** The passes of corners that something spoils for every run on the road, from where its car is now. */
    spoilt: (): { runId: string; passes: PassOfCorner[] }[] =>
      [...cars.values()].flatMap(({ run, position, follow }) =>
        run && position && follow && !position.inPits ? [{ runId: run.id, passes: passesFrom(follow.plan, position) }] : [],
      ),
    /** The newest place of every car. */
    positions: (): LivePosition[] => [...cars.values()].flatMap((car) => (car.position ? [car.position] : [])),
  }
}
