import { describe, expect, it } from 'vitest'
import { demoPlan, vehicles } from '../../fixtures/load.ts'
import { atStation, placeAt } from '../circuit/station.ts'
import { markOf } from '../marks/marks.ts'
import { GROUP_SPACING_M, layingSheet, placeCones } from './placement.ts'
import { coneSchemes } from './scheme.ts'

const scheme = coneSchemes[0]

describe('cones', () => {
  it('never stand on the road, so never in a wheel path, for any vehicle, pace and surface', () => {
    for (const { id } of vehicles)
      for (const surface of ['dry', 'wet'] as const) {
        const { circuit, corners, marks } = demoPlan({ surface, pace: 0.6 }, id)
        for (const cone of placeCones(circuit, corners, marks, scheme)) {
          const edge = atStation(circuit, cone.roadSide === 'left' ? circuit.widthLeft_m : circuit.widthRight_m, cone.station_m)
          expect(Math.abs(cone.offset_m)).toBeGreaterThan(edge)
          expect(Math.sign(cone.offset_m)).toBe(cone.roadSide === 'left' ? 1 : -1)
          const place = placeAt(circuit, cone.station_m, cone.offset_m)
          expect(Math.hypot(place.x_m - cone.x_m, place.y_m - cone.y_m)).toBeLessThan(1e-9)
        }
      }
  })

  it('stand at their marks; of a pair the second does, the first a little before', () => {
    const { circuit, corners, marks } = demoPlan()
    const cones = placeCones(circuit, corners, marks, scheme)
    const brake = markOf(marks, 'T1', 'brake')
    const pair = cones.filter((c) => c.cornerId === 'T1' && c.kind === 'brake')
    expect(pair.map((c) => c.station_m)).toEqual([(brake?.station_m ?? 0) - GROUP_SPACING_M, brake?.station_m])
    // T1 turns right: its outside is the left.
    expect(pair.every((c) => c.roadSide === 'left')).toBe(true)
    expect(cones.find((c) => c.cornerId === 'T1' && c.kind === 'apex')?.roadSide).toBe('right')
  })

  it('exist only for kinds that the scheme shows', () => {
    const { circuit, corners, marks } = demoPlan()
    const cones = placeCones(circuit, corners, marks, {
      id: 'x',
      name: 'x',
      rules: { apex: { colour: 'white', shape: 'disc', count: 1, side: 'inside', beyondEdge_m: 0.3 } },
    })
    expect(cones).toHaveLength(marks.filter((m) => m.kind === 'apex').length)
  })
})

describe('laying sheet', () => {
  const { circuit, corners, marks } = demoPlan()
  const rows = layingSheet({ circuit, corners, ground: [] }, marks, placeCones(circuit, corners, marks, scheme))

  it('goes round the lap in driving order with distances that add up', () => {
    expect(rows.map((r) => r.number)).toEqual(rows.map((_, i) => i + 1))
    let total = 0
    for (const row of rows) {
      expect(row.fromLast_m).toBeGreaterThanOrEqual(0)
      total += row.fromLast_m
      expect(total).toBeCloseTo(row.station_m, 6)
    }
  })

  it('names the lasting reference nearest to each cone, and how far past it the cone stands', () => {
    const seam = {
      id: 's',
      kind: 'reference' as const,
      name: 'Seam',
      side: 'both' as const,
      from_m: rows[0].station_m + 12,
      to_m: rows[0].station_m + 12,
    }
    const far = { ...seam, id: 'f', name: 'Post', from_m: rows[0].station_m - 40, to_m: rows[0].station_m - 40 }
    const wall = { ...seam, id: 'w', kind: 'wall' as const, name: 'Wall', from_m: rows[0].station_m, to_m: rows[0].station_m }
    const found = layingSheet({ circuit, corners, ground: [far, seam, wall] }, marks, placeCones(circuit, corners, marks, scheme))
    expect(found[0].reference?.name).toBe('Seam')
    expect(found[0].reference?.past_m).toBeCloseTo(-12, 6)
    const lone = found.find(
      (r) => Math.abs(r.station_m - rows[0].station_m) > 200 && Math.abs(r.station_m - rows[0].station_m) < circuit.length_m - 200,
    )
    expect(lone?.reference).toBeNull()
    expect(rows[0].reference).toBeNull()
  })

  it('measures from the apex, negative before it, and gives places on Earth', () => {
    const first = rows[0]
    expect(first.fromApex_m).toBeCloseTo(first.station_m - (markOf(marks, first.cornerId, 'apex')?.station_m ?? 0), 6)
    expect(first.lat_deg).toBeGreaterThan(47.09)
    expect(first.lon_deg).toBeGreaterThan(-21.41)
  })
})
