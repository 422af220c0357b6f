import type { Circuit } from '../circuit/circuit.ts'
import type { Pin } from '../circuit/pin.ts'
import { atStation } from '../circuit/station.ts'
import type { Venue } from '../circuit/venue.ts'
import { CoreError } from '../errors/errors.ts'
import { DEFAULT_MARGIN_M } from '../line/bounds.ts'
import { type LineWish, solveLine } from '../line/methods.ts'
import { findMarks } from '../marks/marks.ts'
import { gripOfSchool } from '../marks/school.ts'
import type { Line } from '../path/line.ts'
import { findTurnings } from '../path/turning.ts'
import { type GripShare, surfaces, uniformGrip } from '../profile/grip.ts'
import { solveProfile } from '../profile/solve-profile.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import type { Plan, PlanSettings } from './plan.ts'

/** Solves the line of a setting. @throws CoreError where road or limits leave none */
export const planLine = (venue: Venue, vehicle: Vehicle, settings: PlanSettings, onStep?: LineWish['onStep']): Line =>
  solveLine(venue.circuit, venue.corners, vehicle, {
    method: settings.method ?? 'smoothest',
    grip: shareOf(settings),
    margin_m: settings.margin_m,
    ground: venue.ground,
    pins: [...(venue.pins ?? []).map((pin) => reachable(venue.circuit, vehicle, settings.margin_m, pin)), ...(settings.pins ?? [])],
    entry_mps: settings.entry_mps ?? 0,
    onStep,
  })
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

/**
 * Profile and marks on a given line, for a surface, a pace and a braking style.
 * @throws CoreError 'setting-range' for a pace outside 0 … 1
 */
export const planOnLine = (venue: Venue, vehicle: Vehicle, settings: PlanSettings, line: Line): Plan => {
  const { circuit, corners, ground } = venue
  const turnings = findTurnings(circuit, corners, line)
  const grip = gripOfSchool(circuit, turnings, shareOf(settings), settings.school)
  const profile = solveProfile(circuit, line, vehicle, { grip, entry_mps: settings.entry_mps ?? 0 })
  const marks = findMarks(venue, vehicle, line, profile, turnings)
  return { circuit, corners, ground, vehicle, settings, line, turnings, grip, profile, marks }
}

/** Line, profile and marks from nothing. */
export const makePlan = (venue: Venue, vehicle: Vehicle, settings: PlanSettings): Plan =>
  planOnLine(venue, vehicle, settings, planLine(venue, vehicle, settings))
