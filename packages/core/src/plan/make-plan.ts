import type { Circuit } from '../circuit/circuit.ts'
import type { Pin } from '../circuit/pin.ts'
import { atStation, signedDistance, stationIndex } from '../circuit/station.ts'
import type { Venue } from '../circuit/venue.ts'
import { CoreError } from '../errors/errors.ts'
import { DEFAULT_MARGIN_M, offsetBounds } from '../line/bounds.ts'
import { followLine } from '../line/follow.ts'
import type { LineMethod } from '../line/line-method.ts'
import { type LineWish, solveLine } from '../line/methods.ts'
import type { BrakingSchool } from '../marks/braking-school.ts'
import { type Mark, markOf } from '../marks/mark.ts'
import { findMarks } from '../marks/marks.ts'
import { brakeLeft, gripOfSchool } from '../marks/school.ts'
import type { Line } from '../path/line.ts'
import { findTurnings } from '../path/turning.ts'
import { type GripShare, surfaces, uniformGrip } from '../profile/grip.ts'
import { solveProfile } from '../profile/solve-profile.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import type { Plan, PlanSettings } from './plan.ts'
import { planGears } from './plan-gears.ts'

/** Lines among which the quickest is the fast one: the solver knows nothing of braking styles, which can turn their order round. */
const fastCandidates = ['fast', 'smoothest', 'compact'] as const

/**
 * Solves the line of a setting; for `fast` the quickest of some in the plan's own braking style.
 * @throws CoreError where road or limits leave none
 */
export const planLine = (venue: Venue, vehicle: Vehicle, settings: PlanSettings, onStep?: LineWish['onStep']): Line => {
  if (settings.method !== 'fast') return lineBy(settings.method ?? 'smoothest', venue, vehicle, settings, onStep)
  const lines = fastCandidates.map((method) => lineBy(method, venue, vehicle, settings, onStep))
  const times_s = lines.map((line) => planOnLine(venue, vehicle, settings, line).profile.lapTime_s)
  return lines[times_s.indexOf(Math.min(...times_s))]
}

const lineBy = (method: LineMethod, venue: Venue, vehicle: Vehicle, settings: PlanSettings, onStep?: LineWish['onStep']): Line =>
  solveLine(venue.circuit, venue.corners, vehicle, {
    method,
    grip: shareOf(settings),
    margin_m: settings.margin_m,
    ground: venue.ground,
    pins: [...(venue.pins ?? []).map((pin) => reachable(venue.circuit, vehicle, settings.margin_m, pin)), ...(settings.pins ?? [])],
    entry_mps: settings.entry_mps ?? 0,
    perMetre_s: settings.perMetre_s,
    onStep,
  })
/**
 * A plan's line as it follows a mark that is dragged at a station (m), by the places that hold it then; within edges and bands.
 * @throws CoreError 'line-no-road' where the road has no such place
 */
export const followPins = (
  { circuit, ground }: Venue,
  vehicle: Vehicle,
  settings: PlanSettings,
  before: Line,
  pins: readonly Pin[],
  station_m: number,
): Line => {
  const held = pins.map((pin) => reachable(circuit, vehicle, settings.margin_m, pin))
  const bounds = offsetBounds(circuit, vehicle.width_m, settings.margin_m ?? vehicle.margin_m ?? DEFAULT_MARGIN_M, { ground, pins: held })
  return followLine(circuit, bounds, settings.method ?? 'smoothest', before, station_m)
}

/** A place of the venue as near as this vehicle comes to it: what one car drives through may lie too near the edge for a wider one. */
const reachable = (circuit: Circuit, vehicle: Vehicle, margin_m: number | undefined, { station_m, offset_m }: Pin): Pin => {
  const room_m = vehicle.width_m / 2 + (margin_m ?? vehicle.margin_m ?? DEFAULT_MARGIN_M)
  const left_m = atStation(circuit, circuit.widthLeft_m, station_m) - room_m
  const right_m = room_m - atStation(circuit, circuit.widthRight_m, station_m)
  return { station_m, offset_m: Math.max(right_m, Math.min(left_m, offset_m)) }
}

/** The share of the dry grip that a setting uses. @throws CoreError 'setting-range' for a pace outside 0 … 1 */
const shareOf = ({ pace, surface }: PlanSettings): GripShare => {
  if (!(pace > 0 && pace <= 1))
    throw new CoreError('setting-range', 'pace', { field: 'pace', value: String(pace), range: 'above 0 up to 1' })
  return uniformGrip(surfaces[surface] * pace)
}

/** Rounds in which the brake that may be carried into a corner is narrowed down. */
const LEFT_ROUNDS = 6

/**
 * Profile and marks on a given line, for a surface, a pace and a braking style. A brake may be carried into a corner but never
 * begun in it: where the blend or trail style would begin to brake after turn-in, as in a long tightening corner, so much less
 * brake is left in that corner that braking begins by its turn-in (found by bisection). Cost: one profile, and one for each round.
 * @throws CoreError 'setting-range' for a pace outside 0 … 1
 */
export const planOnLine = (venue: Venue, vehicle: Vehicle, settings: PlanSettings, line: Line): Plan => {
  const { circuit, corners, ground } = venue
  const turnings = findTurnings(circuit, corners, line)
  const share = shareOf(settings)
  const planWith = (leftAt: ReadonlyMap<number, number>): Plan => {
    const grip = gripOfSchool(circuit, turnings, share, settings.school, leftAt)
    const profile = solveProfile(circuit, line, vehicle, { grip, entry_mps: settings.entry_mps ?? 0 })
    const marks = findMarks(venue, vehicle, line, profile, turnings)
    return { circuit, corners, ground, vehicle, settings, line, turnings, grip, profile, marks }
  }
  const beginLate = (plan: Plan): number[] =>
    corners.flatMap((corner, k) => (beginsInTurn(circuit, plan.marks, corner.id, settings.school) ? [k] : []))
  return withGears(narrowedDown(planWith, beginLate, brakeLeft[settings.school]))
}

/** A plan with the gears that its driver uses, in its profile and at its marks. */
const withGears = (plan: Plan): Plan => {
  const gear = planGears(plan)
  const marks = plan.marks.map((mark) => ({ ...mark, gear: gear[stationIndex(plan.circuit, mark.station_m)] }))
  return { ...plan, profile: { ...plan.profile, gear }, marks }
}

/** The plan in which every corner's braking begins in time, with as much brake left in each corner as that allows, from `most` down. */
const narrowedDown = (planWith: (leftAt: ReadonlyMap<number, number>) => Plan, beginLate: (plan: Plan) => number[], most: number): Plan => {
  /** Of each corner that was ever late: shares of the brake that begin in time, and that do not. */
  const bounds = new Map<number, { inTime: number; late: number }>()
  const shares = (of: (bound: { inTime: number; late: number }) => number): Map<number, number> =>
    new Map([...bounds].map(([k, bound]) => [k, of(bound)]))
  const middle = ({ inTime, late }: { inTime: number; late: number }): number => (inTime + late) / 2
  let plan = planWith(new Map())
  for (let round = 0; round < LEFT_ROUNDS; round++) {
    const late = new Set(beginLate(plan))
    if (late.size === 0 && bounds.size === 0) return plan
    if (round > 0)
      for (const [k, bound] of bounds) {
        if (late.has(k)) bound.late = middle(bound)
        else bound.inTime = middle(bound)
      }
    for (const k of late) if (!bounds.has(k)) bounds.set(k, { inTime: 0, late: most })
    plan = planWith(shares(middle))
  }
  plan = planWith(shares((bound) => bound.inTime))
  // Narrowing down one corner may have moved the braking for another: that one is braked for in a straight line. Each once: what
  // still begins late then does not begin so for want of a narrower bound.
  const straight = new Set<number>()
  for (;;) {
    const late = beginLate(plan).filter((k) => !straight.has(k))
    if (late.length === 0) break
    for (const k of late) {
      straight.add(k)
      bounds.set(k, { inTime: 0, late: 0 })
    }
    plan = planWith(shares((bound) => bound.inTime))
  }
  return plan
}

/** True if a corner's brake mark lies past its turn-in; in the trail style it may be at the turn-in itself. */
const beginsInTurn = (circuit: Circuit, marks: readonly Mark[], cornerId: string, school: BrakingSchool): boolean => {
  const brake = markOf(marks, cornerId, 'brake')
  const turnIn = markOf(marks, cornerId, 'turn-in')
  if (!brake || !turnIn) return false
  const past_m = signedDistance(turnIn.station_m, brake.station_m, circuit.length_m)
  return school === 'trail' ? past_m > 0 : past_m >= 0
}

/** Line, profile and marks from nothing. */
export const makePlan = (venue: Venue, vehicle: Vehicle, settings: PlanSettings): Plan =>
  planOnLine(venue, vehicle, settings, planLine(venue, vehicle, settings))
