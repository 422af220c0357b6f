import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fixtureText } from '../../fixtures/load.ts'
import { readCircuit } from '../formats/read-circuit.ts'
import { tangentPlane } from './geodesy.ts'

describe('tangent plane', () => {
  it('comes back to the same place within a millimetre (seed 11)', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -70, max: 70, noNaN: true }),
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.double({ min: -8000, max: 8000, noNaN: true }),
        fc.double({ min: -8000, max: 8000, noNaN: true }),
        fc.double({ min: 0, max: 2000, noNaN: true }),
        (lat_deg, lon_deg, x_m, y_m, height_m) => {
          const plane = tangentPlane({ lat_deg, lon_deg })
          const geo = plane.toGeodetic(x_m, y_m, height_m)
          const back = plane.toPlane(geo.lat_deg, geo.lon_deg, height_m)
          expect(Math.hypot(back.x_m - x_m, back.y_m - y_m)).toBeLessThan(1e-3)
        },
      ),
      { seed: 11, numRuns: 300 },
    )
  })

  it('has the length of a degree that the ellipsoid gives', () => {
    const plane = tangentPlane({ lat_deg: 0, lon_deg: 0 })
    // One arc minute on the equator is 1855.325 m; one on the meridian there is 1842.905 m.
    expect(plane.toPlane(0, 1 / 60, 0).x_m).toBeCloseTo(1855.325, 2)
    expect(plane.toPlane(1 / 60, 0, 0).y_m).toBeCloseTo(1842.905, 2)
  })

  it('goes the short way across the date line', () => {
    const plane = tangentPlane({ lat_deg: -17, lon_deg: 179.999 })
    expect(plane.toPlane(-17, -179.999, 0).x_m).toBeCloseTo(212.9, 0)
    expect(plane.toGeodetic(212.9, 0, 0).lon_deg).toBeLessThan(-179.99)
  })

  it('turns the geodetic forms of the demo circuit into its surveyed coordinates within a centimetre', () => {
    const csv = readCircuit(fixtureText('ostrel-mere.csv'), 'csv')
    for (const file of ['ostrel-mere.geojson', 'ostrel-mere.gpx']) {
      const geodetic = readCircuit(fixtureText(file), file)
      expect(geodetic.x_m.length).toBe(csv.x_m.length)
      for (let i = 0; i < csv.x_m.length; i++) {
        expect(Math.hypot(geodetic.x_m[i] - csv.x_m[i], geodetic.y_m[i] - csv.y_m[i])).toBeLessThan(0.01)
        expect(Math.abs(geodetic.z_m[i] - csv.z_m[i])).toBeLessThan(1e-3)
      }
    }
  })
})
