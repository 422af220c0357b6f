import { describe, expect, it } from 'vitest'
import { tangentPlane } from '../circuit/geodesy.ts'
import { defaultSizes } from '../drills/drill.ts'
import { layExercise } from '../drills/exercise.ts'
import { padCsv, padGeoJson } from './pad-files.ts'

const laid = [
  layExercise(
    { id: 'a', kind: 'slalom', name: 'Slalom, wet', x_m: 10, y_m: 20, turn_deg: 0, sizes: defaultSizes, surface: 'wet' },
    { muX: 1, muY: 1, maxBrake_mps2: 10 },
  ),
]

describe('a pad as files', () => {
  it('gives every cone by two base lines', () => {
    const [head, first, ...rest] = padCsv(laid).split(/\r?\n/)
    expect(head).toBe('exercise,cone,role,colour,along_m,across_m')
    expect(first).toBe('"Slalom, wet",1,gate,orange,10.00,20.25')
    expect(rest).toHaveLength(laid[0].cones.length - 1)
  })

  it('puts them on the earth where the pad’s place is known: along the bearing, and to its left', () => {
    expect(padGeoJson({ place: null }, laid)).toBeNull()
    const place = { lat_deg: 48, lon_deg: 9, bearing_deg: 90 }
    const features = JSON.parse(padGeoJson({ place }, laid) ?? '').features
    expect(features).toHaveLength(laid[0].cones.length)
    const [lon, lat] = features[0].geometry.coordinates
    const at = tangentPlane(place).toPlane(lat, lon, 0)
    // Due east is along; the left of it is north.
    expect(at.x_m).toBeCloseTo(laid[0].cones[0].x_m, 2)
    expect(at.y_m).toBeCloseTo(laid[0].cones[0].y_m, 2)
  })
})
