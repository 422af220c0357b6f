import type { Venue } from '../circuit/venue.ts'
import { type LapTrace, planTrace, traceOf } from '../drive/lap-trace.ts'
import { resistanceOf } from '../drive/trajectory-of-log.ts'
import type { LineMethod } from '../line/line-method.ts'
import type { Lap } from '../log/laps.ts'
import type { Log } from '../log/log.ts'
import { type BrakingSchool, brakingSchools } from '../marks/braking-school.ts'
import type { Line } from '../path/line.ts'
import { planLine, planOnLine } from '../plan/make-plan.ts'
import type { Plan, PlanSettings } from '../plan/plan.ts'
import { median } from '../solve/robust.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { measureLog } from './measured-log.ts'
import type { Reference } from './reference.ts'
import type { ReferenceReason } from './reference-told.ts'

/**
 * The reference that explains a drive best, and how well: `fit` is the usual difference from it, in units of what a careful
 * driver's laps differ from each other by. `why`: a plan explains it; none of the plans does; or there was no vehicle to plan for.
 */
export type FoundReference = {
  reference: Reference
  fit: number | null
  why: Extract<ReferenceReason, 'plan-explains' | 'no-plan-explains' | 'no-vehicle'>
}

/** Lines that people drive on purpose; the others are for rain and karts and have to be chosen. */
const methods: readonly LineMethod[] = ['smoothest', 'fast', 'late']
/** Paces that are tried first, and steps by which the best is narrowed down. */
const PACES = [0.5, 0.6, 0.7, 0.8, 0.9, 1] as const
const PACE_STEPS = [0.05, 0.025] as const
const [MIN_PACE, MAX_PACE] = [0.4, 1] as const
/** Pace at which lines are solved for the search: they depend on it little. */
const LINE_PACE = 0.75
/** A lap slower than the quickest by more than this share was not driven like it. */
const SLOW_SHARE = 1.07
/** What careful laps differ by: a share of the speed, beside a part that is always there (m/s), and metres across the road. */
const ALIKE = { speedShare: 0.03, speed_mps: 0.4, offset_m: 0.7 } as const
/** A corner counts with at most this, so that a mistake that is made there every lap does not choose the reference. */
const MOST_OF_A_CORNER = 9
/** Above this usual difference no plan explains a drive. */
const UNLIKE = 5
/** Road before the turn-in that belongs to a corner, so that its braking is in it (m). */
const BEFORE_M = 160

/** The laps of a drive by which a reference is chosen: whole ones, nearly as quick as the quickest. */
type Driven = { traces: readonly LapTrace[]; quickest: Lap }

/**
 * Finds what a log from elsewhere is to be held against: of the plans in each braking style and on each usual line the one,
 * at the pace, that explains the drive best; where none does, or the vehicle is not known, the quickest lap of the log.
 * `maxPace`: no plan above it is tried. Cost: about 60 profiles and three lines.
 * @throws CoreError when the log is from elsewhere or holds no whole lap
 */
export const findReference = (
  venue: Venue,
  vehicle: Vehicle | null,
  log: Log,
  settings: PlanSettings,
  maxPace: number = MAX_PACE,
): FoundReference => {
  const { circuit, corners } = venue
  const lines = new Map<LineMethod, Line>()
  const lineOf = (method: LineMethod): Line => {
    const line = lines.get(method) ?? planLine(venue, vehicle as Vehicle, { ...settings, pace: LINE_PACE, method })
    lines.set(method, line)
    return line
  }
  const expected = (): Float64Array => (vehicle ? lineOf('smoothest').offset_m : new Float64Array(circuit.count))
  const { laps, trajectory } = measureLog(circuit, log, expected, vehicle ? { resistance: resistanceOf(vehicle) } : {})
  const { traces, quickest } = drivenAlike(
    laps,
    laps.map((lap) => traceOf(circuit, trajectory, lap)),
  )
  const own: Reference = { kind: 'lap', lap: quickest.lap }
  if (!vehicle || corners.length === 0) return { reference: own, fit: null, why: 'no-vehicle' }
  const typical = typicalOf(traces)
  const planBy = (method: LineMethod, school: BrakingSchool, pace: number): Plan =>
    planOnLine(venue, vehicle, { ...settings, method, school, pace }, lineOf(method))
  const best = bestOf(methods, maxPace, planBy, (plan) => differenceFrom(plan, typical, circuit.widthAssumed === true))
  if (best.fit > UNLIKE) return { reference: own, fit: best.fit, why: 'no-plan-explains' }
  const { method = 'smoothest', pace, school } = best.plan.settings
  // The line of that pace itself, now that it is known.
  const line = planLine(venue, vehicle, { ...settings, method, school, pace })
  return {
    reference: { kind: 'plan', plan: planOnLine(venue, vehicle, { ...settings, method, school, pace }, line) },
    fit: best.fit,
    why: 'plan-explains',
  }
}

const drivenAlike = (laps: readonly Lap[], traces: readonly LapTrace[]): Driven => {
  const whole = laps.map((_, k) => k).filter((k) => traces[k].known.every((known) => known === 1))
  const usable = whole.length > 0 ? whole : laps.map((_, k) => k)
  const best = usable.reduce((min, k) => (laps[k].time_s < laps[min].time_s ? k : min), usable[0])
  const alike = usable.filter((k) => laps[k].time_s <= SLOW_SHARE * laps[best].time_s)
  return { traces: alike.map((k) => traces[k]), quickest: laps[best] }
}

/** Speed and place of the usual lap at each station: the middle one of all laps. */
type Typical = { speed_mps: Float64Array; offset_m: Float64Array }

const typicalOf = (traces: readonly LapTrace[]): Typical => {
  const middle = (column: 'speed_mps' | 'offset_m'): Float64Array =>
    Float64Array.from(traces[0][column], (_, i) => median(traces.map((trace) => trace[column][i])))
  return { speed_mps: middle('speed_mps'), offset_m: middle('offset_m') }
}

/** The best plan by a search over lines, braking styles and paces: first each line at a few paces, then styles, then the pace more finely. */
const bestOf = (
  lines: readonly LineMethod[],
  maxPace: number,
  planBy: (method: LineMethod, school: BrakingSchool, pace: number) => Plan,
  difference: (plan: Plan) => number,
): { plan: Plan; fit: number } => {
  const tried = new Map<string, { plan: Plan; fit: number }>()
  const attempt = (method: LineMethod, school: BrakingSchool, pace: number) => {
    const rounded = Math.round(1000 * Math.min(maxPace, Math.max(MIN_PACE, pace))) / 1000
    const key = `${method} ${school} ${rounded}`
    const before = tried.get(key)
    if (before) return before
    const plan = planBy(method, school, rounded)
    const made = { plan, fit: difference(plan) }
    tried.set(key, made)
    return made
  }
  const quickest = (list: readonly { plan: Plan; fit: number }[]) => list.reduce((min, one) => (one.fit < min.fit ? one : min))
  const perStyle = lines.flatMap((method) => {
    const pace = quickest(PACES.map((p) => attempt(method, 'blend', p))).plan.settings.pace
    return brakingSchools.map((school) => {
      let best = attempt(method, school, pace)
      for (const step of PACE_STEPS) {
        const { pace: at } = best.plan.settings
        best = quickest([best, attempt(method, school, at - step), attempt(method, school, at + step)])
      }
      return best
    })
  })
  let best = quickest(perStyle)
  const step = PACE_STEPS[PACE_STEPS.length - 1]
  for (;;) {
    const { method = 'smoothest', school, pace } = best.plan.settings
    const better = quickest([best, attempt(method, school, pace - step), attempt(method, school, pace + step)])
    if (better === best) return best
    best = better
  }
}

/** The usual difference of a typical lap from a plan over its corners, in units of what careful laps differ by. */
const differenceFrom = (plan: Plan, typical: Typical, edgesUnknown: boolean): number => {
  const { circuit, turnings } = plan
  const planned = planTrace(plan)
  const n = circuit.count
  const before = Math.round(BEFORE_M / circuit.step_m)
  const perCorner = turnings.map(({ turnIn, apex, exit }) => {
    const from = (turnIn - before + n) % n
    const length = (((exit ?? apex) - from + n) % n) + 1
    let sum = 0
    for (let j = 0; j < length; j++) {
      const i = (from + j) % n
      const speed = (typical.speed_mps[i] - planned.speed_mps[i]) / (ALIKE.speedShare * planned.speed_mps[i] + ALIKE.speed_mps)
      const offset = edgesUnknown ? 0 : (typical.offset_m[i] - planned.offset_m[i]) / ALIKE.offset_m
      sum += speed * speed + 0.3 * offset * offset
    }
    return Math.min(MOST_OF_A_CORNER, sum / length)
  })
  return perCorner.reduce((a, b) => a + b, 0) / perCorner.length
}
