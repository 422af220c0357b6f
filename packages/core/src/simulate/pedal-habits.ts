import { distanceAhead, stationIndex } from '../circuit/station.ts'
import { type MarkKind, markOf } from '../marks/mark.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import type { Line } from '../path/line.ts'
import type { Plan } from '../plan/plan.ts'
import { driveLimit, resistance, uniformGrip } from '../profile/grip.ts'
import { loadsOn, stepOn } from '../profile/path.ts'
import { GRAVITY_MPS2 as g } from '../units/constants.ts'
import { maxEngineForce } from '../vehicle/engine.ts'

/** Pedal at a station: tyre demand (m/s², positive drives), back to the lap's own speeds, or no pedal at all. */
type Foot = (at: { i: number; elapsed_s: number; speed_mps: number; usual_mps2: number }) => number | 'rejoin' | 'fails'

/** A lap whose speeds can be driven again from a place on. */
type Pedals = {
  plan: Plan
  line: Line
  speed_mps: Float64Array
  /** Station index of a mark, moved by seconds at the speed there; undefined where the corner has none. */
  at: (kind: MarkKind, later_s?: number) => number | undefined
  /** Drives from a station on; false (and nothing changed) where it would take more grip than there is. */
  drive: (from: number, foot: Foot) => boolean
  /** Tyre demand of the lap as it is (m/s²). */
  demand: (i: number) => number
  /** The most that the engine gives (m/s²). */
  engine: (speed_mps: number) => number
  /** Time (s) of the lap as it is from one station to another. */
  time: (from: number, to: number) => number
}

/** Upper bound on the grip a simulated driver uses (fraction of dry grip). */
const MAX_GRIP = 1

/** Net acceleration that a demand leaves at a station (m/s²). */
const net = (plan: Plan, line: Line, i: number, u: number, demand_mps2: number): number =>
  demand_mps2 - resistance(plan.vehicle, loadsOn(plan.circuit, line, plan.vehicle, i), u)

/** Tyre demand (m/s²) of given speeds at every station. */
export const demandOf = (plan: Plan, line: Line, speed_mps: Float64Array): Float64Array =>
  speed_mps.map((v, i) => {
    const next = speed_mps[(i + 1) % speed_mps.length]
    const u = v * v
    return (next * next - u) / (2 * stepOn(plan.circuit, line, i)) - net(plan, line, i, u, 0)
  })

const pedalsOf = (plan: Plan, line: Line, speed_mps: Float64Array, cornerId: string): Pedals => {
  const { circuit, vehicle } = plan
  const n = circuit.count
  const usual = demandOf(plan, line, speed_mps)
  const grip = uniformGrip(Math.min(0.98, plan.settings.pace * 1.1))
  const sideways = (i: number, u: number): number => Math.abs(u * line.kappa_1pm[i]) / (vehicle.muY * g)
  const drive = (from: number, foot: Foot): boolean => {
    const out = Float64Array.from(speed_mps)
    let u = out[from] ** 2
    let elapsed_s = 0
    let rejoining = false
    for (let k = 0; k < n / 2; k++) {
      const i = (from + k) % n
      const j = (i + 1) % n
      const v = Math.sqrt(u)
      const wish = rejoining ? 'rejoin' : foot({ i, elapsed_s, speed_mps: v, usual_mps2: usual[i] })
      if (wish === 'fails') return false
      const step_m = stepOn(circuit, line, i)
      let next = u
      if (wish === 'rejoin') {
        rejoining = true
        const base = speed_mps[j] ** 2
        if (u > speed_mps[i] ** 2 + 1e-9) next = Math.max(base, u + 2 * step_m * net(plan, line, i, u, Math.min(usual[i], -0.3 * g)))
        else if (usual[i] < 0.02 * g) next = Math.min(base, u + 2 * step_m * net(plan, line, i, u, Math.max(usual[i], 0)))
        else next = Math.min(base, u + 2 * step_m * net(plan, line, i, u, driveLimit(vehicle, loadsOn(circuit, line, vehicle, i), u, grip)))
        if (next === base) {
          out[j] = speed_mps[j]
          speed_mps.set(out)
          return true
        }
      } else next = u + 2 * step_m * net(plan, line, i, u, wish)
      if (next < 4) return false
      const brake = wish === 'rejoin' ? 0 : Math.max(0, -wish) / (vehicle.muX * g)
      if (Math.hypot(sideways(i, u), brake) > MAX_GRIP) return false
      elapsed_s += (2 * step_m) / (v + Math.sqrt(next))
      u = next
      out[j] = Math.sqrt(u)
    }
    return false
  }
  const at = (kind: MarkKind, later_s = 0): number | undefined => {
    const mark = markOf(plan.marks, cornerId, kind)
    return mark && stationIndex(circuit, mark.station_m + later_s * mark.speed_mps)
  }
  const time = (from: number, to: number): number => {
    let sum = 0
    for (let i = from; i !== to; i = (i + 1) % n) sum += (2 * stepOn(circuit, line, i)) / (speed_mps[i] + speed_mps[(i + 1) % n])
    return sum
  }
  return { plan, line, speed_mps, at, drive, demand: (i) => usual[i], engine: (v) => maxEngineForce(vehicle, v), time }
}

/** The corner's braking: its first and last station, and the hardest demand in it (m/s²). */
const zoneOf = ({ plan, at, demand }: Pedals): { brake: number; release: number; peak_mps2: number } | null => {
  const [brake, release] = [at('brake'), at('release')]
  const turnIn = at('turn-in')
  // A brake that is only touched in the turn is no zone to get wrong.
  if (brake === undefined || release === undefined || turnIn === undefined || past(plan, brake, turnIn)) return null
  let peak = 0
  for (let i = brake; i !== release; i = (i + 1) % plan.circuit.count) peak = Math.max(peak, -demand(i))
  return { brake, release, peak_mps2: peak }
}

/** True if station `i` is at or past station `mark`, within half a lap. */
const past = (plan: Plan, i: number, mark: number): boolean => {
  const n = plan.circuit.count
  return (i - mark + n) % n < n / 2
}

/** The braking (m/s², below 0) that brings a speed down to another at a station ahead. */
const towards = ({ plan }: Pedals, i: number, speed_mps: number, to: number, wanted_mps: number): number => {
  const way_m = Math.max(3, distanceAhead(plan.circuit.s_m[i], plan.circuit.s_m[to], plan.circuit.length_m))
  return -Math.max(0, speed_mps * speed_mps - wanted_mps * wanted_mps) / (2 * way_m)
}

/** Braking from the mark to a speed at turn-in (a share of the usual one) that is carried on into the turn as `shape` says. */
const brakeInto = (
  pedals: Pedals,
  { arriving, later_s }: { arriving: number; later_s: number },
  shape: (sinceTurnIn_s: number, peak_mps2: number) => number | 'rejoin',
): boolean => {
  const { plan } = pedals
  const zone = zoneOf(pedals)
  const [from, turnIn, end] = [pedals.at('brake', -0.05), pedals.at('turn-in'), pedals.at('turn-in', later_s)]
  if (!zone || from === undefined || turnIn === undefined || end === undefined) return false
  const wanted_mps = arriving * pedals.speed_mps[turnIn]
  let turned_s: number | null = null
  return pedals.drive(from, ({ i, elapsed_s, speed_mps }) => {
    if (!past(plan, i, end)) return towards(pedals, i, speed_mps, (end + 1) % plan.circuit.count, wanted_mps)
    turned_s ??= elapsed_s
    return shape(elapsed_s - turned_s, zone.peak_mps2)
  })
}

/** A change of the throttle that starts some seconds after a mark. */
const throttleFrom = (pedals: Pedals, later_s: number, foot: Foot): boolean => {
  const from = pedals.at('throttle', later_s)
  return from !== undefined && pedals.drive(from, foot)
}

/** Demand that holds the speed at a station (m/s²). */
const holding = ({ plan, line }: Pedals, i: number, speed_mps: number): number => -net(plan, line, i, speed_mps ** 2, 0)

type PedalHabit = (pedals: Pedals, size: number) => boolean

/** Pedals of each mistake; sizes in seconds, but a share of the peak for a soft brake and of travel for a dip. */
const habits: Partial<Record<LogCode, PedalHabit>> = {
  // A little sooner than the mark, and on for longer: what is missing in force is made up for in the turn.
  'brake-soft': (pedals, size) => {
    const zone = zoneOf(pedals)
    const from = pedals.at('brake', -0.2)
    if (!zone || from === undefined) return false
    return pedals.drive(from, ({ i, elapsed_s, speed_mps, usual_mps2 }) =>
      elapsed_s > 0.5 && speed_mps <= pedals.speed_mps[i] && usual_mps2 > -0.5 * size * zone.peak_mps2 ? 'rejoin' : -size * zone.peak_mps2,
    )
  },
  'brake-slow-build': (pedals, size) => {
    const zone = zoneOf(pedals)
    const [from, turnIn] = [pedals.at('brake', -0.25), pedals.at('turn-in')]
    if (!zone || from === undefined || turnIn === undefined) return false
    // Slow to bite, then what the rest of the way needs; no zone is too short to be built up in.
    if (pedals.time(zone.brake, turnIn) < 1.3 * size) return false
    return pedals.drive(from, ({ i, elapsed_s, speed_mps }) => {
      if (past(pedals.plan, i, turnIn)) return 'rejoin'
      if (elapsed_s < size) return (-elapsed_s / size) * Math.min(1.12 * zone.peak_mps2, 0.97 * g)
      return towards(pedals, i, speed_mps, turnIn, pedals.speed_mps[turnIn])
    })
  },
  'brake-split': (pedals, size) => {
    const zone = zoneOf(pedals)
    const [from, turnIn] = [pedals.at('brake', -0.2), pedals.at('turn-in')]
    if (!zone || from === undefined || turnIn === undefined) return false
    const { plan, speed_mps: usual } = pedals
    const first_s = 0.4 * pedals.time(zone.brake, zone.release)
    if (first_s < 0.45) return false
    let again = false
    return pedals.drive(from, ({ i, elapsed_s, speed_mps }) => {
      if (elapsed_s < first_s) return -1.1 * zone.peak_mps2
      if (elapsed_s < first_s + size) return -0.01 * zone.peak_mps2
      if (past(plan, i, turnIn)) return 'rejoin'
      // The second application is what the rest of the way needs; where that is next to nothing there is none.
      const needed_mps2 = towards(pedals, i, speed_mps, turnIn, usual[turnIn])
      again ||= -needed_mps2 > 0.6 * zone.peak_mps2
      return again ? needed_mps2 : 'fails'
    })
  },
  'brake-hold': (pedals, size) => {
    const zone = zoneOf(pedals)
    const from = pedals.at('release', -0.3)
    if (!zone || from === undefined) return false
    const level = Math.max(0.12 * g, 0.3 * zone.peak_mps2)
    return pedals.drive(from, ({ elapsed_s, usual_mps2 }) => (elapsed_s > 0.3 + size ? 'rejoin' : Math.min(usual_mps2, -level)))
  },
  'brake-dump': (pedals, size) => brakeInto(pedals, { arriving: 0.97, later_s: size }, (t) => (t < 0.3 ? 0 : 'rejoin')),
  'brake-in-turn': (pedals, size) =>
    pedals.plan.settings.school === 'straight' &&
    brakeInto(pedals, { arriving: 1.07, later_s: 0 }, (t, peak) => (t < 0.1 ? -0.6 * peak : t < size ? -0.2 * g : 'rejoin')),
  // All of the braking before the wheel moves, then rolling in: what is not slowed in the turn is carried through it.
  'no-trail': (pedals, size) => {
    const { plan } = pedals
    const zone = zoneOf(pedals)
    const [from, gone, slowest] = [pedals.at('brake', -0.32), pedals.at('turn-in', -size), pedals.at('slowest')]
    if (!zone || from === undefined || gone === undefined || slowest === undefined || plan.settings.school !== 'trail') return false
    const harder = Math.min(1.25 * zone.peak_mps2, 0.97 * g)
    const wanted_mps = pedals.speed_mps[slowest]
    let released = false
    return pedals.drive(from, ({ i, speed_mps }) => {
      released ||= speed_mps <= wanted_mps || past(plan, i, gone)
      if (!released) return -harder
      return speed_mps > pedals.speed_mps[i] || !past(plan, i, slowest) ? 0.5 * holding(pedals, i, speed_mps) : 'rejoin'
    })
  },
  coast: (pedals, size) => {
    const [from, throttle] = [pedals.at('release', 0.2), pedals.at('throttle')]
    // Where the plan itself rolls from brake to throttle nobody coasts by mistake.
    if (from === undefined || throttle === undefined || (past(pedals.plan, throttle, from) && pedals.time(from, throttle) > 0.3))
      return false
    return pedals.drive(from, ({ elapsed_s }) => (elapsed_s < size ? 0 : 'rejoin'))
  },
  'throttle-early': (pedals, size) =>
    throttleFrom(pedals, -size - 0.1, ({ i, elapsed_s, speed_mps }) =>
      elapsed_s < size
        ? Math.min(0.42 * pedals.engine(speed_mps), 0.25 * g + holding(pedals, i, speed_mps))
        : elapsed_s < size + 0.45
          ? 0.04 * pedals.engine(speed_mps)
          : 'rejoin',
    ),
  'throttle-late': (pedals, size) =>
    throttleFrom(pedals, -0.1, ({ i, elapsed_s, speed_mps }) => (elapsed_s < size + 0.1 ? holding(pedals, i, speed_mps) : 'rejoin')),
  'throttle-dip': (pedals, size) =>
    throttleFrom(pedals, 0.8, ({ elapsed_s, speed_mps, usual_mps2 }) =>
      elapsed_s < 0.5 ? Math.max(0, usual_mps2 - size * pedals.engine(speed_mps)) : 'rejoin',
    ),
  'throttle-jab': (pedals, size) => {
    const from = pedals.at('throttle')
    return (
      from !== undefined &&
      pedals.drive(from, ({ i, elapsed_s, speed_mps }) =>
        elapsed_s < 0.4
          ? Math.min(holding(pedals, i, speed_mps) + 0.02 * g, 0.15 * pedals.engine(speed_mps))
          : elapsed_s < 0.6 || speed_mps < pedals.speed_mps[i]
            ? size * pedals.engine(speed_mps)
            : 'rejoin',
      )
    )
  },
  'throttle-full-late': (pedals, size) =>
    throttleFrom(pedals, 0, ({ elapsed_s, speed_mps, usual_mps2 }) =>
      elapsed_s < size ? Math.min(usual_mps2, 0.6 * pedals.engine(speed_mps)) : 'rejoin',
    ),
  'throttle-short': (pedals, size) =>
    throttleFrom(pedals, 1.2, ({ elapsed_s, speed_mps, usual_mps2 }) =>
      elapsed_s < size && usual_mps2 > 0 ? Math.min(usual_mps2, 0.75 * pedals.engine(speed_mps)) : 'rejoin',
    ),
  'lift-missing': (pedals) => {
    const [lift, apex] = [pedals.at('lift', -0.2), pedals.at('apex')]
    if (lift === undefined || apex === undefined) return false
    return pedals.drive(lift, ({ i, speed_mps }) => (past(pedals.plan, i, apex) ? 'rejoin' : 0.98 * pedals.engine(speed_mps)))
  },
  'lift-late': (pedals, size) => {
    const lift = pedals.at('lift', -0.2)
    if (lift === undefined) return false
    return pedals.drive(lift, ({ i, elapsed_s, speed_mps }) =>
      elapsed_s < 0.2 + size ? 0.98 * pedals.engine(speed_mps) : elapsed_s < 0.7 + size && speed_mps > pedals.speed_mps[i] ? 0 : 'rejoin',
    )
  },
  'lift-early': (pedals, size) => {
    const [early, lift] = [pedals.at('lift', -size), pedals.at('lift')]
    if (early === undefined || lift === undefined) return false
    return pedals.drive(early, ({ i }) => (past(pedals.plan, i, lift) ? 'rejoin' : 0))
  },
}

/** Drives a lap's speeds (m/s) again with one mistake of the pedals, in place; null where the code is none of them. */
export const pedalHabit = (
  plan: Plan,
  line: Line,
  speed_mps: Float64Array,
  { cornerId, code }: { cornerId: string; code: LogCode },
  size: number,
): boolean | null => {
  const habit = habits[code]
  return habit ? habit(pedalsOf(plan, line, speed_mps, cornerId), size) : null
}

/** Time that pedals take from one demand to another (s): half of the window over which speeds are eased. */
const EASE_S = 0.16
/** Everybody acts on a mark when it is there, not before: the eased speeds come later by this (s). */
const REACT_S = 0.05

/** Eases speeds so that no pedal moves in no time: a triangular mean of v² over ± EASE_S, a little behind. */
export const easedSpeeds = (plan: Plan, speed_mps: Float64Array): Float64Array => {
  const { count: n, step_m } = plan.circuit
  const u = speed_mps.map((v) => v * v)
  const eased = u.map((_, i) => {
    const half = (EASE_S * speed_mps[i]) / step_m
    let sum = u[i]
    let weight = 1
    for (let k = 1; k < half; k++) {
      const w = 1 - k / half
      sum += w * (u[(i + k) % n] + u[(i - k + n) % n])
      weight += 2 * w
    }
    return Math.sqrt(sum / weight)
  })
  return eased.map((v, i) => {
    const back = (REACT_S * v) / step_m
    const whole = Math.floor(back)
    const share = back - whole
    return (1 - share) * eased[(i - whole + n) % n] + share * eased[(i - whole - 1 + n) % n]
  })
}
