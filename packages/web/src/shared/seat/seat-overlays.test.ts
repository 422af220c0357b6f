import { atStation, heightAt, markOf, type Plan, placeAt, placeOn, plannedDrive, roadMesh, signedDistance } from '@ochote/core'
import type { BufferGeometry, InstancedMesh, Mesh } from 'three'
import { Matrix4, Vector3 } from 'three'
import { describe, expect, it } from 'vitest'
import { demoPlanOf } from '../demo-plan.test-data.ts'
import type { Palette } from './seat-colours.ts'
import { drivenOn, overlaysOf, spreadOn } from './seat-overlays.ts'

const plan: Plan = demoPlanOf()
const { circuit, line, ground } = plan
const { origin } = roadMesh(circuit, ground)
const palette = { planned: '#123456', roadEdge: '#eeeeee', ink: '#111111' } as Palette

/** Corners of a geometry's triangles in the world (m). */
const pointsOf = ({ attributes: { position } }: BufferGeometry): [number, number, number][] =>
  Array.from({ length: position.count }, (_, k) => [
    position.getX(k) + origin[0],
    position.getY(k) + origin[1],
    position.getZ(k) + origin[2],
  ])

describe('what is drawn over the road', () => {
  const { line: ribbon, braking, marks } = overlaysOf(plan, origin, palette)

  it('lies on it by three centimetres, at the height of the banked road', () => {
    for (const mesh of [ribbon, braking, drivenOn(plan, plannedDrive(plan), origin, palette)])
      for (const [x, y, z] of pointsOf(mesh.geometry)) {
        const { station_m, offset_m } = placeOn(circuit, x, y)
        expect(Math.abs(z - heightAt(circuit, station_m, offset_m) - 0.03)).toBeLessThan(0.02)
      }
  })

  it('has the planned line where it is planned, dashed: three of five stations', () => {
    for (const [x, y] of pointsOf(ribbon.geometry)) {
      const { station_m, offset_m } = placeOn(circuit, x, y)
      expect(Math.abs(Math.abs(offset_m - atStation(circuit, line.offset_m, station_m)) - 0.14)).toBeLessThan(0.08)
    }
    const drawn = (ribbon.geometry.index?.count ?? 0) / 6
    expect(drawn / circuit.count).toBeCloseTo(0.6, 1)
  })

  it('brakes from the brake mark to where the brake is let go, and nowhere else', () => {
    const braked = plan.corners.flatMap(({ id }) => {
      const from = markOf(plan.marks, id, 'brake')
      const to = markOf(plan.marks, id, 'release') ?? markOf(plan.marks, id, 'turn-in')
      return from && to ? [[from.station_m, to.station_m] as const] : []
    })
    expect(braked.length).toBeGreaterThan(6)
    for (const [x, y] of pointsOf(braking.geometry)) {
      const { station_m } = placeOn(circuit, x, y)
      const within = braked.some(
        ([from, to]) =>
          signedDistance(from, station_m, circuit.length_m) > -circuit.step_m &&
          signedDistance(station_m, to, circuit.length_m) > -circuit.step_m,
      )
      expect(within, `${station_m}`).toBe(true)
    }
  })

  it('has a gate at each brake, turn-in, apex and exit, its posts at both edges', () => {
    const gates = plan.marks.filter((m) => ['brake', 'turn-in', 'apex', 'exit'].includes(m.kind))
    const posts = marks.children.at(-1)?.children.at(-1) as InstancedMesh
    expect(posts.count).toBe(2 * gates.length)
    const matrix = new Matrix4()
    for (const [k, { station_m }] of gates.entries())
      for (const [side, column] of [circuit.widthLeft_m, circuit.widthRight_m].entries()) {
        posts.getMatrixAt(2 * k + side, matrix)
        const at = new Vector3().setFromMatrixPosition(matrix)
        const edge = (side === 0 ? 1 : -1) * atStation(circuit, column, station_m)
        const wanted = placeAt(circuit, station_m, edge)
        expect(Math.hypot(at.x + origin[0] - wanted.x_m, at.y + origin[1] - wanted.y_m)).toBeLessThan(0.01)
        expect(at.z + origin[2]).toBeCloseTo(heightAt(circuit, station_m, edge), 3)
      }
  })

  it('has a bar on the line for each pass of a group, and none for none', () => {
    const stations = [120, 124.5, 131, circuit.length_m - 0.05]
    const bars: Mesh = spreadOn(plan, stations, origin, palette)
    const points = pointsOf(bars.geometry)
    expect(points).toHaveLength(4 * stations.length)
    for (const [k, s] of stations.entries()) {
      const own = points.slice(4 * k, 4 * k + 4).map(([x, y]) => placeOn(circuit, x, y))
      for (const { station_m, offset_m } of own) {
        expect(Math.abs(signedDistance(s, station_m, circuit.length_m))).toBeLessThan(0.3)
        expect(Math.abs(Math.abs(offset_m - atStation(circuit, line.offset_m, s)) - 1.3)).toBeLessThan(0.05)
      }
    }
    expect(pointsOf(spreadOn(plan, [120], origin, palette).geometry)).toHaveLength(4)
  })
})
