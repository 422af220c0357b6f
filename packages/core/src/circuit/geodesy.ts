import { degrees, radians } from '../units/convert.ts'
import type { GeoOrigin } from './geo-origin.ts'

/** Maps between WGS 84 and a plane east (x) and north (y) of an origin; heights pass through unchanged. */
export type TangentPlane = {
  origin: GeoOrigin
  /** Geodetic position (degrees, height in m above the ellipsoid) to x, y (m). */
  toPlane: (lat_deg: number, lon_deg: number, height_m: number) => { x_m: number; y_m: number }
  /** x, y (m) at a height (m) to geodetic position (degrees). */
  toGeodetic: (x_m: number, y_m: number, height_m: number) => { lat_deg: number; lon_deg: number }
}

const A = 6378137
const F = 1 / 298.257223563
const E2 = F * (2 - F)

/**
 * Local tangent plane at an origin whose ellipsoidal height is taken as zero.
 * Sources: WGS 84 defining parameters (NGA.STND.0036); geodetic to Earth-centred to east-north-up, Hofmann-Wellenhof et
 * al., GNSS, section 8. Longitudes are taken the short way round, so a circuit may lie across the date line.
 */
export const tangentPlane = (origin: GeoOrigin): TangentPlane => {
  const lat0 = radians(origin.lat_deg)
  const sin0 = Math.sin(lat0)
  const cos0 = Math.cos(lat0)
  const n0 = A / Math.sqrt(1 - E2 * sin0 * sin0)
  const p0 = n0 * cos0
  const z0 = n0 * (1 - E2) * sin0

  const toPlane = (lat_deg: number, lon_deg: number, height_m: number) => {
    const lat = radians(lat_deg)
    const sin = Math.sin(lat)
    const prime = A / Math.sqrt(1 - E2 * sin * sin)
    let dLon = radians(lon_deg - origin.lon_deg)
    dLon -= 2 * Math.PI * Math.round(dLon / (2 * Math.PI))
    const p = (prime + height_m) * Math.cos(lat)
    const z = (prime * (1 - E2) + height_m) * sin
    return { x_m: p * Math.sin(dLon), y_m: -sin0 * (p * Math.cos(dLon) - p0) + cos0 * (z - z0) }
  }

  const toGeodetic = (x_m: number, y_m: number, height_m: number) => {
    const meridian = (A * (1 - E2)) / (1 - E2 * sin0 * sin0) ** 1.5
    let lat_deg = origin.lat_deg + degrees(y_m / meridian)
    let lon_deg = origin.lon_deg + degrees(x_m / p0)
    // Newton with the spherical Jacobian: each step gains about four digits within tens of kilometres.
    for (let k = 0; k < 6; k++) {
      const at = toPlane(lat_deg, lon_deg, height_m)
      lat_deg += degrees((y_m - at.y_m) / meridian)
      lon_deg += degrees((x_m - at.x_m) / p0)
    }
    if (lon_deg > 180) lon_deg -= 360
    if (lon_deg < -180) lon_deg += 360
    return { lat_deg, lon_deg }
  }
  return { origin, toPlane, toGeodetic }
}
