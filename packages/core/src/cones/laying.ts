import { cornerName } from '../circuit/corners.ts'
import { tangentPlane } from '../circuit/geodesy.ts'
import { nearestReference } from '../circuit/nearest-reference.ts'
import { placeOn } from '../circuit/place.ts'
import { atStation, distanceAhead, signedDistance } from '../circuit/station.ts'
import type { ConeState } from '../day/cone-state.ts'
import { markOf } from '../marks/mark.ts'
import type { Plan } from '../plan/plan.ts'
import type { Cone } from './placement.ts'

/** One row of the laying sheet. */
export type LayingRow = {
  number: number
  cone: Cone
  cornerName: string
  /** Along the centreline from the cone before (m); for the first, from the pit exit, or from the start line where none is noted. */
  fromLast_m: number
  /** Along the road from the corner's apex (m); negative is before it. */
  fromApex_m: number | null
  /** Beyond the edge of the road (m). */
  beyondEdge_m: number
  /** The landmark nearest along the road, within reach: distance of the cone past it (negative: before it). */
  reference: { name: string; past_m: number } | null
  lat_deg: number | null
  lon_deg: number | null
}

/** A reference further along the road than this is none for a cone (m). */
const REFERENCE_REACH_M = 100

/** Start of the laying: the pit exit, or the start line where none is noted. */
export const layingStart = (plan: Pick<Plan, 'ground'>): { station_m: number; from: 'pits' | 'line' } => {
  const exit = plan.ground.find((g) => g.kind === 'pit-exit')
  return exit ? { station_m: exit.from_m, from: 'pits' } : { station_m: 0, from: 'line' }
}

/** The laying sheet: cones in driving order from the pits, each with its distances and the lasting reference near it. */
export const layingSheet = (plan: Plan, cones: readonly Cone[]): LayingRow[] => {
  const { circuit, corners, ground } = plan
  const plane = circuit.origin ? tangentPlane(circuit.origin) : null
  const start_m = layingStart(plan).station_m
  const ahead = (cone: Cone): number => distanceAhead(start_m, cone.station_m, circuit.length_m)
  const sorted = [...cones].sort((a, b) => ahead(a) - ahead(b))
  return sorted.map((cone, i) => {
    const apex = markOf(plan.marks, cone.cornerId, 'apex')
    const place = plane?.toGeodetic(cone.x_m, cone.y_m, atStation(circuit, circuit.z_m, cone.station_m))
    const edge_m = atStation(circuit, cone.roadSide === 'left' ? circuit.widthLeft_m : circuit.widthRight_m, cone.station_m)
    return {
      number: i + 1,
      cone,
      cornerName: cornerName(corners, cone.cornerId),
      fromLast_m: i === 0 ? ahead(cone) : ahead(cone) - ahead(sorted[i - 1]),
      fromApex_m: apex ? signedDistance(apex.station_m, cone.station_m, circuit.length_m) : null,
      beyondEdge_m: Math.abs(cone.offset_m) - edge_m,
      reference: nearestReference(ground, cone.station_m, circuit.length_m, REFERENCE_REACH_M),
      lat_deg: place?.lat_deg ?? null,
      lon_deg: place?.lon_deg ?? null,
    }
  })
}

/** Error of a cone's place. `along_m`: past its place; `across_m`: further from the road than planned. */
export type LayingError = { distance_m: number; along_m: number; across_m: number }

/** The error of a cone put down at a position of the circuit's plane. */
export const layingError = (plan: Pick<Plan, 'circuit'>, cone: Cone, x_m: number, y_m: number): LayingError => {
  const place = placeOn(plan.circuit, x_m, y_m, { station_m: cone.station_m, reach_m: 60 })
  const sign = cone.roadSide === 'left' ? 1 : -1
  return {
    distance_m: Math.hypot(x_m - cone.x_m, y_m - cone.y_m),
    along_m: signedDistance(cone.station_m, place.station_m, plan.circuit.length_m),
    across_m: sign * (place.offset_m - cone.offset_m),
  }
}

/** One look at a cone, in order of time. */
export type ConeReport = { coneId: string; state: ConeState; at: string }

/** A cone to look at again: what was last found there, how often it stood wrong, and how it ranks. */
export type CheckRow = { cone: Cone; last: ConeReport | null; wrong: number; weight: number }

/** Places where cars most often hit cones: the inside of corners and the exits. */
const hitOften: Partial<Record<Cone['kind'], number>> = { apex: 3, exit: 3, 'turn-in': 1, brake: 1 }

/**
 * The cones to look at after a session, the likeliest to be out of place first: those found wrong and not put right, then those
 * that were wrong before, then those at apexes and exits. The last report counts.
 */
export const checkList = (cones: readonly Cone[], reports: readonly ConeReport[]): CheckRow[] =>
  cones
    .map((cone) => {
      const ofCone = reports.filter((r) => r.coneId === cone.id)
      const last = ofCone.at(-1) ?? null
      const isWrong = (r: ConeReport): boolean => r.state !== 'laid' && r.state !== 'standing'
      const wrong = ofCone.filter(isWrong).length
      const weight = (last && isWrong(last) ? 100 : 0) + 10 * wrong + (hitOften[cone.kind] ?? 0)
      return { cone, last, wrong, weight }
    })
    .sort((a, b) => b.weight - a.weight || a.cone.station_m - b.cone.station_m)
