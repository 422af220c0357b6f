import type { Circuit } from './circuit/circuit.ts'
import type { Corner } from './circuit/corners.ts'
import { CoreError } from './errors.ts'
import { offsetBounds } from './line/bounds.ts'
import { fastestLine } from './line/fastest.ts'
import type { Line } from './line/line.ts'
import { type SmoothestOptions, smoothestLine } from './line/smoothest.ts'
import { findMarks, type Mark } from './marks/marks.ts'
import { type BrakingSchool, gripOfSchool } from './marks/school.ts'
import { findTurnings, type Turning } from './marks/turning.ts'
import { type GripShare, type Surface, surfaces, uniformGrip } from './profile/grip.ts'
import { type Profile, solveProfile } from './profile/profile.ts'
import type { Vehicle } from './vehicle/vehicle.ts'

/** How a line is chosen: least bending, or least lap time for the vehicle and its share of grip. */
export const lineMethods = ['smoothest', 'fast'] as const
export type LineMethod = (typeof lineMethods)[number]

/** What a plan holds for. `pace`: share of grip, 0 < pace ≤ 1. */
export type PlanSettings = { surface: Surface; pace: number; school: BrakingSchool; margin_m?: number; method?: LineMethod }

/** Everything computed for one circuit, vehicle and setting. */
export type Plan = {
  circuit: Circuit
  corners: readonly Corner[]
  vehicle: Vehicle
  settings: PlanSettings
  line: Line
  turnings: readonly Turning[]
  profile: Profile
  marks: readonly Mark[]
}

/**
 * Solves the smoothest line that a vehicle drives here; it depends on geometry alone, so it outlives changes of pace or
 * surface.
 */
export const solveLine = (circuit: Circuit, vehicle: Vehicle, margin_m?: number, options: SmoothestOptions = {}): Line =>
  smoothestLine(circuit, offsetBounds(circuit, vehicle.width_m, margin_m), options).line

/** Solves the line of a setting's method; `fast` also depends on surface, pace and all of the vehicle. */
const solveLineBy = (circuit: Circuit, vehicle: Vehicle, settings: PlanSettings): Line => {
  const smoothest = solveLine(circuit, vehicle, settings.margin_m)
  if ((settings.method ?? 'smoothest') === 'smoothest') return smoothest
  const bounds = offsetBounds(circuit, vehicle.width_m, settings.margin_m)
  return fastestLine(circuit, vehicle, shareOf(settings), bounds, { start: smoothest }).line
}

/** The share of the dry grip that a setting uses. @throws CoreError 'setting-range' for a pace outside 0 … 1 */
const shareOf = ({ pace, surface }: PlanSettings): GripShare => {
  if (!(pace > 0 && pace <= 1))
    throw new CoreError('setting-range', 'pace', { field: 'pace', value: String(pace), range: 'above 0 up to 1' })
  return uniformGrip(surfaces[surface] * pace)
}

/**
 * Profile and marks on a given line, for a surface, a pace and a school of braking.
 * @throws CoreError 'setting-range' for a pace outside 0 … 1
 */
export const planOnLine = (circuit: Circuit, corners: readonly Corner[], vehicle: Vehicle, settings: PlanSettings, line: Line): Plan => {
  const turnings = findTurnings(circuit, corners, line)
  const grip = gripOfSchool(circuit, turnings, shareOf(settings), settings.school)
  const profile = solveProfile(circuit, line, vehicle, { grip })
  return { circuit, corners, vehicle, settings, line, turnings, profile, marks: findMarks(circuit, corners, line, profile, turnings) }
}

/** Line, profile and marks from nothing. */
export const makePlan = (circuit: Circuit, corners: readonly Corner[], vehicle: Vehicle, settings: PlanSettings): Plan =>
  planOnLine(circuit, corners, vehicle, settings, solveLineBy(circuit, vehicle, settings))

/** The marks of one kind in one corner, or undefined. */
export const markOf = (marks: readonly Mark[], cornerId: string, kind: Mark['kind']): Mark | undefined =>
  marks.find((m) => m.cornerId === cornerId && m.kind === kind)
