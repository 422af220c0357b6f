import { readFileSync } from 'node:fs'
import { buildCircuit, findCorners, readCircuit } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { circuitBox, cornerBox, groundRoad, placeNames } from './ground-geometry.ts'

const circuit = buildCircuit(readCircuit(readFileSync(new URL('../../../../../demo/ostrel-mere.geojson', import.meta.url), 'utf8'), 'x'))
const corners = findCorners(circuit)

describe('the ground view', () => {
  it('shows the whole circuit, or a corner inside it', () => {
    const whole = circuitBox(circuit, 0)
    for (let i = 0; i < circuit.count; i++) {
      expect(circuit.x_m[i]).toBeGreaterThanOrEqual(whole.minX)
      expect(circuit.y_m[i]).toBeLessThanOrEqual(whole.maxY)
    }
    for (const corner of corners) {
      const box = cornerBox(circuit, corner)
      const at = Math.round(corner.peak_m / circuit.step_m)
      expect(circuit.x_m[at] > box.minX && circuit.x_m[at] < box.maxX && circuit.y_m[at] > box.minY && circuit.y_m[at] < box.maxY).toBe(
        true,
      )
    }
  })

  it('draws two edges', () => {
    expect(groundRoad(circuit).match(/M/g)).toHaveLength(2)
  })

  it('keeps names off the road and off each other at the usual scale', () => {
    const size = { away_m: 28, halfHeight_m: 14, halfWidth_m: () => 60 }
    const places = placeNames(circuit, corners, size)
    expect(places.map((p) => p.cornerId)).toEqual(corners.map((c) => c.id))
    for (const a of places)
      for (const b of places) if (a !== b) expect(Math.abs(a.x_m - b.x_m) >= 119.9 || Math.abs(a.y_m - b.y_m) >= 27.9).toBe(true)
  })
})
