import { atStation, distanceAhead, heightAt, type Plan, placeAt, type RoadMesh, type SeatDrive, wrapStation } from '@ochote/core'
import { BackSide, BufferGeometry, CylinderGeometry, DoubleSide, Group, InstancedMesh, Matrix4, Mesh, MeshBasicMaterial } from 'three'
import { mergeGeometries } from 'three/examples/jsm/utils/BufferGeometryUtils.js'
import type { Palette } from './seat-colours.ts'
import { geometryOf } from './seat-geometry.ts'

/** How far over the road what is painted on it for us lies (m). */
const OVER_M = 0.03
const RIBBON_M = 0.28
const BAR_M = 0.5
const BRAKING_M = 1.5
const DRIVEN_M = 0.16
/** A bar of a spread: along the road, and half across it (m). */
const SPREAD_M = 0.22
const SPREAD_HALF_M = 1.3
/** Posts at both edges, where a mark lies (m). */
const GATE = { radius: 0.05, height: 1.1 } as const

/** A band on the road along stations: its offset from the middle and half its width at each (m). */
const bandOn = (
  plan: Plan,
  stations: readonly number[],
  offsetOf: (station_m: number) => number,
  half_m: number,
  origin: RoadMesh['origin'],
  isDrawn: (k: number) => boolean = () => true,
): BufferGeometry => {
  const position: number[] = []
  const index: number[] = []
  for (const [k, s] of stations.entries()) {
    for (const side of [half_m, -half_m]) {
      const offset = offsetOf(s) + side
      const { x_m, y_m } = placeAt(plan.circuit, s, offset)
      position.push(x_m - origin[0], y_m - origin[1], heightAt(plan.circuit, s, offset) + OVER_M - origin[2])
    }
    const a = 2 * k
    if (k > 0 && isDrawn(k)) index.push(a - 2, a - 1, a + 1, a - 2, a + 1, a)
  }
  return geometryOf(Float32Array.from(position), index)
}

/** Every station of the lap, and the first again where it closes. */
const roundTheLap = ({ circuit }: Plan): number[] => [...circuit.s_m, ...(circuit.open ? [] : [0])]

const stationsFrom = ({ circuit }: Plan, from_m: number, to_m: number): number[] =>
  Array.from({ length: Math.floor(distanceAhead(from_m, to_m, circuit.length_m) / circuit.step_m) + 1 }, (_, k) =>
    wrapStation(from_m + k * circuit.step_m, circuit.length_m),
  )

const painted = (geometry: BufferGeometry, colour: string, opacity = 1): Mesh =>
  new Mesh(
    geometry,
    new MeshBasicMaterial({
      color: colour,
      side: DoubleSide,
      polygonOffset: true,
      polygonOffsetFactor: -6,
      polygonOffsetUnits: -12,
      transparent: opacity < 1,
      opacity,
    }),
  )

/** Where each corner is braked for, from the brake mark to where the brake is let go. */
const brakedStretches = ({ marks }: Plan): [number, number][] =>
  marks.flatMap((mark): [number, number][] => {
    if (mark.kind !== 'brake') return []
    const end =
      marks.find((m) => m.cornerId === mark.cornerId && m.kind === 'release') ??
      marks.find((m) => m.cornerId === mark.cornerId && m.kind === 'turn-in')
    return end ? [[mark.station_m, end.station_m]] : []
  })

const gates: ReadonlySet<string> = new Set(['brake', 'turn-in', 'apex', 'exit'])

/** Pieces as one, which costs one call of the graphics; a plan may have none. */
const together = (pieces: BufferGeometry[]): BufferGeometry => (pieces.length > 0 ? mergeGeometries(pieces) : new BufferGeometry())

/** Posts in paper with a rim in ink, at places. */
const postsAt = (places: readonly (readonly [number, number, number])[], palette: Palette): Group => {
  const group = new Group()
  const shape = new CylinderGeometry(GATE.radius, GATE.radius, GATE.height, 6).rotateX(Math.PI / 2).translate(0, 0, GATE.height / 2)
  const post = new InstancedMesh(shape, new MeshBasicMaterial({ color: palette.roadEdge }), places.length)
  const rim = new InstancedMesh(shape, new MeshBasicMaterial({ color: palette.ink, side: BackSide }), places.length)
  for (const [i, [x, y, z]] of places.entries()) {
    post.setMatrixAt(i, new Matrix4().setPosition(x, y, z))
    rim.setMatrixAt(i, new Matrix4().makeScale(1.7, 1.7, 1.03).setPosition(x, y, z))
  }
  return group.add(rim, post)
}

/** What can be drawn over the road: the planned line, marks as gates, and where is braked. */
export const overlaysOf = (plan: Plan, origin: RoadMesh['origin'], palette: Palette) => {
  const { circuit } = plan
  const offset = (s: number): number => atStation(circuit, plan.line.offset_m, s)
  // Planned is dashed: three stations drawn, two left out.
  const line = painted(
    bandOn(plan, roundTheLap(plan), offset, RIBBON_M / 2, origin, (k) => k % 5 < 3),
    palette.planned,
  )
  const stretches = brakedStretches(plan).map(([from, to]) => bandOn(plan, stationsFrom(plan, from, to), offset, BRAKING_M / 2, origin))
  const braking = painted(together(stretches), palette.roadEdge, 0.42)
  const crossings = plan.marks
    .filter((m) => gates.has(m.kind))
    .map(({ station_m }) => {
      const [left, right] = [circuit.widthLeft_m, circuit.widthRight_m].map((column) => atStation(circuit, column, station_m))
      return { station_m, half: (left + right) / 2, middle: (left - right) / 2 }
    })
  const bars = crossings.map(({ station_m, half, middle }) =>
    bandOn(plan, [station_m - BAR_M / 2, station_m + BAR_M / 2], () => middle, half, origin),
  )
  const feet = crossings.flatMap(({ station_m, half, middle }) =>
    [middle + half, middle - half].map((edge) => {
      const { x_m, y_m } = placeAt(circuit, station_m, edge)
      return [x_m - origin[0], y_m - origin[1], heightAt(circuit, station_m, edge) - origin[2]] as const
    }),
  )
  const marks = new Group().add(painted(together(bars), palette.roadEdge), postsAt(feet, palette))
  return { line, braking, marks }
}

/** Where each of a group did something: narrow bars across the middle of the road, one a pass. */
export const spreadOn = (plan: Plan, stations: readonly number[], origin: RoadMesh['origin'], palette: Palette): Mesh => {
  const { circuit } = plan
  const bars = stations.map((s) =>
    bandOn(plan, [s - SPREAD_M / 2, s + SPREAD_M / 2], () => atStation(circuit, plan.line.offset_m, s), SPREAD_HALF_M, origin),
  )
  return painted(together(bars), palette.roadEdge, 0.85)
}

/** The path of a driven lap. */
export const drivenOn = (plan: Plan, { offset_m }: SeatDrive, origin: RoadMesh['origin'], palette: Palette): Mesh =>
  painted(
    bandOn(plan, roundTheLap(plan), (s) => atStation(plan.circuit, offset_m, s), DRIVEN_M / 2, origin),
    palette.roadEdge,
  )
