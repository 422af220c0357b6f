import type { Circuit } from '../circuit/circuit.ts'
import type { Corner } from '../circuit/corners.ts'
import { tangentPlane } from '../circuit/geodesy.ts'
import type { GroundItem } from '../circuit/ground.ts'
import { atStation, placeAt, signedDistance, wrapStation } from '../circuit/station.ts'
import type { Venue } from '../circuit/venue.ts'
import type { Mark, MarkKind } from '../marks/marks.ts'
import type { ConeColour, ConeScheme, ConeShape } from './scheme.ts'

/** A thing that stands at a mark. Offsets are from the centreline, left positive. */
export type Cone = {
  id: string
  cornerId: string
  kind: MarkKind
  colour: ConeColour
  shape: ConeShape
  /** On which side of the road it stands, in the direction of travel. */
  roadSide: 'left' | 'right'
  station_m: number
  offset_m: number
  x_m: number
  y_m: number
}

/** Cones of one group stand this far apart along the road (m); the last stands at the mark. */
export const GROUP_SPACING_M = 3

/** Cones for a plan's marks by a scheme, in order of travel; each stands outside the edge, so never in a wheel path. */
export const placeCones = (circuit: Circuit, corners: readonly Corner[], marks: readonly Mark[], scheme: ConeScheme): Cone[] => {
  const cones: Cone[] = []
  for (const mark of marks) {
    const rule = scheme.rules[mark.kind]
    const corner = corners.find((c) => c.id === mark.cornerId)
    if (!rule || !corner) continue
    const left = (rule.side === 'inside') === (corner.side === 'left')
    for (let k = 0; k < rule.count; k++) {
      const station_m = wrapStation(mark.station_m - (rule.count - 1 - k) * GROUP_SPACING_M, circuit.length_m)
      const edge_m = atStation(circuit, left ? circuit.widthLeft_m : circuit.widthRight_m, station_m)
      const offset_m = (left ? 1 : -1) * (edge_m + rule.beyondEdge_m)
      const { x_m, y_m } = placeAt(circuit, station_m, offset_m)
      cones.push({
        id: `${corner.id}-${mark.kind}${rule.count > 1 ? `-${k + 1}` : ''}`,
        cornerId: corner.id,
        kind: mark.kind,
        colour: rule.colour,
        shape: rule.shape,
        roadSide: left ? 'left' : 'right',
        station_m,
        offset_m,
        x_m,
        y_m,
      })
    }
  }
  return cones.sort((a, b) => a.station_m - b.station_m)
}

/** One row of the sheet by which cones are laid. */
export type LayingRow = {
  number: number
  coneId: string
  cornerId: string
  cornerName: string
  kind: MarkKind
  colour: ConeColour
  shape: ConeShape
  roadSide: 'left' | 'right'
  /** Along the centreline from the start line (m). */
  station_m: number
  /** Along the centreline from the cone before (m); for the first, from the start line. */
  fromLast_m: number
  /** Along the road from the corner's apex (m); negative is before it. */
  fromApex_m: number | null
  /** The lasting reference nearest along the road, within reach: how far the cone stands past it (negative: before it). */
  reference: { name: string; past_m: number } | null
  lat_deg: number | null
  lon_deg: number | null
}

/** A reference farther along the road than this is none for a cone (m). */
const REFERENCE_REACH_M = 100

const nearestReference = (circuit: Circuit, ground: readonly GroundItem[], station_m: number): LayingRow['reference'] => {
  const near = ground
    .filter((g) => g.kind === 'reference')
    .map((g) => ({ name: g.name, past_m: signedDistance(g.from_m, station_m, circuit.length_m) }))
    .filter((r) => Math.abs(r.past_m) <= REFERENCE_REACH_M)
  return near.sort((a, b) => Math.abs(a.past_m) - Math.abs(b.past_m))[0] ?? null
}

/** The laying sheet: cones in driving order from the start line, each with its distances and the lasting reference near it. */
export const layingSheet = (
  { circuit, corners, ground }: Pick<Venue, 'circuit' | 'corners' | 'ground'>,
  marks: readonly Mark[],
  cones: readonly Cone[],
): LayingRow[] => {
  const plane = circuit.origin ? tangentPlane(circuit.origin) : null
  return cones.map((cone, i) => {
    const apex = marks.find((m) => m.cornerId === cone.cornerId && m.kind === 'apex')
    const place = plane?.toGeodetic(cone.x_m, cone.y_m, atStation(circuit, circuit.z_m, cone.station_m))
    return {
      number: i + 1,
      coneId: cone.id,
      cornerId: cone.cornerId,
      cornerName: corners.find((c) => c.id === cone.cornerId)?.name ?? cone.cornerId,
      kind: cone.kind,
      colour: cone.colour,
      shape: cone.shape,
      roadSide: cone.roadSide,
      station_m: cone.station_m,
      fromLast_m: i === 0 ? cone.station_m : cone.station_m - cones[i - 1].station_m,
      fromApex_m: apex ? signedDistance(apex.station_m, cone.station_m, circuit.length_m) : null,
      reference: nearestReference(circuit, ground, cone.station_m),
      lat_deg: place?.lat_deg ?? null,
      lon_deg: place?.lon_deg ?? null,
    }
  })
}
