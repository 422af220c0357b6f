import { TOUCH_G } from '../drive/trajectory.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import { findTurnings, innerDistance, outerDistance, TURN_IN_SHARE, type Turning } from '../path/turning.ts'
import type { Plan } from '../plan/plan.ts'
import { GRAVITY_MPS2 as g } from '../units/constants.ts'
import { maxEngineForce } from '../vehicle/engine.ts'
import type { SimulatedLap } from './student.ts'

export const TOUCH_KEPT_S = 0.1
const TURN_KEPT_S = 0.5

/** A corner in a lap of the reference; places are stations counted from its apex. */
type Place = { turnIn: number; exit: number | null; from: number; next: number; turning: Turning }

/** One lap around one corner; columns are read at stations counted from the reference's apex. */
export type Around = ReturnType<typeof aroundOf>

const aroundOf = (plan: Plan, lap: SimulatedLap, k: number, apex: number) => {
  const { circuit, vehicle } = plan
  const n = circuit.count
  const corner = plan.corners[k]
  const sign = corner.side === 'left' ? 1 : -1
  const index = (j: number): number => (((apex + j) % n) + n) % n
  const clock = (j: number): number => lap.time_s[index(j)] + lap.lapTime_s * Math.floor((apex + j) / n)
  return {
    clock,
    speed: (j: number): number => lap.speed_mps[index(j)],
    bend: (j: number): number => sign * lap.kappa_1pm[index(j)],
    wheel: (j: number): number => sign * lap.wheel_1pm[index(j)],
    brake: (j: number): number => Math.max(0, -lap.ax_mps2[index(j)] / g),
    drive: (j: number): number => Math.max(0, lap.ax_mps2[index(j)] / g),
    throttle: (j: number): number => Math.min(1, Math.max(0, lap.ax_mps2[index(j)] / maxEngineForce(vehicle, lap.speed_mps[index(j)]))),
    gear: (j: number): number => lap.gear[index(j)],
    inner: (j: number): number => innerDistance(circuit, corner, lap.offset_m[index(j)], index(j)),
    outer: (j: number): number => outerDistance(circuit, corner, lap.offset_m[index(j)], index(j)),
    offset: (j: number): number => lap.offset_m[index(j)],
    index,
    /** The first place from `from` to `to` at which a value stays above a level for a time. */
    first: (value: (j: number) => number, level: number, kept_s: number, from: number, to: number): number | null => {
      let since: number | null = null
      for (let j = from; j <= to || since !== null; j++) {
        if (!(value(j) > level)) since = null
        else since ??= j
        if (since !== null && since > to) return null
        if (since !== null && clock(j) - clock(since) >= kept_s) return since
      }
      return null
    },
  }
}

/** Least value of a column from one place to another, and where. */
export const min = (value: (j: number) => number, from: number, to: number): { at: number; value: number } => {
  let at = from
  for (let j = from; j <= to; j++) if (value(j) < value(at)) at = j
  return { at, value: value(at) }
}

/** The largest value of a column from one place to another. */
export const max = (value: (j: number) => number, from: number, to: number): number => -min((j) => -value(j), from, to).value

const placesOf = (plan: Plan, reference: SimulatedLap): Place[] => {
  const { circuit, corners } = plan
  const n = circuit.count
  const turnings = findTurnings(circuit, corners, reference)
  const ahead = (from: number, to: number): number => (to - from + n) % n
  return turnings.map((turning, k) => {
    const before = turnings[(k - 1 + corners.length) % corners.length]
    const after = turnings[(k + 1) % corners.length]
    const turnIn = -ahead(turning.turnIn, turning.apex)
    const sinceBefore = ahead(before.apex, turning.apex)
    return {
      turning,
      turnIn,
      exit: turning.exit === null ? null : ahead(turning.apex, turning.exit),
      from: Math.max(turnIn - Math.round(330 / circuit.step_m), Math.round(5 / circuit.step_m) - sinceBefore),
      next: ahead(turning.apex, after.turnIn),
    }
  })
}

/** A braking: where the brake was touched and let go, and how hard it was pressed. */
export type Braking = { on: number; off: number; peak_g: number }

/** From the fastest place before a corner to past its apex: where the brake was touched, let go and how hard it was pressed. */
const brakingOf = (around: Around, place: Place, step_m: number): Braking | null => {
  const { speed, brake, first } = around
  const past = Math.round(40 / step_m)
  const slowest = min(speed, place.turnIn - Math.round(10 / step_m), past).at
  const fastest = min((j) => -speed(j), place.from, slowest).at
  const on = first(brake, TOUCH_G, TOUCH_KEPT_S, fastest, slowest)
  if (on === null) return null
  let off = Math.max(slowest, 0)
  while (brake(off + 1) > TOUCH_G) off++
  while (off > on && brake(off) <= TOUCH_G) off--
  const peak_g = max(brake, on, off)
  return speed(on) - speed(off) < 1.5 || peak_g < 2 * TOUCH_G ? null : { on, off, peak_g }
}

/** One corner of a lap beside the same corner of a reference lap, with the marks of both. */
export type KeyCorner = {
  plan: Plan
  place: Place
  /** Most curvature of the reference (1/m). */
  peak_1pm: number
  own: Around
  ref: Around
  /** Start of the next corner. */
  end: number
  /** Metres as stations. */
  stations: (m: number) => number
  /** Turn-ins as the wheel shows them; null where it is not turned for long enough. */
  turnIn: number | null
  wantedTurnIn: number | null
  /** The same, or else the reference's place. */
  marks: { turnIn: number; wantedTurnIn: number }
  apex: { at: number; inner_m: number }
  wantedApex: { at: number; inner_m: number }
  brake: Braking | null
  wantedBrake: Braking | null
}

/** Notes a mistake where its value passes its threshold. */
export type Say = (code: LogCode, value: number, threshold: number) => void

/** Lays one corner of a lap beside the same corner of a reference. */
export const keyCornerOf = (plan: Plan, cornerId: string, lap: SimulatedLap, reference: SimulatedLap): KeyCorner => {
  const { circuit, corners } = plan
  const { step_m } = circuit
  const k = corners.findIndex((corner) => corner.id === cornerId)
  const places = placesOf(plan, reference)
  const place = places[k]
  const { apex, peakKappa_1pm: peak_1pm } = place.turning
  const own = aroundOf(plan, lap, k, apex)
  const ref = aroundOf(plan, reference, k, apex)
  const stations = (m: number): number => Math.round(m / step_m)
  const after = (k + 1) % corners.length
  const nextApex = places[after].turning.apex
  const nextBrake = brakingOf(aroundOf(plan, lap, after, nextApex), places[after], step_m)?.on
  const toNext = (nextApex - apex + circuit.count) % circuit.count
  const turnInOf = (around: Around): number | null =>
    around.first(around.bend, TURN_IN_SHARE * peak_1pm, TURN_KEPT_S, Math.max(place.turnIn - stations(70), place.from), 0)
  const apexOf = ({ inner }: Around): { at: number; inner_m: number } => {
    const low = min(inner, Math.max(-stations(40), place.turnIn), stations(40))
    let to = stations(40)
    while (inner(to) > low.value + 0.03) to--
    let from = to
    while (inner(from - 1) <= low.value + 0.03) from--
    return { at: Math.round((from + to) / 2), inner_m: low.value }
  }
  const [turnIn, wantedTurnIn] = [turnInOf(own), turnInOf(ref)]
  return {
    plan,
    place,
    peak_1pm,
    own,
    ref,
    end: Math.min(place.next, nextBrake === undefined ? place.next : toNext + nextBrake),
    stations,
    turnIn,
    wantedTurnIn,
    marks: { turnIn: turnIn ?? place.turnIn, wantedTurnIn: wantedTurnIn ?? place.turnIn },
    apex: apexOf(own),
    wantedApex: apexOf(ref),
    brake: brakingOf(own, place, step_m),
    wantedBrake: brakingOf(ref, place, step_m),
  }
}
