import { tangentPlane } from '../src/circuit/geodesy.ts'
import { atStation, isWithin, placeAt, wrapStation } from '../src/circuit/station.ts'
import type { Log } from '../src/log/log.ts'
import type { Plan } from '../src/plan/plan.ts'
import type { Drive } from '../src/simulate/drive.ts'
import type { Habit, SimulatedLap } from '../src/simulate/student.ts'
import { GRAVITY_MPS2 } from '../src/units/constants.ts'
import { degrees } from '../src/units/convert.ts'
import { type Random, seededRandom } from '../src/units/random.ts'
import { maxEngineForce } from '../src/vehicle/engine.ts'

/**
 * A car on a circuit that is driven by a law of hands and feet, and what a receiver writes of it. It shares nothing with the
 * made-up students but the plan: mistakes are made by what its driver does, not by bending a solved lap.
 */
export type DriveOptions = {
  laps: number
  seed: number
  rate_hz: number
  /** Error of single fixes, and of a slow drift that forgets in half a minute (m, 1σ); of speeds (m/s). */
  white_m?: number
  drift_m?: number
  speedNoise_mps?: number
  habits?: readonly Habit[]
  habitsFrom?: number
}

/** Time between two movements of hands and feet (s). */
export const DT_S = 0.02
/** The way over which a corner that is coming up is felt (m). */
export const FELT_M = 220
const wheelbase_m = 2.6
const steeringRatio = 15

/** Where the car is: station, offset and heading against the road, speed, and the curvature that the wheel stands for now. */
export type Here = { s: number; lap: number; offset_m: number; askew_rad: number; speed_mps: number; wheel_1pm: number }
/** Grip and resistance there (m/s²). */
export type Forces = { grip_mps2: number; resist_mps2: number; engine_mps2: number }
/** How one lap differs from another: shares of speed and of nearness, and metres to the side. */
export type Mood = { speed: number; near: number; aside_m: number }
/** What hands and feet do: the wheel (1/m), and a demand (m/s², positive drives). */
export type Law = (here: Here, forces: Forces, wrong: Wrong, mood: Mood) => { wheel_1pm: number; demand_mps2: number }

/** What goes wrong where, in one lap: shares and metres by station. */
export type Wrong = {
  near: (s: number) => number
  speed: (s: number) => number
  aside_m: (s: number) => number
  off: (s: number) => boolean
}

const wrongIn = (plan: Plan, habits: readonly Habit[]): Wrong => {
  const { circuit, corners, turnings, profile } = plan
  const L = circuit.length_m
  const places = habits.flatMap((habit) => {
    const k = corners.findIndex((corner) => corner.id === habit.cornerId)
    const { turnIn, apex, exit } = turnings[k]
    const [from_m, apex_m, exit_m] = [circuit.s_m[turnIn], circuit.s_m[apex], circuit.s_m[exit ?? apex]]
    return [{ habit, k, from_m, apex_m, exit_m, left: corners[k].side === 'left' ? 1 : -1, speed_mps: profile.speed_mps[turnIn] }]
  })
  const placeOf = (code: string, s: number, within: (p: (typeof places)[number]) => boolean) =>
    places.find((p) => p.habit.code === code && within(p) && s >= 0)
  const approach = (p: (typeof places)[number], s: number): boolean => isWithin(s, wrapStation(p.from_m - FELT_M, L), p.from_m, L)
  const inside = (p: (typeof places)[number], s: number): boolean => isWithin(s, p.from_m, wrapStation(p.exit_m + 10, L), L)
  const bump = (s: number, at_m: number, half_m: number): number => {
    const d = Math.abs(((s - at_m + 1.5 * L) % L) - L / 2)
    return d < half_m ? 0.5 * (1 + Math.cos((Math.PI * d) / half_m)) : 0
  }
  return {
    near: (s) => (placeOf('brake-early', s, (p) => approach(p, s)) ? 0.5 : placeOf('brake-late', s, (p) => approach(p, s)) ? 1.35 : 1),
    speed: (s) => (placeOf('brake-over', s, (p) => inside(p, s)) ? 0.87 : 1),
    aside_m: (s) =>
      places.reduce((sum, p) => {
        if (p.habit.code === 'apex-missed') return sum - p.left * 2 * bump(s, p.apex_m, 35)
        if (p.habit.code === 'setup-narrow') return sum + p.left * 3 * bump(s, p.from_m, 60)
        if (p.habit.code === 'turn-in-early') return sum + p.left * 2 * bump(s, p.from_m, 25)
        return sum
      }, 0),
    off: (s) =>
      places.some((p) => {
        if (p.habit.code === 'throttle-dip')
          return isWithin(s, wrapStation(p.apex_m + 12, L), wrapStation(p.apex_m + 12 + 0.55 * p.speed_mps, L), L)
        if (p.habit.code === 'coast') return isWithin(s, p.from_m, wrapStation(p.from_m + 1.3 * p.speed_mps, L), L)
        return false
      }),
  }
}

/** Codes that this driver can be made to show. */
export const feltCodes = [
  'brake-early',
  'brake-late',
  'brake-over',
  'apex-missed',
  'setup-narrow',
  'turn-in-early',
  'throttle-dip',
  'coast',
] as const

type Moment = { time_s: number; travel_m: number; offset_m: number; speed_mps: number; wheel_1pm: number; a_mps2: number }

/** Drives laps by a law; the log begins a little before the line. */
export const driveBy = (plan: Plan, options: DriveOptions, start: { speed: number }, lawOf: (random: Random) => Law): Drive => {
  const { circuit, vehicle, line, profile } = plan
  const { laps } = options
  const L = circuit.length_m
  const random = seededRandom(options.seed * 7 + 3)
  const drawn = Array.from({ length: laps + 2 }, (_, lap) =>
    lap < (options.habitsFrom ?? 1) ? [] : (options.habits ?? []).filter((h) => random.uniform() < h.probability),
  )
  const wrongs = drawn.map((habits) => wrongIn(plan, habits))
  const moods = Array.from(
    { length: laps + 2 },
    (): Mood => ({
      speed: 1 + 0.006 * random.normal(),
      near: 1 + 0.04 * random.normal(),
      aside_m: 0.1 * random.normal(),
    }),
  )
  const law = lawOf(random)
  const moments: Moment[] = []
  let travel = -150
  let speed_mps = atStation(circuit, profile.speed_mps, wrapStation(travel, L)) * start.speed
  let offset_m = atStation(circuit, line.offset_m, wrapStation(travel, L))
  let askew_rad = 0
  let wheel_1pm = 0
  let pedal = 0
  for (let t = 0; travel < laps * L + 60; t += DT_S) {
    const s = wrapStation(travel, L)
    const lap = Math.max(0, Math.min(laps + 1, Math.floor(travel / L) + 1))
    const resist_mps2 =
      (vehicle.rolling + Math.sin(atStation(circuit, circuit.grade_rad, s))) * GRAVITY_MPS2 +
      (0.6 * vehicle.dragArea_m2 * speed_mps ** 2) / vehicle.mass_kg
    const sideways = (speed_mps ** 2 * wheel_1pm) / (vehicle.muY * GRAVITY_MPS2)
    const grip_mps2 = vehicle.muY * GRAVITY_MPS2 * 0.9 * Math.sqrt(Math.max(0.05, 1 - sideways ** 2))
    const forces = { grip_mps2, resist_mps2, engine_mps2: maxEngineForce(vehicle, speed_mps) }
    const asked = law({ s, lap, offset_m, askew_rad, speed_mps, wheel_1pm }, forces, wrongs[lap], moods[lap])
    wheel_1pm = asked.wheel_1pm
    const demand = Math.max(-vehicle.maxBrake_mps2, -grip_mps2, Math.min(asked.demand_mps2, grip_mps2, forces.engine_mps2))
    pedal += ((demand - pedal) * DT_S) / (Math.abs(demand) > Math.abs(pedal) ? 0.12 : 0.16)
    moments.push({ time_s: t, travel_m: travel, offset_m, speed_mps, wheel_1pm, a_mps2: pedal })
    const road_1pm = atStation(circuit, circuit.kappa_1pm, s)
    const along = (speed_mps * Math.cos(askew_rad)) / (1 - offset_m * road_1pm)
    offset_m += speed_mps * Math.sin(askew_rad) * DT_S
    askew_rad += (speed_mps * wheel_1pm - road_1pm * along) * DT_S
    travel += along * DT_S
    speed_mps = Math.max(3, speed_mps + (pedal - resist_mps2) * DT_S)
  }
  const driven = Array.from({ length: laps }, (_, k) => lapOf(plan, moments, k))
  return {
    log: logOf(plan, moments, options),
    made: driven.flatMap((_, k) => drawn[k + 1].map(({ cornerId, code, size }) => ({ lap: k + 1, cornerId, code, size }))),
    driven,
    lapTimes_s: driven.map((lap) => lap.lapTime_s),
    firstLine_s: at(moments, 'time_s', 0),
  }
}

/** A value at a travelled distance. */
const at = (moments: readonly Moment[], key: keyof Moment, travel_m: number): number => {
  let [low, high] = [0, moments.length - 1]
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (moments[middle].travel_m <= travel_m) low = middle
    else high = middle
  }
  const [a, b] = [moments[low], moments[high]]
  const share = (travel_m - a.travel_m) / Math.max(1e-9, b.travel_m - a.travel_m)
  return a[key] + share * (b[key] - a[key])
}

/** One lap at the circuit's stations. */
const lapOf = (plan: Plan, moments: readonly Moment[], k: number): SimulatedLap => {
  const { circuit } = plan
  const column = (key: keyof Moment): Float64Array => circuit.s_m.map((s) => at(moments, key, k * circuit.length_m + s))
  const offset_m = column('offset_m')
  const speed_mps = column('speed_mps')
  const begin_s = at(moments, 'time_s', k * circuit.length_m)
  return {
    time_s: column('time_s').map((t) => t - begin_s),
    speed_mps,
    offset_m,
    kappa_1pm: column('wheel_1pm'),
    wheel_1pm: column('wheel_1pm'),
    ax_mps2: column('a_mps2'),
    gear: Uint8Array.from(plan.profile.gear),
    lapTime_s: at(moments, 'time_s', (k + 1) * circuit.length_m) - begin_s,
    made: [],
  }
}

/** The drive as a receiver writes it. */
const logOf = (
  plan: Plan,
  moments: readonly Moment[],
  { seed, rate_hz, white_m = 0, drift_m = 0, speedNoise_mps = 0 }: DriveOptions,
): Log => {
  const { circuit, vehicle } = plan
  const random = seededRandom(seed + 99)
  const plane = tangentPlane(circuit.origin ?? { lat_deg: 0, lon_deg: 0 })
  const keep = Math.exp(-1 / (30 * rate_hz))
  const fresh = drift_m * Math.sqrt(1 - keep * keep)
  let [east, north] = [drift_m * random.normal(), drift_m * random.normal()]
  const stride = Math.max(1, Math.round(1 / (rate_hz * DT_S)))
  const finer = Math.max(1, Math.round(rate_hz * DT_S))
  const picked: Moment[] = []
  for (let i = 0; i + 1 < moments.length; i += stride)
    for (let f = 0; f < finer; f++) {
      const [a, b, share] = [moments[i], moments[i + 1], f / finer]
      picked.push(
        Object.fromEntries(
          Object.keys(a).map((key) => [key, a[key as keyof Moment] + share * (b[key as keyof Moment] - a[key as keyof Moment])]),
        ) as Moment,
      )
    }
  const rows = picked.map((m) => {
    east = keep * east + fresh * random.normal()
    north = keep * north + fresh * random.normal()
    const place = placeAt(circuit, wrapStation(m.travel_m, circuit.length_m), m.offset_m)
    const fix = plane.toGeodetic(place.x_m + east + white_m * random.normal(), place.y_m + north + white_m * random.normal(), place.z_m)
    return { ...m, ...fix, z_m: place.z_m, measured_mps: m.speed_mps + speedNoise_mps * random.normal() }
  })
  const column = (of: (row: (typeof rows)[number]) => number): Float64Array => Float64Array.from(rows, of)
  return {
    time_s: column((r) => r.time_s),
    lat_deg: column((r) => r.lat_deg),
    lon_deg: column((r) => r.lon_deg),
    ele_m: column((r) => r.z_m),
    speed_mps: column((r) => Math.max(0, r.measured_mps)),
    throttle_pct: column((r) => Math.min(100, Math.max(0, (100 * r.a_mps2) / maxEngineForce(vehicle, r.speed_mps)))),
    brake_bar: column((r) => (80 * Math.max(0, -r.a_mps2)) / vehicle.maxBrake_mps2),
    steer_deg: column((r) => degrees(Math.atan(wheelbase_m * r.wheel_1pm)) * steeringRatio),
  }
}
