import { XMLParser } from 'fast-xml-parser'
import { describe, expect, it } from 'vitest'
import { demoPlan, demoVenuePlan, fixtureCircuit } from '../../fixtures/load.ts'
import { tangentPlane } from '../circuit/geodesy.ts'
import { placeAt } from '../circuit/station.ts'
import { writeLayingGeoJson, writeLayingGpx } from '../formats/laying-files.ts'
import { markOf } from '../marks/mark.ts'
import { receiverAt } from '../simulate/receiver.ts'
import { type ConeReport, checkList, layingError, layingSheet, layingStart } from './laying.ts'
import { placeCones } from './placement.ts'
import { coneSchemes } from './scheme.ts'

const scheme = coneSchemes[0]
const plan = demoVenuePlan()
const { cones } = placeCones(plan, scheme)
const rows = layingSheet(plan, cones)

describe('laying sheet', () => {
  it('goes round the lap in driving order from the pit exit, with distances that add up', () => {
    expect(layingStart(plan).from).toBe('pits')
    expect(layingStart(demoPlan())).toEqual({ station_m: 0, from: 'line' })
    expect(rows.map((r) => r.number)).toEqual(rows.map((_, i) => i + 1))
    let total = layingStart(plan).station_m
    for (const row of rows) {
      expect(row.fromLast_m).toBeGreaterThanOrEqual(0)
      total += row.fromLast_m
      expect((total - row.cone.station_m + plan.circuit.length_m + 1e-6) % plan.circuit.length_m).toBeLessThan(1e-3)
    }
    expect(total - layingStart(plan).station_m).toBeLessThan(plan.circuit.length_m)
  })

  it('names the lasting reference nearest to each cone within reach, and none where there is none', () => {
    const at_m = rows[3].cone.station_m
    const item = (id: string, name: string, s_m: number) => ({ id, kind: 'reference', name, side: 'both', from_m: s_m, to_m: s_m }) as const
    const found = layingSheet({ ...plan, ground: [item('f', 'Post', at_m - 40), item('s', 'Seam', at_m + 12)] }, cones)
    const row = found.find((r) => r.cone.id === rows[3].cone.id)
    expect(row?.reference?.name).toBe('Seam')
    expect(row?.reference?.past_m).toBeCloseTo(-12, 6)
    expect(found.some((r) => r.reference === null)).toBe(true)
  })

  it('measures from the apex, negative before it, and gives places on Earth', () => {
    const row = rows.find((r) => r.cone.groupId === 'T1-brake')
    expect(row?.fromApex_m).toBeCloseTo((row?.cone.station_m ?? 0) - (markOf(plan.marks, 'T1', 'apex')?.station_m ?? 0), 6)
    expect(row?.lat_deg).toBeGreaterThan(47.09)
    expect(row?.lon_deg).toBeGreaterThan(-21.41)
  })

  it('leaves as GPX waypoints and GeoJSON points in driving order, to a few centimetres', () => {
    const { gpx } = new XMLParser({ ignoreAttributes: false }).parse(writeLayingGpx('Lakeside', rows)) as {
      gpx: { wpt: Record<string, string>[] }
    }
    const { features } = JSON.parse(writeLayingGeoJson(rows)) as {
      features: { geometry: { coordinates: number[] }; properties: { id: string } }[]
    }
    expect(gpx.wpt).toHaveLength(rows.length)
    expect(features.map((f) => f.properties.id)).toEqual(rows.map((r) => r.cone.id))
    const plane = tangentPlane(plan.circuit.origin ?? { lat_deg: 0, lon_deg: 0 })
    rows.forEach((row, i) => {
      const { z_m } = placeAt(plan.circuit, row.cone.station_m, 0)
      for (const [lat, lon] of [
        [Number(gpx.wpt[i]['@_lat']), Number(gpx.wpt[i]['@_lon'])],
        [features[i].geometry.coordinates[1], features[i].geometry.coordinates[0]],
      ]) {
        const place = plane.toPlane(lat, lon, z_m)
        expect(Math.hypot(place.x_m - row.cone.x_m, place.y_m - row.cone.y_m)).toBeLessThan(0.1)
      }
    })
  })

  it('says that a circuit without a place on Earth has no waypoints', () => {
    const local = { ...rows[0], lat_deg: null, lon_deg: null }
    expect(() => writeLayingGpx('x', [local])).toThrow(expect.objectContaining({ code: 'circuit-no-place' }))
    expect(fixtureCircuit('stadium.csv').origin).toBeUndefined()
  })
})

describe('laying by a receiver', () => {
  it('tells how far past its place and how far out a cone was put', () => {
    const cone = cones.find((c) => c.id === 'T1-apex') ?? cones[0]
    const sign = cone.roadSide === 'left' ? 1 : -1
    const at = placeAt(plan.circuit, cone.station_m + 0.8, cone.offset_m + sign * 0.3)
    const error = layingError(plan, cone, at.x_m, at.y_m)
    expect(error.along_m).toBeCloseTo(0.8, 2)
    expect(error.across_m).toBeCloseTo(0.3, 2)
    expect(error.distance_m).toBeCloseTo(Math.hypot(at.x_m - cone.x_m, at.y_m - cone.y_m), 9)
  })

  it('has a stand-in that wanders by about a decimetre, always the same for a seed', () => {
    const errors = Array.from({ length: 600 }, (_, i) => {
      const { x_m, y_m } = receiverAt({ x_m: 5, y_m: -3 }, i, 7)
      return Math.hypot(x_m - 5, y_m + 3)
    })
    const rms = Math.sqrt(errors.reduce((sum, e) => sum + e * e, 0) / errors.length)
    expect(rms).toBeGreaterThan(0.08)
    expect(rms).toBeLessThan(0.35)
    expect(receiverAt({ x_m: 0, y_m: 0 }, 12.5, 3)).toEqual(receiverAt({ x_m: 0, y_m: 0 }, 12.5, 3))
  })
})

describe('the list to check after a session', () => {
  const report = (coneId: string, state: ConeReport['state'], at: string): ConeReport => ({ coneId, state, at })

  it('puts first what stands wrong, then what did before, then where cars run wide', () => {
    const [a, b] = cones.filter((c) => c.kind === 'brake')
    const list = checkList(cones, [report(a.id, 'knocked-over', '1'), report(b.id, 'moved', '2'), report(b.id, 'laid', '3')])
    expect(list[0].cone.id).toBe(a.id)
    expect(list[1].cone.id).toBe(b.id)
    expect(list[1].last?.state).toBe('laid')
    expect(['apex', 'exit']).toContain(list[2].cone.kind)
    expect(list).toHaveLength(cones.length)
  })
})
