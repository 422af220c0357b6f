import { type Cone, coneColours, heightAt, type Plan, placeAt, type RoadMesh } from '@ochote/core'
import {
  BackSide,
  ConeGeometry,
  CylinderGeometry,
  DoubleSide,
  Group,
  InstancedMesh,
  Matrix4,
  MeshBasicMaterial,
  Shape,
  ShapeGeometry,
  Vector3,
} from 'three'
import type { Palette } from './seat-colours.ts'

/** Sizes of cones on the ground (m). */
const TALL = { radius: 0.17, height: 0.45 } as const
/** A cone's rim in ink, as a share of its size. */
const RIM = 1.16

const shapesOf = () => {
  const arrow = new Shape()
  arrow.moveTo(0, 0.42)
  for (const [x, y] of [
    [0.3, 0.05],
    [0.12, 0.05],
    [0.12, -0.35],
    [-0.12, -0.35],
    [-0.12, 0.05],
    [-0.3, 0.05],
  ])
    arrow.lineTo(x, y)
  const tall = new ConeGeometry(TALL.radius, TALL.height, 14).rotateX(Math.PI / 2).translate(0, 0, TALL.height / 2)
  const disc = new CylinderGeometry(0.22, 0.28, 0.08, 16).rotateX(Math.PI / 2).translate(0, 0, 0.04)
  return { tall, disc, arrow: new ShapeGeometry(arrow).translate(0, 0, 0.05) }
}

/** The cones of a day where they lie, each with its rim. */
export const conesOf = (plan: Plan, cones: readonly Cone[], origin: RoadMesh['origin'], palette: Palette): Group => {
  const group = new Group()
  const shapes = shapesOf()
  const kinds = new Map<string, Cone[]>()
  for (const cone of cones) {
    const key = `${cone.shape} ${cone.colour}`
    kinds.set(key, [...(kinds.get(key) ?? []), cone])
  }
  const rim = new MeshBasicMaterial({ color: palette.ink, side: BackSide })
  for (const own of kinds.values()) {
    const [{ shape, colour }] = own
    const body = new InstancedMesh(shapes[shape], new MeshBasicMaterial({ color: coneColours[colour], side: DoubleSide }), own.length)
    const outline = new InstancedMesh(shapes[shape], rim, own.length)
    for (const [i, cone] of own.entries()) {
      const { heading_rad } = placeAt(plan.circuit, cone.station_m, cone.offset_m)
      const z = heightAt(plan.circuit, cone.station_m, cone.offset_m) - origin[2]
      // An arrow points across the road.
      const turn = new Matrix4().makeRotationZ(shape === 'arrow' ? heading_rad + (cone.roadSide === 'left' ? Math.PI : 0) : 0)
      const at = turn.setPosition(cone.x_m - origin[0], cone.y_m - origin[1], z)
      body.setMatrixAt(i, at)
      outline.setMatrixAt(i, at.clone().scale(new Vector3(RIM, RIM, RIM)))
    }
    group.add(outline, body)
  }
  return group
}
